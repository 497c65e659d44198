/** ISO 1832 turning insert designations: letters and numbers to geometry. */

export type InsertShape = 'C' | 'D' | 'V' | 'W' | 'T' | 'S' | 'R' | 'K';

export interface InsertGeometry {
  readonly shape: InsertShape;
  /** Included corner angle in degrees; 0 for round inserts. */
  readonly cornerAngle: number;
  /** Relief angle under the edge in degrees. */
  readonly clearanceAngle: number;
  /** Edge length in mm; for round inserts the diameter. */
  readonly edgeLength: number;
  readonly thickness: number;
  readonly noseRadius: number;
}

export type InsertDecoding =
  | { readonly ok: true; readonly insert: InsertGeometry }
  | {
      readonly ok: false;
      readonly code:
        | 'insert-length'
        | 'insert-shape'
        | 'insert-clearance'
        | 'insert-size'
        | 'insert-thickness'
        | 'insert-nose';
      readonly at: number;
      readonly found: string;
    };

const CORNER: Record<InsertShape, number> = { C: 80, D: 55, V: 35, W: 80, T: 60, S: 90, R: 0, K: 55 };
const CLEARANCE: Record<string, number> = { N: 0, A: 3, B: 5, C: 7, P: 11, D: 15, E: 20 };
const THICKNESS: Record<string, number> = {
  '01': 1.59,
  '02': 2.38,
  '03': 3.18,
  T3: 3.97,
  '04': 4.76,
  '05': 5.56,
  '06': 6.35,
  '07': 7.94,
};

/** Inscribed circle sizes (mm) whose edge length, cut to whole mm, is what the code carries (ISO 1832). */
const INSCRIBED = [3.97, 4.76, 5.56, 6.35, 7.94, 9.525, 12.7, 15.875, 19.05, 25.4];

const edgeFactor = (shape: InsertShape): number => {
  switch (shape) {
    case 'T':
      return Math.sqrt(3);
    case 'W':
      return 0.684;
    case 'R':
      return 1;
    case 'C':
    case 'D':
    case 'V':
    case 'S':
    case 'K':
      return 1 / Math.sin((CORNER[shape] * Math.PI) / 180);
    default:
      return shape satisfies never;
  }
};

/** Edge length of an inscribed circle, mm: IC/sin ε, IC·√3 for T, 0.684·IC for W. */
export const edgeLengthOf = (shape: InsertShape, inscribedCircle: number): number =>
  inscribedCircle * edgeFactor(shape);

/**
 * Reads a designation such as `CNMG120408` or `DCMT 11T304`. Sizes whose cut-off edge length names a standard inscribed
 * circle get the exact edge; others keep the whole millimetres of the code. Errors name the position of the letter.
 */
export const decodeInsert = (designation: string): InsertDecoding => {
  const code = designation.replace(/[\s-]/g, '').toUpperCase();
  if (code.length < 10) return { ok: false, code: 'insert-length', at: code.length, found: code };
  const shape = code[0] as InsertShape;
  if (!(shape in CORNER)) return { ok: false, code: 'insert-shape', at: 0, found: code[0] };
  const clearanceAngle = CLEARANCE[code[1]];
  if (clearanceAngle === undefined) return { ok: false, code: 'insert-clearance', at: 1, found: code[1] };
  const size = Number(code.slice(4, 6));
  if (!Number.isInteger(size) || size <= 0) return { ok: false, code: 'insert-size', at: 4, found: code.slice(4, 6) };
  const thickness = THICKNESS[code.slice(6, 8)];
  if (thickness === undefined) return { ok: false, code: 'insert-thickness', at: 6, found: code.slice(6, 8) };
  const noseCode = code.slice(8, 10);
  const round = shape === 'R';
  const nose = noseCode === 'M0' ? 0 : Number(noseCode) / 10;
  if (!Number.isFinite(nose) || (nose === 0 && !round))
    return { ok: false, code: 'insert-nose', at: 8, found: noseCode };
  const circle = INSCRIBED.find((ic) => Math.floor(edgeLengthOf(shape, ic) + 1e-6) === size);
  const edgeLength = circle !== undefined && !round ? edgeLengthOf(shape, circle) : size;
  return {
    ok: true,
    insert: {
      shape,
      cornerAngle: CORNER[shape],
      clearanceAngle,
      edgeLength,
      thickness,
      noseRadius: round ? edgeLength / 2 : nose,
    },
  };
};
