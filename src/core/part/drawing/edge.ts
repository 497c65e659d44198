import { type Curve, distance, flattenChain, type Point, point, reverseCurve, TOLERANCE } from '../../geometry';
import { gather } from './read';
import { readDxf } from './tags';

/** How far the straight pieces of a round may lie off it, mm. */
const CHORD = 2e-3;
/** Longest edge that is taken, places. */
const MOST = 400;

export type EdgeOutcome =
  | { readonly ok: true; readonly points: readonly Point[] }
  | { readonly ok: false; readonly why: string };

const millimetres = (units: number): number => (units === 1 ? 25.4 : 1);

/** Pieces joined end to end, whichever way each was drawn; null where they are not one line. */
const joined = (curves: readonly Curve[]): Curve[] | null => {
  const rest = [...curves];
  const near = (a: Point, b: Point): boolean => distance(a, b) <= TOLERANCE.drawingGap;
  // begins at an end that no other piece has
  const free = (p: Point, own: Curve): boolean => rest.every((c) => c === own || !(near(c.from, p) || near(c.to, p)));
  const start = rest.find((c) => free(c.from, c)) ?? rest.find((c) => free(c.to, c));
  if (!start) return null;
  const chain = [free(start.from, start) ? start : reverseCurve(start)];
  rest.splice(rest.indexOf(start), 1);
  while (rest.length > 0) {
    const end = chain[chain.length - 1].to;
    const i = rest.findIndex((c) => near(c.from, end) || near(c.to, end));
    if (i < 0) return null;
    const [next] = rest.splice(i, 1);
    chain.push(near(next.from, end) ? next : reverseCurve(next));
  }
  return chain;
};

/**
 * The front edge of a form tool from a drawing: one open line of lines and arcs, X along the axis, Y away from it, the lowest
 * place nearest to the work. Its places from left to right; x counts from the left end, y from the lowest place. Units as the
 * drawing says, mm where it says none.
 */
export const edgeFromDxf = (text: string): EdgeOutcome => {
  const fail = (why: string): EdgeOutcome => ({ ok: false, why });
  const parsed = readDxf(text);
  if (parsed.torn !== null)
    return fail(`The file ends or breaks off (${parsed.torn.slice(0, 80)}). Save the drawing again as DXF text.`);
  const { found } = gather(parsed, []);
  const curves = found.flatMap((f) => f.curves).filter((c) => distance(c.from, c.to) > 1e-6);
  if (curves.length === 0) return fail('The drawing holds no lines or arcs. Draw the edge as one open line.');
  if (curves.length > MOST) return fail(`The drawing has more than ${MOST} pieces. Leave only the edge in it.`);
  const chain = joined(curves);
  if (!chain) return fail('The pieces are not one open line. Close the gaps, and leave only the edge in the drawing.');
  const factor = millimetres(parsed.units);
  const raw = flattenChain(chain, CHORD / factor).map((p) => point(p.x * factor, p.y * factor));
  const run = raw[0].x <= raw[raw.length - 1].x ? raw : raw.reverse();
  const back = run.find((p, i) => i > 0 && p.x < run[i - 1].x - 1e-6);
  if (back)
    return fail(
      `The edge runs back under itself near ${back.x.toFixed(2)}, ${back.y.toFixed(2)}: no plunge could make that. Draw it so that it only goes one way.`,
    );
  const left = run[0].x;
  const low = Math.min(...run.map((p) => p.y));
  const round = (v: number): number => Math.round(v * 1e4) / 1e4;
  const points = run.map((p) => point(round(Math.max(0, p.x - left)), round(p.y - low)));
  if (points.length > MOST) return fail(`The edge has more than ${MOST} places. Draw it with fewer pieces.`);
  return { ok: true, points };
};
