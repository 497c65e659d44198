import type { InfeedPlan, ThreadForm } from '../../threads';
import type { Seen } from '../types';
import type { ThreadOperation } from './schema';

export interface CycleQuestion {
  readonly op: ThreadOperation;
  readonly seen: Seen;
  readonly form: ThreadForm;
  readonly depths: InfeedPlan;
}

/** Included angles along which a control's cycle comes in, degrees. */
const CYCLE_ANGLES = [0, 29, 30, 55, 60, 80];
/** Least depth of a one-block cycle: a setting of the control, mm (docs/formats). */
const SETTING = 0.05;

/** Whether the control's cycle of one pass a block does what the operation asks for, or why not. */
export const passCycle = ({ op, seen }: CycleQuestion): { readonly reason: string } | { readonly ok: true } => {
  if (seen.place.threadCycle === null) return { reason: 'the control has no threading cycle' };
  if (op.params.starts > 1) return { reason: 'the cycle cuts one start' };
  if (op.params.infeed !== 'straight')
    return { reason: 'every pass of the cycle starts at the same place: it comes in straight' };
  return { ok: true };
};

/** Whether the control's threading cycle does what the operation asks for, or why not. */
export const threadCycle = ({
  op,
  seen,
  form,
  depths,
}: CycleQuestion): { readonly reason: string } | { readonly ok: true } => {
  const { params } = op;
  const head = seen.place.threadCycle;
  const no = (reason: string) => ({ reason });
  if (head === null) return no('the control has no threading cycle');
  if (params.starts > 1) return no('the cycle cuts one start');
  if (params.mode !== 'equal-area') return no('the cycle takes passes of equal area');
  if (params.infeed === 'alternating') return no('the cycle comes in along one flank');
  const angle = params.infeed === 'straight' ? 0 : params.infeedAngle * 2;
  if (!CYCLE_ANGLES.some((a) => Math.abs(a - angle) < 1e-6))
    return no(`the cycle comes in at half of ${CYCLE_ANGLES.join(', ')}°, not at ${params.infeedAngle}°`);
  if (form.taper > 0 && params.infeed !== 'straight') return no('a taper in the cycle wants the infeed straight');
  if (head === 'one-block') {
    if (depths.finish > 0 || params.springPasses > 0)
      return no('this control’s cycle has no last pass and no spring passes');
    if (Math.abs(depths.least - SETTING) > 1e-9)
      return no(`its least depth is ${SETTING} mm, a setting of the control`);
    return { ok: true };
  }
  if (depths.finish <= 0) return no('the cycle always ends with a last pass; give it a depth');
  return { ok: true };
};
