import {
  boundsOfCurves,
  type Curve,
  curveLength,
  flattenChain,
  intersectRegions,
  onceFor,
  point,
  pointAt,
  type Region,
  rectangle,
  regionBounds,
  regionVolume,
  ringArea,
  subtractRegion,
  unionRegions,
} from '../geometry';
import { elementsBetween, type Part } from '../part';
import type { PickedSpan } from './newOperation';

/** The box of a span’s elements; null where the span is none of the part. */
export type Box = ReturnType<typeof regionBounds> | null;

/** The curves of a span's elements; none where the span is none of the part. */
const curvesOf = (part: Part, span: PickedSpan, side: 'outer' | 'inner'): Curve[] =>
  (elementsBetween(side === 'outer' ? part.outer : part.inner, span) ?? []).map((e) => e.curve);

export const spanBox = (part: Part, span: PickedSpan, side: 'outer' | 'inner'): Box => {
  const curves = curvesOf(part, span, side);
  return curves.length === 0 ? null : boundsOfCurves(curves);
};

/** Mean thickness (mm) of some metal, mm³, over the elements of a span. */
export const thicknessOf = (part: Part, span: PickedSpan, side: 'outer' | 'inner', metal: number): number => {
  const curves = curvesOf(part, span, side);
  const radiusOf = (c: Curve): number => (c.from.y + 4 * pointAt(c, 0.5).y + c.to.y) / 6;
  const lengths = curves.map((c) => [curveLength(c), radiusOf(c)] as const);
  const surface = 2 * Math.PI * lengths.reduce((sum, [length, radius]) => sum + length * radius, 0);
  return surface > 0 ? metal / surface : 0;
};

/** The part with its bore filled: what is not metal of its outside. */
const filled = onceFor((part: Part): Region => {
  if (part.inner.length === 0) return part.region;
  const mouth = flattenChain(
    part.inner.map((e) => e.curve),
    0.01,
  );
  const ring = [...mouth, point(mouth[mouth.length - 1].x, 0), point(mouth[0].x, 0)];
  return unionRegions(part.region, [ringArea(ring) < 0 ? ring.reverse() : ring]);
});

/** Metal outside the part (mm³) beside the elements of a span. */
export const metalOf = (stock: Region, part: Part, box: Box, side: 'outer' | 'inner'): number => {
  if (!box) return 0;
  const low = side === 'outer' ? Math.max(0, box.minY - 0.01) : 0;
  const high = side === 'outer' ? 1e4 : box.maxY + 0.01;
  // what stands in front of the part belongs to its front
  const front = regionBounds(part.region).maxX;
  // of a face it is the metal beside it; otherwise none beyond the ends
  const beyond = box.maxX - box.minX < 0.05 ? 0.01 : 1e-4;
  const right = box.maxX > front - 0.01 ? 1e4 : Math.max(box.maxX + beyond, box.minX + 2 * beyond);
  const window = rectangle(box.minX - beyond, low, right, high);
  const made = side === 'outer' ? filled(part) : part.region;
  return regionVolume(subtractRegion(intersectRegions(stock, window), made));
};

/** Whether an element of a span is steeper than it is long, so that it may be seen from the front. */
export const isForward = (part: Part, span: PickedSpan, side: 'outer' | 'inner'): boolean =>
  curvesOf(part, span, side).some(({ from, to }) => Math.abs(from.y - to.y) > Math.abs(from.x - to.x));

/** Whether a span comes to the back of the part. */
export const reachesBack = (part: Part, span: PickedSpan, side: 'outer' | 'inner'): boolean => {
  const box = spanBox(part, span, side);
  return box !== null && box.minX < regionBounds(part.region).minX + 1e-6;
};
