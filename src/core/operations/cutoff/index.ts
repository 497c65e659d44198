import { z } from 'zod';
import {
  type Curve,
  clipGraph,
  curveLength,
  distance,
  line,
  type Point,
  point,
  regionBounds,
  reverseChain,
  upperEnvelope,
} from '../../geometry';
import { jawFront } from '../../holding';
import { deepestPositions } from '../../tooling';
import { closeOperation, EventList, openOperation, perRev } from '../events';
import { OUTER } from '../frame';
import { groundOf, note, topOf } from '../turning';
import { type Field, type Finding, operationBase, type PlanContext, type Planned } from '../types';

export const CutoffSchema = z.object({
  ...operationBase,
  kind: z.literal('cutoff'),
  params: z.object({
    /** The edge on the part's back is broken by the blade's corner before the part comes off. */
    edgeBreakFirst: z.boolean().default(true),
    /** Diameter from which the feed is reduced. */
    slowFrom: z.number().default(8),
    /** Share of the feed that is taken away there, %. */
    slowBy: z.number().default(60),
    /** How far the corner goes past centre, or past the wall of a bore, mm in radius. */
    pastCentre: z.number().default(0.3),
  }),
});
export type CutoffOperation = z.infer<typeof CutoffSchema>;

export const cutoffFields: Field[] = [
  {
    key: 'params.edgeBreakFirst',
    label: 'Back edge first',
    group: 'Edge',
    help: 'Cuts a groove, then the chamfer or round on the part’s back edge with the blade’s corner, then parts off.',
    input: { kind: 'toggle' },
  },
  {
    key: 'params.slowFrom',
    label: 'Slow from ⌀',
    group: 'Cut',
    help: 'Below this diameter, or this much above the bore, the feed is reduced.',
    input: { kind: 'length', per: 'diameter' },
  },
  {
    key: 'params.slowBy',
    label: 'Reduce feed by',
    group: 'Cut',
    help: '50 to 75 % is usual near the centre.',
    input: { kind: 'number', unit: '%', step: 5 },
  },
  {
    key: 'params.pastCentre',
    label: 'Past centre',
    group: 'Depth',
    help: 'How far the blade’s corner goes past the axis, or past the wall of a bore.',
    input: { kind: 'length', per: 'side' },
  },
];

export const planCutoff = (op: CutoffOperation, ctx: PlanContext): Planned => {
  const tool = ctx.tool;
  const findings: Finding[] = [];
  const bail = (code: string, numbers: Record<string, number | string> = {}): Planned => ({
    events: [],
    findings: [...findings, note('blocking', code, op.id, numbers)],
    depth: 0,
    contourKey: null,
  });
  if (tool.kind !== 'cutoff') return bail('wrong-tool', { needs: 'a cutoff blade' });
  const rho = ctx.section.noseRadius;
  const back = regionBounds(ctx.part.region).minX;
  // left corner centre when the right corner runs along the back face
  const u = back - (tool.width - rho);
  const jaws = jawFront(ctx.stockDocument, ctx.holding);
  const leftFlank = u - rho - Math.max(0, (tool.shank - tool.width) * 0.15);
  const missing = jaws + ctx.holding.safeDistance - leftFlank;
  if (missing > 1e-6)
    findings.push(
      note(
        'blocking',
        'cutoff-meets-jaws',
        op.id,
        { missing, stickOut: ctx.holding.stickOut, needed: ctx.holding.stickOut + missing },
        point(back, ctx.stockDocument.diameter / 2),
      ),
    );

  const top = topOf(ctx.stock, u - rho, back) ?? ctx.stockDocument.diameter / 2;
  const clear = Math.max(ctx.stockDocument.diameter / 2, top) + rho + ctx.holding.safeDistance;
  const wall = boreRadiusAt(ctx, back - tool.width / 2);
  const end = (wall > 1e-3 ? wall - op.params.pastCentre - rho : -op.params.pastCentre) + rho;
  const radial = top - Math.max(0, end - rho);
  if (radial > tool.reach)
    findings.push(note('blocking', 'blade-too-short', op.id, { needed: radial, reach: tool.reach }, point(back, top)));
  const slowAt = wall > 1e-3 ? wall + 2 : op.params.slowFrom / 2;

  const insert = ctx.section.cutting;
  const ground = groundOf(ctx, OUTER, 0);
  const rim = [...ground].filter((c) => c.kind !== 'line' || Math.abs(c.to.x - c.from.x) > 1e-9);
  const floor = clipGraph(
    upperEnvelope([...deepestPositions(rim, insert, u, back + 50), line(point(u - 1, end), point(back + 50, end))]),
    u,
    back + 50,
  );
  // where the corner leaves the rim for the back edge: last place at the rim's height, going toward the chuck
  const edge = edgeChain(floor, u, end);

  const list = new EventList(op.id, ctx.section.tip);
  openOperation(list, ctx, op.cutting);
  const feed = perRev(op.cutting.feed);
  const slow = perRev(op.cutting.feed * (1 - op.params.slowBy / 100));
  list.rapid('approach', point(u, clear));
  let from: Point = point(u, clear);
  const plunge = (to: number): void => {
    const stop = Math.max(to, Math.min(slowAt + rho, from.y));
    if (from.y - stop > 1e-9) {
      list.feed('cut', [line(from, point(u, stop))], feed);
      from = point(u, stop);
    }
    if (from.y - to > 1e-9) {
      list.feed('cut', [line(from, point(u, to))], slow);
      from = point(u, to);
    }
  };
  const approachTop = top + rho + ctx.holding.safeDistance * 0.9;
  if (approachTop < clear) {
    list.rapid('approach', point(u, approachTop));
    from = point(u, approachTop);
  }
  if (op.params.edgeBreakFirst && edge) {
    const depthOfEdge = Math.min(...edge.flatMap((c) => [c.from.y, c.to.y]));
    plunge(Math.max(end, depthOfEdge - 0.5));
    list.rapid('link', point(u, clear));
    const begin = edge[0].from;
    const above = point(begin.x, begin.y + ctx.holding.safeDistance * 0.8);
    list.rapid('link', point(above.x, clear));
    list.rapid('approach', above);
    list.feed('lead-in', [line(above, begin)], feed);
    list.feed('cut', edge, feed);
    from = edge[edge.length - 1].to;
    if (distance(from, point(u, from.y)) > 1e-6) list.feed('cut', [line(from, point(u, from.y))], feed);
    from = point(u, from.y);
  }
  plunge(end);
  list.rapid('retract', point(u, clear));
  closeOperation(list, ctx);
  return { events: list.events, findings, depth: tool.width, contourKey: null };
};

/** Greatest radius of a hole in the stock at a place along the axis; 0 for solid. */
const boreRadiusAt = (ctx: PlanContext, z: number): number => {
  let low = Infinity;
  for (const ring of ctx.stock)
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      const a = ring[j];
      const b = ring[i];
      if (Math.min(a.x, b.x) > z || Math.max(a.x, b.x) < z || Math.abs(a.x - b.x) < 1e-12) continue;
      low = Math.min(low, a.y + ((b.y - a.y) * (z - a.x)) / (b.x - a.x));
    }
  return Number.isFinite(low) ? Math.max(0, low) : 0;
};

/** Pieces over the falling back edge, from its beginning on the rim down to where the blade stands at `u`; null for a sharp edge. */
const edgeChain = (floor: readonly Curve[], u: number, end: number): Curve[] | null => {
  const chain = reverseChain(floor);
  const falling: Curve[] = [];
  for (let i = chain.length - 1; i >= 0; i--) {
    const c = chain[i];
    const vertical = Math.abs(c.to.x - c.from.x) < 1e-9;
    if (falling.length === 0 && (Math.abs(c.to.y - end) < 1e-6 || vertical)) continue;
    if (c.from.y <= c.to.y + 1e-9) break;
    falling.unshift(c);
    if (falling.length > 8) break;
  }
  const size = falling.reduce((s, c) => s + curveLength(c), 0);
  if (size < 0.02 || falling.length === 0 || falling[0].from.x - u > 20) return null;
  return falling;
};
