import { boundsOfCurves, type Curve, distance, point, subtract } from '../../geometry';
import { type Element, elementsBetween, type Part } from '../../part';

/** How high a place of the contour stands, as the blade comes to it. */
type Height = (p: { readonly x: number; readonly y: number }) => number;

export const HEIGHTS: Readonly<Record<'outer' | 'inner' | 'face', Height>> = {
  outer: (p) => p.y,
  inner: (p) => -p.y,
  face: (p) => p.x,
};

/** A wall has to be at least so high, mm. */
const LEAST_WALL = 0.05;

/** Elements grown from the picked ones to both sides as long as they rise: floor, walls, and what breaks their edges. */
const grown = (list: readonly Element[], from: number, to: number, height: Height): { a: number; b: number } => {
  let [a, b] = [from, to];
  const front = (e: Element): number => height(e.curve.from) - height(e.curve.to);
  const back = Math.min(...list.map((e) => e.curve.to.x));
  // the back of the part is where it is cut off: no floor of a groove goes on over it
  const isBack = ({ curve: { from: f, to: t } }: Element): boolean => Math.max(f.x, t.x) < back + 1e-6;
  // a picked wall leads down to its floor first
  if (front(list[to]) > 1e-6) while (b < list.length - 1 && front(list[b + 1]) > -1e-6 && !isBack(list[b + 1])) b++;
  if (front(list[from]) < -1e-6) while (a > 0 && front(list[a - 1]) < 1e-6) a--;
  while (a > 0 && front(list[a - 1]) > 1e-6) a--;
  while (b < list.length - 1 && front(list[b + 1]) < -1e-6) b++;
  return { a, b };
};

/** The groove that picked elements belong to: with both its walls; null where they are no groove. */
export const grooveOf = (
  part: Part,
  side: 'outer' | 'inner' | 'face',
  span: { readonly from: string; readonly to: string } | null,
): { from: string; to: string } | null => {
  if (!span) return null;
  const list = side === 'inner' ? part.inner : part.outer;
  const [i, j] = [list.findIndex((e) => e.id === span.from), list.findIndex((e) => e.id === span.to)];
  if (i < 0 || j < 0) return null;
  const height = HEIGHTS[side];
  const [from, to] = [Math.min(i, j), Math.max(i, j)];
  const { a, b } = grown(list, from, to, height);
  const inside = list.slice(a, b + 1);
  // an arc hangs lower than its ends
  const box = boundsOfCurves(inside.map((e) => e.curve));
  const low = Math.min(height(point(box.minX, box.minY)), height(point(box.minX, box.maxY)));
  const ends = [height(list[a].curve.from), height(list[b].curve.to)];
  const walls = ends.map((v) => v >= low + LEAST_WALL);
  // a recess behind a wall in front that lacks its rear wall is closed where the span ends: no tool comes there from the front
  const open = walls[0] && !walls[1] && inside.length > 1;
  if (!open && !(walls[0] && walls[1])) return null;
  // nothing between the walls stands as high as the lower one does: else it is more than one groove, or none
  const fall = ({ curve }: Element): number => height(curve.from) - height(curve.to);
  const foot = inside.findIndex((e) => fall(e) < 1e-6);
  const rise = inside.findLastIndex((e) => fall(e) > -1e-6);
  const floor = foot < 0 || rise < 0 ? [] : inside.slice(Math.max(1, foot), Math.min(inside.length - 1, rise + 1));
  const middle = floor.flatMap((e) => [height(e.curve.from), height(e.curve.to)]);
  if (middle.some((v) => v > (open ? ends[0] : Math.min(...ends)) + 1e-6)) return null;
  return { from: list[a].id, to: list[b].id };
};

/** Shapes that differ by less than this are one, mm. */
const SAME = 1e-3;

const sameShape = (a: readonly Curve[], b: readonly Curve[]): boolean =>
  a.length === b.length &&
  a.every((c, i) => {
    const d = b[i];
    const [o, p] = [a[0].from, b[0].from];
    const near = (x: Curve['to'], y: Curve['to']): boolean => distance(subtract(x, o), subtract(y, p)) < SAME;
    if (!near(c.to, d.to)) return false;
    return c.kind === 'arc' ? d.kind === 'arc' && near(c.centre, d.centre) : d.kind === 'line';
  });

/** Grooves of a side that have the shape of the one in the span, wherever they are; without that one. */
export const groovesLike = (
  part: Part,
  side: 'outer' | 'inner' | 'face',
  span: { readonly from: string; readonly to: string } | null,
): { from: string; to: string }[] => {
  const own = grooveOf(part, side, span);
  if (!own) return [];
  const list = side === 'inner' ? part.inner : part.outer;
  const curves = (s: { from: string; to: string }): Curve[] => (elementsBetween(list, s) ?? []).map((e) => e.curve);
  const shape = curves(own);
  const found = new Map<string, { from: string; to: string }>();
  for (const e of list) {
    const groove = grooveOf(part, side, { from: e.id, to: e.id });
    if (groove && groove.from !== own.from && sameShape(curves(groove), shape)) found.set(groove.from, groove);
  }
  return [...found.values()];
};
