import type { Point } from '../geometry';
import { formOf, isCutting, isThread } from '../operations';
import { type CutThread, threadDepth } from '../threads';
import { toolFacts } from '../tooling';
import type { Job } from './document';
import type { Held } from './held';

/** A thread as a form on the surface, in its holding's coordinates (x = Z, y = radius), from the front to its end. */
export interface ThreadOnPart extends CutThread {
  readonly operation: string;
  readonly designation: string;
  readonly root: readonly [Point, Point];
}

/** The threads that the operations of a holding cut, whether their paths can be made or not; those without a name are left out. */
export const threadsIn = (job: Job, held: Pick<Held, 'id' | 'part'>): ThreadOnPart[] =>
  Object.values(job.operations).flatMap((op): ThreadOnPart[] => {
    if (op.holding !== held.id || !isCutting(op) || !op.on || !isThread(op)) return [];
    const form = formOf(op);
    const wall = op.kind === 'inner-thread' ? ('inner' as const) : ('outer' as const);
    const element = held.part[wall].find((e) => e.id === op.span?.from);
    if (!form || !element) return [];
    const tool = op.tool ? job.tools[op.tool] : undefined;
    const edge = tool ? toolFacts(tool).thread : undefined;
    const { starts, hand, length } = op.params;
    const depth = op.params.depth ?? (edge ? threadDepth(form, wall, edge) : form[wall].full);
    const { pitch, angle, designation } = form;
    const { from, to } = element.curve;
    const common = { operation: op.id, designation, depth, pitch, angle, starts, hand, apex: form[wall].apex };
    if (op.kind === 'face-thread') {
      // a spiral in a face that looks forward
      const outer = Math.max(from.y, to.y);
      const inner = length === null ? Math.min(from.y, to.y) : Math.max(Math.min(from.y, to.y), outer - length);
      const at = (r: number, below: number): Point => ({ x: Math.max(from.x, to.x) - below, y: r });
      return [
        { ...common, side: 'face', crest: [at(outer, 0), at(inner, 0)], root: [at(outer, depth), at(inner, depth)] },
      ];
    }
    const [front, end] = [Math.max(from.x, to.x), Math.min(from.x, to.x)];
    const back = length === null ? end : Math.max(end, front - length);
    const out = wall === 'outer' ? 1 : -1;
    const at = (x: number, below: number): Point => ({
      x,
      y: (wall === 'outer' ? form.major : form.minor) / 2 + (out * form.taper * (front - x)) / 2 - out * below,
    });
    return [{ ...common, side: wall, crest: [at(front, 0), at(back, 0)], root: [at(front, depth), at(back, depth)] }];
  });
