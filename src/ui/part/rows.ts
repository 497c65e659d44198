'use client';
import { boundsOfCurves } from '@/core/geometry';
import { buildPart, type Cut, DIN332, type Profile, type Row } from '@/core/part';
import { useDocument } from '../job/document';

export type ProfileSide = 'outer' | 'inner' | 'back';

/** One edit of one side's profile. */
export const changeProfile = (side: ProfileSide, label: string, f: (p: Profile) => void): void =>
  useDocument.getState().edit(label, (j) => {
    const p = j.part[side];
    if (p) f(p);
    return j;
  });

export const freshRow = (p: Profile, side: ProfileSide): string => {
  let n = p.rows.length + 1;
  while (p.rows.some((r) => r.id === `${side[0]}${n}`)) n++;
  return `${side[0]}${n}`;
};

/** Puts a number, a formula (text) or nothing into a field of a row. */
export const setRowValue = (row: Row, key: string, value: number | string | null): void => {
  const fields = row as unknown as Record<string, unknown>;
  const { [key]: _, ...others } = row.formulas ?? {};
  if (typeof value === 'string') row.formulas = { ...others, [key]: value };
  else {
    if (Object.keys(others).length > 0) row.formulas = others;
    else delete row.formulas;
    fields[key] = value;
  }
};

export const addBore = (): void =>
  useDocument.getState().edit('add a bore', (j) => {
    // rows may leave Z blank: the contour as it is built says where the part ends and how thin it is
    const outer = buildPart(j.part, j.units).outer.map((e) => e.curve);
    const length = outer.length > 0 ? Math.round(boundsOfCurves(outer).minX * 1e4) / 1e4 : j.part.outer.start.z - 10;
    const thinnest = Math.min(...outer.flatMap((c) => [c.from.y, c.to.y]).filter((r) => r > 1e-6)) * 2;
    const d = Number.isFinite(thinnest) ? Math.min(10, Math.round((thinnest / 2) * 10) / 10) : 10;
    j.part.inner = {
      start: { diameter: d, z: j.part.outer.start.z },
      rows: [{ id: 'i1', kind: 'line', diameter: d, z: length, corner: null }],
    };
    j.part.outer.start.diameter = d;
    const last = j.part.outer.rows.at(-1);
    if (last && last.diameter === 0) last.diameter = d;
    return j;
  });

/** A DIN 332 form A centre hole in the front: 60° countersink, drilled part, 118° point. */
export const addCentreHole = (d1: number): void => {
  const size = DIN332.find((s) => s.d1 === d1);
  if (!size) return;
  useDocument.getState().edit(`centre hole A${d1}`, (j) => {
    const z = j.part.outer.start.z;
    const sink = (size.d2 - size.d1) / 2 / Math.tan(Math.PI / 6);
    const round = (v: number): number => Math.round(v * 1e4) / 1e4;
    j.part.inner = {
      start: { diameter: size.d2, z },
      rows: [
        { id: 'i1', kind: 'line', diameter: size.d1, z: round(z - sink), corner: null },
        { id: 'i2', kind: 'line', diameter: size.d1, z: round(z - size.t), corner: null },
        {
          id: 'i3',
          kind: 'line',
          diameter: 0,
          z: round(z - size.t - size.d1 / 2 / Math.tan((59 * Math.PI) / 180)),
          corner: null,
        },
      ],
    };
    j.part.outer.start.diameter = size.d2;
    return j;
  });
};

/** Closes the contour again where a bore was. */
export const removeBore = (side: ProfileSide): void =>
  useDocument.getState().edit('remove the bore', (j) => {
    if (side === 'back') {
      const d = j.part.back?.start.diameter;
      delete j.part.back;
      const last = j.part.outer.rows.at(-1);
      if (last && last.diameter === d) last.diameter = 0;
      return j;
    }
    const d = j.part.inner?.start.diameter;
    const through = j.part.inner?.rows.at(-1)?.diameter;
    j.part.inner = null;
    if (j.part.outer.start.diameter === d) j.part.outer.start.diameter = 0;
    const last = j.part.outer.rows.at(-1);
    if (last && last.diameter === through) last.diameter = 0;
    return j;
  });

/** A groove of a kind with sizes to begin with, in the middle of a row from `from` to `to`. */
export const firstCut = (kind: Cut['kind'], row: Row, from: number, to: number, diameter: number): Cut => {
  const cuts = row.kind === 'line' ? (row.cuts ?? []) : [];
  let n = cuts.length + 1;
  while (cuts.some((c) => c.id === `g${n}`)) n++;
  const at = (width: number): number => Math.round(((from + to) / 2 + width / 2) * 100) / 100;
  const id = `g${n}`;
  switch (kind) {
    case 'ring':
      return { id, kind, z: at(1) };
    case 'square':
      return { id, kind, z: at(3), width: 3, diameter: Math.max(1, diameter - 3) };
    case 'v':
      return { id, kind, z: at(2.3), depth: 2, angle: 60, radius: 0.2 };
    case 'belt':
      return { id, kind, z: at(4), radius: 2, depth: 2 };
    default:
      return kind satisfies never;
  }
};
