import type { Point } from '../geometry';
import { formOf, isCutting, isThread } from '../operations';
import { type ThreadForm, threadDepth } from '../threads';
import { toolFacts } from '../tooling';
import type { Job } from './document';
import type { Held } from './held';

/** A thread as a form on the surface, in its holding's coordinates (x = Z, y = radius). */
export interface ThreadOnPart {
  readonly operation: string;
  readonly designation: string;
  /** Crest and root from the front to the end of the thread. */
  readonly crest: readonly [Point, Point];
  readonly root: readonly [Point, Point];
  readonly pitch: number;
}

/** A spiral in a face that looks forward. */
const spiralOn = (
  operation: string,
  { designation, pitch }: ThreadForm,
  { from, to }: { readonly from: Point; readonly to: Point },
  length: number | null,
  depth: number,
): ThreadOnPart => {
  const outer = Math.max(from.y, to.y);
  const inner = length === null ? Math.min(from.y, to.y) : Math.max(Math.min(from.y, to.y), outer - length);
  const at = (r: number, below: number): Point => ({ x: Math.max(from.x, to.x) - below, y: r });
  return {
    operation,
    designation,
    crest: [at(outer, 0), at(inner, 0)],
    root: [at(outer, depth), at(inner, depth)],
    pitch,
  };
};

/** The threads that the operations of a holding cut, whether their paths can be made or not; those without a name are left out. */
export const threadsIn = (job: Job, held: Pick<Held, 'id' | 'part'>): ThreadOnPart[] =>
  Object.values(job.operations).flatMap((op): ThreadOnPart[] => {
    if (op.holding !== held.id || !isCutting(op) || !op.on || !isThread(op)) return [];
    const form = formOf(op);
    const side = op.kind === 'inner-thread' ? ('inner' as const) : ('outer' as const);
    const element = held.part[side].find((e) => e.id === op.span?.from);
    if (!form || !element) return [];
    const tool = op.tool ? job.tools[op.tool] : undefined;
    const edge = tool ? toolFacts(tool).thread : undefined;
    const depth = op.params.depth ?? (edge ? threadDepth(form, side, edge) : form[side].full);
    if (op.kind === 'face-thread') return [spiralOn(op.id, form, element.curve, op.params.length, depth)];
    const ends = [element.curve.from.x, element.curve.to.x];
    const front = Math.max(...ends);
    const back = op.params.length === null ? Math.min(...ends) : Math.max(Math.min(...ends), front - op.params.length);
    const out = side === 'outer' ? 1 : -1;
    const at = (x: number, below: number): Point => ({
      x,
      y: (side === 'outer' ? form.major : form.minor) / 2 + (out * form.taper * (front - x)) / 2 - out * below,
    });
    return [
      {
        operation: op.id,
        designation: form.designation,
        crest: [at(front, 0), at(back, 0)],
        root: [at(front, depth), at(back, depth)],
        pitch: form.pitch,
      },
    ];
  });
