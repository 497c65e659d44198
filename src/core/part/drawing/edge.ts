import { type Curve, distance, flattenChain, joinCurves, type Point, point, TOLERANCE } from '../../geometry';
import { gather, unitOf } from './read';
import { readDxf } from './tags';

/** How far the straight pieces of a round may lie off it, mm. */
const CHORD = 2e-3;
/** Longest edge that is taken, places. */
const MOST = 400;

export type EdgeOutcome =
  | { readonly ok: true; readonly points: readonly Point[] }
  | { readonly ok: false; readonly why: string };

/** The pieces as one open line; null where they are more, or closed, or branch. */
const oneLine = (curves: readonly Curve[]): readonly Curve[] | null => {
  const { chains, branches } = joinCurves(curves, TOLERANCE.drawingGap);
  const [chain] = chains;
  if (chains.length !== 1 || branches.length > 0) return null;
  return distance(chain[0].from, chain[chain.length - 1].to) > TOLERANCE.drawingGap ? chain : null;
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
  const chain = oneLine(curves);
  if (!chain) return fail('The pieces are not one open line. Close the gaps, and leave only the edge in the drawing.');
  const factor = unitOf(parsed);
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
