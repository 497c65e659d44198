import {
  boundsOfCurves,
  type Curve,
  curveLength,
  distance,
  fitFunction,
  intersectCurves,
  isDegenerate,
  joinCurves,
  mapCurve,
  type Point,
  parameterOf,
  point,
  pointAt,
  reverseCurve,
  splitCurve,
  TOLERANCE,
} from '../../geometry';
import { partFromHalf } from '../fromCurves';
import { type HalfSection, mergeSplit, splitHalfSection } from '../halfSection';
import type { PartDocument } from '../profile';
import { type ImportProblem, importProblem } from '../stepText';
import { type DxfEntity, entityCurves } from './entities';
import { type DxfText, readDxf } from './tags';

export interface DrawingWish {
  /** Layers to read; null = all that look like a contour. */
  readonly layers: readonly string[] | null;
  /** Unit of the numbers; 'file' = as the drawing says, mm where it says nothing. */
  readonly unit: 'file' | 'mm' | 'inch';
  /** Gap that is closed without asking, mm. */
  readonly gap: number;
}

export const PLAIN_DRAWING: DrawingWish = { layers: null, unit: 'file', gap: TOLERANCE.drawingGap };

export interface DrawingLayer {
  readonly name: string;
  readonly pieces: number;
  readonly used: boolean;
}

export interface DrawingImport extends HalfSection {
  readonly layers: readonly DrawingLayer[];
  readonly unit: 'mm' | 'inch' | 'other';
  /** Height of the centreline in the drawing, mm. */
  readonly axis: number;
  readonly problems: readonly ImportProblem[];
}

interface Piece {
  readonly curve: Curve;
  /** Number of the entity in the file, from 1. */
  readonly entity: number;
}

const MAX_ENTITIES = 20_000;
const MAX_DEPTH = 8;
const SILENT = /DIMENSION|HATCH|TEXT|POINT|VIEWPORT|ATTDEF|ATTRIB|LEADER|SOLID|3DFACE|IMAGE|WIPEOUT|TOLERANCE/;
const NOT_CONTOUR = /dim|hatch|schraff|text|note|border|frame|title|defpoint|construct|hidden|measure/i;
const CENTRE = /cent(re|er)|axis|mitte|achse/i;

/** mm for each of the unit codes of a drawing's head. */
const UNIT_MM: Record<number, number> = {
  1: 25.4,
  2: 304.8,
  4: 1,
  5: 10,
  6: 1000,
  8: 25.4e-6,
  9: 25.4e-3,
  13: 1e-3,
  14: 100,
};

/** Millimetres of a drawing's unit, as it says itself; 1 where it says none. */
export const unitOf = (parsed: DxfText): number => UNIT_MM[parsed.units] ?? 1;

type Map2 = (p: Point) => Point;

/** Every entity's curves, blocks opened in place; what cannot be read is told once for each entity. */
export const gather = (parsed: DxfText, problems: ImportProblem[]) => {
  const found: { entity: number; layer: string; lineType: string; curves: Curve[] }[] = [];
  let count = 0;
  const walk = (
    e: DxfEntity,
    entity: number,
    map: Map2,
    mirrors: boolean,
    even: boolean,
    depth: number,
    inherited: string | null,
  ): void => {
    if (++count > MAX_ENTITIES) return;
    const layer = !e.layer || (e.layer === '0' && inherited) ? (inherited ?? '0') : e.layer;
    if (e.type === 'INSERT') {
      const block = parsed.blocks[e.name ?? ''];
      if (!block || depth >= MAX_DEPTH) {
        problems.push(
          importProblem(
            'block',
            block
              ? `Block “${e.name}” (entity ${entity}) holds itself; it is left out.`
              : `Entity ${entity} shows block “${e.name}”, which the file does not hold. Explode the block and save again.`,
            {
              severity: 'attention',
              entity,
            },
          ),
        );
        return;
      }
      const sx = e.xScale ?? 1;
      const sy = e.yScale ?? 1;
      const turn = ((e.rotation ?? 0) * Math.PI) / 180;
      const base = block.position ?? { x: 0, y: 0 };
      const cos = Math.cos(turn);
      const sin = Math.sin(turn);
      for (let col = 0; col < Math.min(e.columnCount ?? 1, 100); col++)
        for (let row = 0; row < Math.min(e.rowCount ?? 1, 100); row++) {
          const local: Map2 = (p) => {
            const x = (p.x - base.x) * sx + col * (e.columnSpacing ?? 0);
            const y = (p.y - base.y) * sy + row * (e.rowSpacing ?? 0);
            return point((e.position?.x ?? 0) + x * cos - y * sin, (e.position?.y ?? 0) + x * sin + y * cos);
          };
          for (const inner of block.entities ?? [])
            walk(
              inner,
              entity,
              (p) => map(local(p)),
              mirrors !== sx * sy < 0,
              even && Math.abs(Math.abs(sx) - Math.abs(sy)) < 1e-9,
              depth + 1,
              layer,
            );
        }
      return;
    }
    const result = entityCurves(e);
    if (!result.ok) {
      if (result.reason === 'bad')
        problems.push(
          importProblem(
            'bad-entity',
            `Entity ${entity}, a ${e.type.toLowerCase()} on layer “${layer.slice(0, 60)}”, cannot be drawn: ${result.why}. Redraw it or delete it.`,
            {
              severity: 'attention',
              entity,
            },
          ),
        );
      else if (!SILENT.test(e.type))
        problems.push(
          importProblem(
            'unsupported',
            `Entity ${entity} is a ${e.type.toLowerCase()} on layer “${layer.slice(0, 60)}”, which is left out. Explode it to lines and arcs if it belongs to the contour.`,
            { severity: 'attention', entity },
          ),
        );
      return;
    }
    const finite = (c: Curve): boolean => [c.from.x, c.from.y, c.to.x, c.to.y].every(Number.isFinite);
    if (!result.curves.every(finite)) {
      problems.push(
        importProblem('not-finite', `Entity ${entity} has a coordinate that is not a number. Redraw it.`, {
          severity: 'attention',
          entity,
        }),
      );
      return;
    }
    // a circle under uneven scales is an ellipse and is fitted anew
    const curves = result.curves.flatMap((c) =>
      c.kind === 'arc' && !even ? fitFunction((t) => map(pointAt(c, t)), 9e-4) : [mapCurve(c, map, mirrors)],
    );
    found.push({ entity, layer, lineType: e.lineType ?? '', curves });
  };
  parsed.entities.forEach((e, i) => {
    walk(e, i + 1, (p) => p, false, true, 0, null);
  });
  return { found, count };
};

/** Pieces drawn twice are kept once. */
const withoutTwins = (pieces: readonly Piece[]): { kept: Piece[]; removed: number } => {
  const seen = new Set<string>();
  const kept = pieces.filter(({ curve: c }) => {
    const m = pointAt(c, 0.5);
    const coded = (p: Point): string => `${Math.round(p.x * 1e4)},${Math.round(p.y * 1e4)}`;
    const key = [...[coded(c.from), coded(c.to)].sort(), coded(m)].join(';');
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
  return { kept, removed: pieces.length - kept.length };
};

/** Height of the centreline: 0 when the drawing uses it, else a centre line, else the middle of a symmetric drawing. */
const centreHeight = (
  all: readonly { layer: string; lineType: string; curves: Curve[] }[],
  pieces: readonly Piece[],
): number => {
  const b = boundsOfCurves(pieces.map((p) => p.curve));
  const centre = all
    .filter((e) => CENTRE.test(e.layer) || CENTRE.test(e.lineType))
    .flatMap((e) => e.curves)
    .filter((c) => c.kind === 'line' && Math.abs(c.from.y - c.to.y) < 1e-6)
    .sort((p, q) => curveLength(q) - curveLength(p))[0];
  if (centre) return centre.from.y;
  if (b.minY >= -1e-6 || b.maxY <= 1e-6 || symmetric(pieces, 0)) return 0;
  const middle = (b.minY + b.maxY) / 2;
  return symmetric(pieces, middle) ? middle : 0;
};

const symmetric = (pieces: readonly Piece[], y: number): boolean => {
  const key = (p: Point): string => `${Math.round(p.x * 1e3)},${Math.round((p.y - y) * 1e3)}`;
  const ends = new Set(pieces.flatMap((p) => [key(p.curve.from), key(p.curve.to)]));
  return pieces.every((p) => [p.curve.from, p.curve.to].every((e) => ends.has(key(point(e.x, 2 * y - e.y)))));
};

/** First place where pieces cross away from their ends, with both entities. */
const crossing = (pieces: readonly Piece[]): { at: Point; a: number; b: number } | null => {
  const boxed = pieces.map((p) => ({ ...p, box: boundsOfCurves([p.curve]) })).sort((p, q) => p.box.minX - q.box.minX);
  for (let i = 0; i < boxed.length; i++)
    for (let j = i + 1; j < boxed.length && boxed[j].box.minX <= boxed[i].box.maxX; j++) {
      const [p, q] = [boxed[i], boxed[j]];
      if (q.box.minY > p.box.maxY || q.box.maxY < p.box.minY) continue;
      const ends = [p.curve.from, p.curve.to, q.curve.from, q.curve.to];
      const at = intersectCurves(p.curve, q.curve).find((k) =>
        ends.every((e) => distance(e, k) > TOLERANCE.drawingGap),
      );
      if (at) return { at, a: p.entity, b: q.entity };
    }
  return null;
};

/**
 * Reads a DXF text whose X is Z of the part and whose Y is the distance from the axis: lines, arcs, circles, polylines with
 * bulge, ellipses and splines (fitted within 1 µm), in blocks too. Pieces below the axis and on it are left out, twins
 * removed, gaps closed; the contour is told into outer and inner. Nothing is thrown: see `problems`.
 */
export const importDxf = (text: string, wish: DrawingWish = PLAIN_DRAWING): DrawingImport => {
  const problems: ImportProblem[] = [];
  let layers: DrawingLayer[] = [];
  let unit: DrawingImport['unit'] = 'mm';
  let axis = 0;
  const finish = (half: HalfSection): DrawingImport => ({ ...half, layers, unit, axis, problems });
  const fail = (code: string, message: string, more: Partial<ImportProblem> = {}): DrawingImport => {
    problems.push(importProblem(code, message, more));
    return finish({ outer: [], inner: [], back: [] });
  };
  const parsed = readDxf(text);
  if (parsed.torn !== null && parsed.entities.length === 0)
    return fail(
      'torn',
      `The file ends or breaks inside (${parsed.torn.slice(0, 120)}). Save the drawing again as DXF text and drop it once more.`,
    );
  if (parsed.torn !== null || !/\bEOF\s*$/.test(text.slice(-200).trimEnd()))
    problems.push(
      importProblem(
        'torn',
        `The file ends or breaks off (${parsed.torn ?? 'it has no end mark'}), so pieces may be missing. Compare the contour with the drawing, or save it again.`,
        { severity: 'attention' },
      ),
    );
  const { found, count } = gather(parsed, problems);
  if (count > MAX_ENTITIES)
    return fail('too-many', `The drawing has more than ${MAX_ENTITIES} pieces. Save only the contour's layer.`);

  const factor = wish.unit === 'inch' ? 25.4 : wish.unit === 'mm' ? 1 : unitOf(parsed);
  unit = factor === 25.4 ? 'inch' : factor === 1 ? 'mm' : 'other';
  const names = [...new Set(found.map((f) => f.layer))];
  const contourLayers = names.filter((n) => !NOT_CONTOUR.test(n) && !CENTRE.test(n));
  // when every layer looks like something else, a name says nothing
  const chosen = new Set(wish.layers ?? (contourLayers.length > 0 ? contourLayers : names));
  layers = names.map((name) => ({
    name,
    pieces: found.filter((f) => f.layer === name).reduce((s, f) => s + f.curves.length, 0),
    used: chosen.has(name),
  }));
  const all = found.map((f) => ({
    ...f,
    curves: f.curves.map((c) => mapCurve(c, (p) => point(p.x * factor, p.y * factor), false)),
  }));
  const isCentre = (f: { layer: string; lineType: string }): boolean => wish.layers === null && CENTRE.test(f.lineType);
  const raw: Piece[] = all
    .filter((f) => chosen.has(f.layer) && !isCentre(f))
    .flatMap((f) => f.curves.map((curve) => ({ curve, entity: f.entity })));
  const { kept, removed } = withoutTwins(raw.filter((p) => !isDegenerate(p.curve) || curveLength(p.curve) > 1));
  if (removed > 0)
    problems.push(
      importProblem(
        'twins',
        `${removed} piece${removed > 1 ? 's' : ''} drawn twice ${removed > 1 ? 'are' : 'is'} taken once.`,
        { severity: 'info' },
      ),
    );
  if (kept.length === 0)
    return fail(
      'empty',
      'The chosen layers hold no lines, arcs, polylines or splines. Draw the half-section with Z along X and the axis at Y 0, or choose other layers.',
    );
  axis = centreHeight(all, kept);
  const down = axis;
  const moved = kept.map((p) => ({ ...p, curve: mapCurve(p.curve, (q) => point(q.x, q.y - down), false) }));
  const both =
    moved.some((p) => boundsOfCurves([p.curve]).maxY > 1e-4) &&
    moved.some((p) => boundsOfCurves([p.curve]).minY < -1e-4);
  // a full section: what crosses the centreline square to it is cut there, the lower half is the mirror image
  const halved = both
    ? moved.flatMap((p) => upperHalf(p))
    : moved.flatMap((p) =>
        boundsOfCurves([p.curve]).maxY < 1e-6
          ? [{ ...p, curve: mapCurve(p.curve, (q) => point(q.x, -q.y), true) }]
          : [p],
      );
  const pieces = halved.filter((p) => !isDegenerate(p.curve) && !onAxis(p.curve));
  if (pieces.length === 0)
    return fail(
      'empty',
      'Nothing of the drawing lies above the centreline. Draw the half-section with Z along X and the axis at Y 0.',
    );
  const low = pieces.find((p) => boundsOfCurves([p.curve]).minY < -1e-4);
  if (low) {
    const at = boundsOfCurves([low.curve]);
    return fail(
      'below-axis',
      `Entity ${low.entity} crosses the axis near Z${at.minX.toFixed(3)}. Trim the drawing at Y 0 so that only one half is left.`,
      {
        entity: low.entity,
        at: [at.minX, 0],
      },
    );
  }
  const cross = crossing(pieces);
  if (cross)
    return fail(
      'crossing',
      `Entities ${cross.a} and ${cross.b} cross at Z${cross.at.x.toFixed(3)} ⌀${(2 * cross.at.y).toFixed(3)}. Trim them where they meet, or choose only the contour's layers.`,
      {
        entity: cross.a,
        at: [cross.at.x, cross.at.y],
      },
    );
  const { chains, branches } = joinCurves(
    pieces.map((p) => p.curve),
    wish.gap,
  );
  for (const b of branches.slice(0, 5))
    problems.push(
      importProblem(
        'branch',
        `More than two pieces meet at Z${b.x.toFixed(3)} ⌀${(2 * b.y).toFixed(3)}. Delete the extra piece, or choose only the contour's layers.`,
        {
          severity: 'attention',
          at: [b.x, b.y],
        },
      ),
    );
  return finish(tellApart(chains, wish.gap, problems));
};

const onAxis = (c: Curve): boolean => c.kind === 'line' && Math.abs(c.from.y) < 1e-6 && Math.abs(c.to.y) < 1e-6;

/** The part of a piece above the axis. */
const upperHalf = (p: Piece): Piece[] => {
  const b = boundsOfCurves([p.curve]);
  if (b.maxY <= 1e-6) return [];
  if (b.minY >= -1e-6) return [p];
  const axisLine: Curve = { kind: 'line', from: point(b.minX - 1, 0), to: point(b.maxX + 1, 0) };
  const cuts = intersectCurves(p.curve, axisLine)
    .map((q) => parameterOf(p.curve, q))
    .filter((t) => t > 1e-9 && t < 1 - 1e-9)
    .sort((s, t) => s - t);
  return splitCurve(p.curve, cuts)
    .filter((c) => pointAt(c, 0.5).y > 0)
    .map((curve) => ({ ...p, curve }));
};

/** Tells outer from inner contour and turns both front to back. */
const tellApart = (chains: Curve[][], gap: number, problems: ImportProblem[]): HalfSection => {
  const top = (c: readonly Curve[]): number => boundsOfCurves(c).maxY;
  const length = (c: readonly Curve[]): number => boundsOfCurves(c).maxX - boundsOfCurves(c).minX;
  const closed = (c: readonly Curve[]): boolean => distance(c[0].from, c[c.length - 1].to) < gap;
  const main = chains.reduce((best, c) => (top(c) > top(best) + 1e-6 ? c : best));
  const rest = chains.filter((c) => c !== main);
  const loose = (extra: readonly Curve[]): void => {
    const p = extra[0].from;
    problems.push(
      importProblem(
        'open',
        `A loose chain of ${extra.length} piece${extra.length > 1 ? 's' : ''} starts at Z${p.x.toFixed(3)} ⌀${(2 * p.y).toFixed(3)} and joins nothing. Close the gap or delete it.`,
        {
          severity: 'attention',
          at: [p.x, p.y],
        },
      ),
    );
  };
  const ends = [main[0].from, main[main.length - 1].to];
  if (closed(main) || ends.every((e) => e.y <= gap)) {
    for (const extra of rest) loose(extra);
    return splitHalfSection(main);
  }
  const forward = (c: readonly Curve[]): Curve[] =>
    mergeSplit(c[0].from.x >= c[c.length - 1].to.x ? c : c.map(reverseCurve).reverse());
  const outer = forward(main);
  const bores = rest.filter((c) => length(c) > 10 * gap);
  const innerChain = bores.length > 0 ? bores.reduce((best, c) => (length(c) > length(best) ? c : best)) : [];
  for (const extra of rest) if (extra !== innerChain) loose(extra);
  const restEnds = rest.flatMap((c) => [c[0].from, c[c.length - 1].to]);
  for (const end of [outer[0].from, outer[outer.length - 1].to]) {
    const nearest = restEnds
      .filter((p) => distance(p, end) > gap && distance(p, end) < 1)
      .sort((p, q) => distance(p, end) - distance(q, end))[0];
    if (end.y > gap && nearest)
      problems.push(
        importProblem(
          'open',
          `The contour is open by ${distance(nearest, end).toFixed(3)} mm at Z${end.x.toFixed(3)} ⌀${(2 * end.y).toFixed(3)}. Draw the ends together, or allow a gap of that size.`,
          { at: [end.x, end.y] },
        ),
      );
    else if (end.y > gap && innerChain.length === 0)
      problems.push(
        importProblem(
          'open',
          `The contour is open at Z${end.x.toFixed(3)} ⌀${(2 * end.y).toFixed(3)}. Draw it down to the axis, add the bore, or allow a larger gap.`,
          {
            at: [end.x, end.y],
          },
        ),
      );
  }
  return { outer, inner: innerChain.length > 0 ? forward(innerChain) : [], back: [] };
};

/** A part document from an imported drawing, moved so that the front-most face is Z0. */
export const partFromDrawing = (drawing: HalfSection): PartDocument | null => {
  if (drawing.outer.length === 0) return null;
  const front = boundsOfCurves([...drawing.outer, ...drawing.inner, ...drawing.back]).maxX;
  const move = (chain: readonly Curve[]): Curve[] =>
    chain.map((c) => mapCurve(c, (p) => point(p.x - front, p.y), false));
  return partFromHalf({ outer: move(drawing.outer), inner: move(drawing.inner), back: move(drawing.back) });
};
