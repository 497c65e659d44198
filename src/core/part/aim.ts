import { TOLERANCE } from '../geometry';
import type { Element, Part } from './contour';
import { middleOf, readTolerance } from './fits';
import { listFeatures } from './listing';
import type { PartDocument, Profile, Row } from './profile';

/** How much each element's diameter is off its size when it is made to the middle of its tolerance, mm. */
const middles = (document: PartDocument, part: Part): ReadonlyMap<string, number> => {
  const result = new Map<string, number>();
  if (!Object.values(document.notes ?? {}).some((n) => n.tolerance !== '')) return result;
  const elements = new Map([...part.outer, ...part.inner, ...part.back].map((e) => [e.id, e]));
  for (const f of listFeatures(document, part)) {
    if (f.note.tolerance === '') continue;
    for (const id of f.elements) {
      const e = elements.get(id);
      if (!e || !isCylinder(e)) continue;
      const read = readTolerance(f.note.tolerance, 2 * e.curve.from.y);
      if (read && Math.abs(middleOf(read)) > TOLERANCE.samePoint) result.set(id, middleOf(read));
    }
  }
  return result;
};

const isCylinder = (e: Element): boolean =>
  e.origin === 'row' && e.curve.kind === 'line' && Math.abs(e.curve.to.y - e.curve.from.y) < 1e-9;

/** A row that ends at another diameter. */
const endingAt = (row: Row, diameter: number): Row => {
  const { diameter: _, ...formulas } = row.formulas ?? {};
  return { ...row, diameter, ...(row.formulas ? { formulas } : {}) };
};

/**
 * The document with cylinders that have a tolerance drawn at its middle: what a finishing pass should aim at. The rows that
 * lead to a cylinder and along it end at its new diameter.
 */
export const aimedAtMiddle = (document: PartDocument, part: Part): PartDocument => {
  const off = middles(document, part);
  if (off.size === 0) return document;
  const shifted = (profile: Profile, elements: readonly Element[]): Profile => {
    const rows = [...profile.rows];
    let start = profile.start;
    for (const [i, row] of profile.rows.entries()) {
      const by = off.get(row.id);
      const e = elements.find((k) => k.id === row.id);
      if (by === undefined || !e) continue;
      const diameter = 2 * e.curve.from.y + by;
      rows[i] = endingAt(rows[i], diameter);
      if (i > 0) rows[i - 1] = endingAt(rows[i - 1], diameter);
      else start = { ...start, diameter };
    }
    return { start, rows };
  };
  const inner = document.inner && shifted(document.inner, part.inner);
  const outer = shifted(document.outer, part.outer);
  return {
    ...document,
    outer: inner && part.inner.length > 0 ? meeting(outer, inner, part) : outer,
    inner,
    ...(document.back ? { back: shifted(document.back, part.back) } : {}),
  };
};

/** The outside begins and ends where the bore now does, if it did before. */
const meeting = (outer: Profile, inner: Profile, part: Part): Profile => {
  const rows = [...outer.rows];
  const last = inner.rows[inner.rows.length - 1];
  const together = Math.abs(
    part.outer[part.outer.length - 1].curve.to.y - part.inner[part.inner.length - 1].curve.to.y,
  );
  if (together < 1e-6 && last?.diameter != null) rows[rows.length - 1] = endingAt(rows[rows.length - 1], last.diameter);
  return { start: { ...outer.start, diameter: inner.start.diameter }, rows };
};
