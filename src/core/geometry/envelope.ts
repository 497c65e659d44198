import {
  arcRadius,
  type Curve,
  flattenCurve,
  isDegenerate,
  line,
  parameterOf,
  reverseCurve,
  splitCurve,
  trimCurve,
  turningParameters,
} from './curve';
import { intersectCarriers } from './intersect';
import { type Point, point } from './point';

/** A piece of a function graph: the part of `curve` (travelling toward +x, no turning back) between x0 and x1. */
interface Span {
  readonly x0: number;
  readonly x1: number;
  readonly curve: Curve;
}

const MIN_WIDTH = 1e-9;

/** y of a graph piece at x; arcs keep the branch (upper or lower half) that they lie on. */
export const graphHeight = (c: Curve, x: number): number => {
  if (c.kind === 'line') {
    const t = (x - c.from.x) / (c.to.x - c.from.x);
    return c.from.y + (c.to.y - c.from.y) * t;
  }
  const radius = arcRadius(c);
  const dx = x - c.centre.x;
  const h = Math.sqrt(Math.max(0, radius * radius - dx * dx));
  // travelling toward +x, a clockwise arc is the upper half of its circle
  return c.clockwise ? c.centre.y + h : c.centre.y - h;
};

const toSpan = (piece: Curve): Span => {
  const curve = piece.to.x > piece.from.x ? piece : reverseCurve(piece);
  return { x0: curve.from.x, x1: curve.to.x, curve };
};

const toSpans = (c: Curve): Span[] => {
  const turns = turningParameters(c, 'x');
  const pieces = turns.length > 0 ? splitCurve(c, turns) : [c];
  return pieces.filter((piece) => Math.abs(piece.to.x - piece.from.x) > MIN_WIDTH).map(toSpan);
};

const push = (spans: Span[], span: Span): void => {
  if (span.x1 - span.x0 <= MIN_WIDTH) return;
  const last = spans.at(-1);
  if (last && last.curve === span.curve && Math.abs(last.x1 - span.x0) < MIN_WIDTH)
    spans[spans.length - 1] = { ...last, x1: span.x1 };
  else spans.push(span);
};

const mergeSpans = (a: readonly Span[], b: readonly Span[]): Span[] => {
  const result: Span[] = [];
  let i = 0;
  let j = 0;
  let x = -Infinity;
  while (i < a.length || j < b.length) {
    const sa = a[i];
    const sb = b[j];
    // the next stretch on which neither list changes
    const inA = sa !== undefined && sa.x0 <= x + MIN_WIDTH / 2;
    const inB = sb !== undefined && sb.x0 <= x + MIN_WIDTH / 2;
    let until = Infinity;
    if (sa !== undefined) until = Math.min(until, inA ? sa.x1 : sa.x0);
    if (sb !== undefined) until = Math.min(until, inB ? sb.x1 : sb.x0);
    if (until - x > MIN_WIDTH) {
      if (inA && inB) mergeStretch(result, sa.curve, sb.curve, x, until);
      else if (inA) push(result, { x0: x, x1: until, curve: sa.curve });
      else if (inB) push(result, { x0: x, x1: until, curve: sb.curve });
    }
    x = until;
    if (inA && sa.x1 <= x + MIN_WIDTH / 2) i++;
    if (inB && sb.x1 <= x + MIN_WIDTH / 2) j++;
  }
  return result;
};

/** A graph piece is nowhere higher, or lower, than this between x0 and x1, where it has the heights y0 and y1. */
const mostOver = (c: Curve, x0: number, x1: number, y0: number, y1: number): number =>
  c.kind === 'arc' && c.clockwise && c.centre.x > x0 && c.centre.x < x1 ? c.centre.y + arcRadius(c) : Math.max(y0, y1);
const leastOver = (c: Curve, x0: number, x1: number, y0: number, y1: number): number =>
  c.kind === 'arc' && !c.clockwise && c.centre.x > x0 && c.centre.x < x1 ? c.centre.y - arcRadius(c) : Math.min(y0, y1);

/** Which of two graphs lies above the other all the way from x0 to x1; null where that is not plain. */
const plainlyHigher = (a: Curve, b: Curve, x0: number, x1: number): Curve | null => {
  const [a0, a1, b0, b1] = [graphHeight(a, x0), graphHeight(a, x1), graphHeight(b, x0), graphHeight(b, x1)];
  if (a0 > b0 !== a1 > b1 || a0 === b0) return null;
  if (a.kind === 'line' && b.kind === 'line') return a0 > b0 ? a : b;
  const [over, under] = a0 > b0 ? [a, b] : [b, a];
  const [o0, o1, u0, u1] = a0 > b0 ? [a0, a1, b0, b1] : [b0, b1, a0, a1];
  return leastOver(over, x0, x1, o0, o1) > mostOver(under, x0, x1, u0, u1) ? over : null;
};

/** The higher of two graphs between x0 and x1, cut where they cross. */
const mergeStretch = (result: Span[], a: Curve, b: Curve, x0: number, x1: number): void => {
  const higher = plainlyHigher(a, b, x0, x1);
  if (higher) {
    push(result, { x0, x1, curve: higher });
    return;
  }
  const meeting = intersectCarriers(a, b);
  let p = Infinity;
  let q = Infinity;
  if (meeting.kind === 'points')
    for (const m of meeting.points)
      if (m.x > x0 && m.x < x1) {
        if (p === Infinity) p = m.x;
        else q = m.x;
      }
  if (q < p) [p, q] = [q, p];
  let from = x0;
  for (const to of [p, q, x1]) {
    if (to > x1 || to === Infinity) continue;
    const m = (from + to) / 2;
    push(result, { x0: from, x1: to, curve: graphHeight(a, m) >= graphHeight(b, m) ? a : b });
    from = to;
  }
};

const trimSpan = (s: Span): Curve => {
  if (s.x0 === s.curve.from.x && s.x1 === s.curve.to.x) return s.curve;
  const at = (x: number): Point => point(x, graphHeight(s.curve, x));
  if (s.curve.kind === 'line') return line(at(s.x0), at(s.x1));
  return { ...s.curve, from: at(s.x0), to: at(s.x1) };
};

/** Spans in layers of their own, but what follows to the right of another without touching it goes on with its layer. */
const ascending = (curves: readonly Curve[]): Span[][] => {
  const layers: Span[][] = [];
  let layer: Span[] = [];
  for (const c of curves)
    for (const s of toSpans(c)) {
      if (layer.length === 0 || s.x0 < layer[layer.length - 1].x1) {
        layer = [];
        layers.push(layer);
      }
      layer.push(s);
    }
  return layers;
};

/**
 * Upper envelope of any lines and arcs as an exact graph, from left to right. Vertical pieces carry no width and only
 * their neighbours matter; where the graph jumps the result has a vertical line. Gaps that nothing covers stay gaps.
 * Cost O(n log n) by divide and merge.
 */
export const upperEnvelope = (curves: readonly Curve[]): Curve[] => {
  let layers = ascending(curves);
  while (layers.length > 1) {
    const next: Span[][] = [];
    for (let i = 0; i < layers.length; i += 2)
      next.push(i + 1 < layers.length ? mergeSpans(layers[i], layers[i + 1]) : layers[i]);
    layers = next;
  }
  return joinGraph(withoutNeedles(layers[0] ?? []).map(trimSpan));
};

/** A piece between two others that is narrower than this is where rounding has parted them, mm. */
const NEEDLE = 1e-6;
/** Neighbours of a needle that meet within this are one line there, mm. */
const MEETS = 1e-7;

/** Leaves out needles that dip below both neighbours, or between neighbours that meet: those are drawn on to one another. */
const withoutNeedles = (spans: readonly Span[]): Span[] => {
  const result: Span[] = [];
  for (let i = 0; i < spans.length; i++) {
    const s = spans[i];
    const left = result[result.length - 1];
    const right = spans[i + 1];
    if (s.x1 - s.x0 >= NEEDLE || !left || !right || s.x0 - left.x1 > MIN_WIDTH || right.x0 - s.x1 > MIN_WIDTH) {
      result.push(s);
      continue;
    }
    const middle = (s.x0 + s.x1) / 2;
    const [before, after] = [graphHeight(left.curve, middle), graphHeight(right.curve, middle)];
    if (Math.abs(before - after) < MEETS) {
      result[result.length - 1] = { ...left, x1: middle };
      result.push({ ...right, x0: middle });
      i++;
    } else if (Math.min(before, after) <= graphHeight(s.curve, middle) + NEEDLE) result.push(s);
  }
  return result;
};

/** Inserts the vertical lines of jumps; pieces must run left to right. */
export const joinGraph = (pieces: readonly Curve[]): Curve[] => {
  const result: Curve[] = [];
  for (const piece of pieces) {
    if (isDegenerate(piece)) continue;
    const last = result.at(-1);
    if (last && Math.abs(last.to.x - piece.from.x) < 1e-6) {
      if (Math.abs(last.to.y - piece.from.y) > 1e-7) result.push(line(last.to, point(last.to.x, piece.from.y)));
      else if (last.to.x !== piece.from.x || last.to.y !== piece.from.y) {
        result.push({ ...piece, from: last.to });
        continue;
      }
    }
    result.push(piece);
  }
  return result;
};

/** The part of a graph (left to right) between x0 and x1; vertical lines at the very ends are dropped. */
export const clipGraph = (graph: readonly Curve[], x0: number, x1: number): Curve[] => {
  const result: Curve[] = [];
  for (const c of graph) {
    const vertical = Math.abs(c.to.x - c.from.x) < 1e-9;
    if (vertical) {
      if (c.from.x > x0 + 1e-9 && c.from.x < x1 - 1e-9) result.push(c);
      continue;
    }
    if (c.to.x <= x0 + MIN_WIDTH || c.from.x >= x1 - MIN_WIDTH) continue;
    const at = (x: number): number => parameterOf(c, point(x, graphHeight(c, x)));
    const t0 = c.from.x < x0 ? at(x0) : 0;
    const t1 = c.to.x > x1 ? at(x1) : 1;
    result.push(t0 === 0 && t1 === 1 ? c : trimCurve(c, t0, t1));
  }
  return result;
};

/** Height of a graph at x: the greater one at a jump; null in a gap. */
export const heightAt = (graph: readonly Curve[], x: number): number | null => {
  let best: number | null = null;
  for (const c of graph) {
    if (x < c.from.x - 1e-9 || x > c.to.x + 1e-9) continue;
    const y =
      Math.abs(c.to.x - c.from.x) < 1e-9
        ? Math.max(c.from.y, c.to.y)
        : graphHeight(c, Math.min(Math.max(x, c.from.x), c.to.x));
    if (best === null || y > best) best = y;
  }
  return best;
};

/** The graph lifted so that, going toward −x, it never falls: what lies in a hollow is bridged level. */
export const bridgeHollows = (graph: readonly Curve[]): Curve[] => {
  if (graph.length === 0) return [];
  const left = graph[0].from.x;
  const levels: Curve[] = [];
  for (const c of graph) {
    const tops = [c.from, c.to, ...turningParameters(c, 'y').map((t) => trimCurve(c, 0, t).to)];
    const top = tops.reduce((best, p) => (p.y > best.y ? p : best));
    if (top.x - left > MIN_WIDTH) levels.push(line(point(left, top.y), top));
  }
  return upperEnvelope([...graph, ...levels]);
};

/** Points along a graph, for drawing and for polygon work. */
export const graphPoints = (graph: readonly Curve[], chordError?: number): Point[] =>
  graph.length === 0 ? [] : [graph[0].from, ...graph.flatMap((c) => flattenCurve(c, chordError))];
