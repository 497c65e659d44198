import { point } from '../../geometry';
import type { Part } from '../../part';
import { type ThreadOnPart, threadAlong, threadDepth, threadOfForm } from '../../threads';
import { type Tool, toolFacts } from '../../tooling';
import { formOf, sideOf, type ThreadOperation } from './schema';

/** A thread on the element that its operation is pointed at. */
export const threadOn = (op: ThreadOperation, part: Part, tool: Tool | undefined): ThreadOnPart | null => {
  const form = formOf(op);
  const side = sideOf(op);
  const wall = side === 'inner' ? ('inner' as const) : ('outer' as const);
  const element = part[wall].find((e) => e.id === op.span?.from);
  if (!form || !element) return null;
  const edge = tool ? toolFacts(tool).thread : undefined;
  const { starts, hand, length } = op.params;
  const depth = op.params.depth ?? (edge ? threadDepth(form, wall, edge) : form[wall].full);
  const { from, to } = element.curve;
  if (side === 'face') {
    // a spiral in a face that looks forward
    const outer = Math.max(from.y, to.y);
    const inner = length === null ? Math.min(from.y, to.y) : Math.max(Math.min(from.y, to.y), outer - length);
    const face = Math.max(from.x, to.x);
    return threadOfForm(form, { side, depth, starts, hand }, (end, below) =>
      point(face - below, end === 'first' ? outer : inner),
    );
  }
  const [front, end] = [Math.max(from.x, to.x), Math.min(from.x, to.x)];
  const back = length === null ? end : Math.max(end, front - length);
  return threadAlong(form, front, back, { side, depth, starts, hand });
};
