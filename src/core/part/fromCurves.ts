import { arcRadius, type Curve } from '../geometry';
import type { HalfSection } from './halfSection';
import type { PartDocument, Profile, Row } from './profile';

// a file's 60.000000001 is 60; a hundredth of a micrometre is below every tolerance
const round = (value: number): number => {
  const r = Math.round(value * 1e8) / 1e8;
  return r === 0 ? 0 : r;
};

const toRow = (c: Curve, id: string): Row => {
  const end = { id, diameter: round(c.to.y * 2), z: round(c.to.x), corner: null };
  if (c.kind === 'line') return { ...end, kind: 'line' };
  const side = (c.to.x - c.from.x) * (c.centre.y - c.from.y) - (c.to.y - c.from.y) * (c.centre.x - c.from.x);
  return {
    ...end,
    kind: 'arc',
    radius: round(arcRadius(c)),
    clockwise: c.clockwise,
    long: Math.abs(side) > 1e-9 && side > 0 === c.clockwise,
  };
};

const toProfile = (chain: readonly Curve[], prefix: string): Profile => ({
  start: { diameter: round(chain[0].from.y * 2), z: round(chain[0].from.x) },
  rows: chain.map((c, i) => toRow(c, `${prefix}${i + 1}`)),
});

/** Element table of a half-section; null without an outer contour. */
export const partFromHalf = (half: HalfSection): PartDocument | null =>
  half.outer.length === 0
    ? null
    : {
        outer: toProfile(half.outer, 'o'),
        inner: half.inner.length > 0 ? toProfile(half.inner, 'i') : null,
        ...(half.back.length > 0 ? { back: toProfile(half.back, 'b') } : {}),
      };
