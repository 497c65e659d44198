import { z } from 'zod';
import { type Finding, note } from '../../findings';
import {
  type Curve,
  clipGraph,
  curveLength,
  distance,
  line,
  type Point,
  point,
  reverseChain,
  upperEnvelope,
  VOID,
} from '../../geometry';
import { deepestPositions, toolFacts } from '../../tooling';
import { typed } from '../../units';
import { closeOperation, EventList, openOperation, perRev } from '../events';
import { OUTER } from '../frame';
import { defineKind } from '../kind';
import { groundOf } from '../turning';
import { type Field, operationBase, type Planned, type Seen, topOver } from '../types';
import { cutoffSketch } from './sketch';

const CutoffSchema = z.object({
  ...operationBase,
  kind: z.literal('cutoff'),
  params: z.object({
    /** The edge on the part's back is broken by the blade's corner before the part comes off. */
    edgeBreakFirst: z.boolean().default(true),
    /** Diameter from which the feed is reduced. */
    slowFrom: typed().default(8),
    /** Share of the feed that is taken away there, %. */
    slowBy: typed().default(60),
    /** Metal left on the part's back, for a face on the second side. */
    leave: typed().default(0),
    /** How far the corner goes past centre, or past the wall of a bore, mm in radius. */
    pastCentre: typed().default(0.3),
    /** The part falls into the catcher, which comes out before the part is off and goes in after. */
    catcher: z.boolean().default(false),
    /** Seconds to wait for the catcher, out and in. */
    catcherTime: typed().default(1),
  }),
});
export type CutoffOperation = z.infer<typeof CutoffSchema>;

const fields: Field[] = [
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
    key: 'params.catcher',
    label: 'Part catcher',
    group: 'Edge',
    help: 'The catcher comes out before the blade reaches the centre, and goes in with the part.',
    input: { kind: 'toggle' },
  },
  {
    key: 'params.catcherTime',
    label: 'Wait for it',
    group: 'Edge',
    help: 'Seconds that the catcher takes to come out, and to go in.',
    input: { kind: 'number', unit: 's', step: 0.5 },
    showWhen: { key: 'params.catcher', is: true },
  },
  {
    key: 'params.leave',
    label: 'Leave on the back',
    group: 'Depth',
    help: 'Metal left behind the part for facing on the second side. The back edge is then left to that side too.',
    input: { kind: 'length' },
  },
  {
    key: 'params.pastCentre',
    label: 'Past centre',
    group: 'Depth',
    help: 'How far the blade’s corner goes past the axis, or past the wall of a bore.',
    input: { kind: 'length', per: 'side' },
  },
];

const planCutoff = (op: CutoffOperation, seen: Seen): Planned => {
  const tool = seen.tool;
  if (tool.kind !== 'cutoff') throw new Error('invariant: a cutoff has a blade');
  const blade = tool.cutter;
  const findings: Finding[] = [];
  const rho = seen.section.noseRadius;
  const safe = seen.place.safeDistance;
  const back = seen.contour.back - op.params.leave;
  const bar = seen.place.stockDiameter / 2;
  // left corner centre when the right corner runs along the back face
  const u = back - (blade.width - rho);
  const leftFlank = u - rho - (toolFacts(tool).blade?.beside ?? 0);
  const missing = seen.place.jawFront + safe - leftFlank;
  if (missing > 1e-6) {
    const needed = seen.place.stickOut + missing;
    findings.push(
      note('blocking', 'cutoff-meets-jaws', op.id, { missing, needed }, point(back, bar), {
        remedy: {
          label: `Stick-out ${Math.ceil(needed * 10) / 10} mm`,
          set: { [`/holdings/${seen.place.holding}/stock/stickOut`]: Math.ceil(needed * 10) / 10 },
        },
      }),
    );
  }
  const found = topOver(seen, u - rho, back);
  const top = found === VOID ? bar : found;
  const clear = Math.max(bar, top) + rho + safe;
  const wall = seen.bore;
  const past = op.params.pastCentre;
  // lowest place of the corner's centre
  const bottom = wall > 1e-3 ? wall - past : rho - past;
  const radial = top - Math.max(0, bottom - rho);
  if (radial > blade.reach)
    findings.push(note('blocking', 'blade-too-short', op.id, { needed: radial, reach: blade.reach }, point(back, top)));
  // the corner that leads on the part's side has to come past the axis, or past the wall of a bore
  const web = bottom - rho - (wall > 1e-3 ? wall : 0);
  if (web > -0.01) {
    const needed = Math.round((past + web + 0.1) * 100) / 100;
    findings.push(
      note('blocking', 'not-severed', op.id, { left: Math.max(0, web), needed }, point(back, wall), {
        remedy: { label: `Past centre ${needed} mm`, set: { [`/operations/${op.id}/params/pastCentre`]: needed } },
      }),
    );
  }
  if (wall <= 1e-3 && (op.params.slowBy < 25 || op.params.slowFrom <= 2))
    findings.push(
      note(
        'attention',
        'full-feed-to-centre',
        op.id,
        { share: op.params.slowFrom <= 2 ? 100 : 100 - op.params.slowBy },
        point(back, 0),
        {
          remedy: {
            label: 'Slow by 60 % from ⌀8',
            set: { [`/operations/${op.id}/params/slowBy`]: 60, [`/operations/${op.id}/params/slowFrom`]: 8 },
          },
        },
      ),
    );
  if (op.params.catcher && !seen.place.catcher)
    findings.push(
      note('blocking', 'no-catcher', op.id, {}, null, {
        remedy: { label: 'Without the catcher', set: { [`/operations/${op.id}/params/catcher`]: false } },
      }),
    );
  const slowAt = wall > 1e-3 ? wall + 2 : op.params.slowFrom / 2;

  const insert = seen.section.cutting;
  const ground = groundOf(seen, OUTER, 0);
  const rim = [...ground].filter((c) => c.kind !== 'line' || Math.abs(c.to.x - c.from.x) > 1e-9);
  const floor = clipGraph(
    upperEnvelope([
      ...deepestPositions(rim, insert, u, back + 50),
      line(point(u - 1, bottom), point(back + 50, bottom)),
    ]),
    u,
    back + 50,
  );
  // where the corner leaves the rim for the back edge: last place at the rim's height, going toward the chuck
  const edge = edgeChain(floor, u, bottom);

  const list = new EventList(op.id, seen.section.tip);
  openOperation(list, seen, op.cutting);
  const feed = perRev(op.cutting.feed);
  const slow = perRev(op.cutting.feed * (1 - op.params.slowBy / 100));
  // with the other spindle's jaws in front the way leads over them: along first, then down
  const over = seen.fixtures !== null && seen.fixtures.right > seen.contour.front;
  const overAll = Math.max(clear, seen.place.toolChange.diameter / 2 - seen.section.tip.y);
  if (over) list.rapid('approach', point(u, overAll));
  list.rapid('approach', point(u, clear));
  let from: Point = point(u, clear);
  const { catcher } = seen.place;
  let caught: 'in' | 'out' = 'in';
  /** The catcher swings, and the slides wait for it. */
  const swing = (action: 'out' | 'in'): void => {
    if (!op.params.catcher || !catcher || caught === action) return;
    caught = action;
    list.add('setup', { kind: 'device', device: catcher, action });
    if (op.params.catcherTime > 0) list.add('setup', { kind: 'dwell', seconds: op.params.catcherTime });
  };
  const plunge = (to: number): void => {
    const stop = Math.max(to, Math.min(slowAt + rho, from.y));
    if (from.y - stop > 1e-9) {
      list.feed('cut', [line(from, point(u, stop))], feed);
      from = point(u, stop);
    }
    if (from.y - to > 1e-9) {
      if (to === bottom) swing('out');
      list.feed('cut', [line(from, point(u, to))], slow);
      from = point(u, to);
    }
  };
  const approachTop = top + rho + safe;
  if (approachTop < clear) {
    list.rapid('approach', point(u, approachTop));
    from = point(u, approachTop);
  }
  if (op.params.edgeBreakFirst && edge && op.params.leave <= 0) {
    const depthOfEdge = Math.min(...edge.flatMap((c) => [c.from.y, c.to.y]));
    plunge(Math.max(bottom, depthOfEdge - 0.5));
    list.rapid('link', point(u, clear));
    const begin = edge[0].from;
    // where more metal stands than the rim, the blade is fed down through it
    const beside = topOver(seen, begin.x - rho, begin.x - rho + blade.width);
    const high = beside === VOID || beside <= begin.y - rho + 1e-6 ? begin.y + safe : beside + rho + safe;
    const above = point(begin.x, Math.min(clear, high));
    list.rapid('link', point(above.x, clear));
    list.rapid('approach', above);
    list.feed('lead-in', [line(above, begin)], feed);
    list.feed('cut', edge, feed);
    from = edge[edge.length - 1].to;
    if (distance(from, point(u, from.y)) > 1e-6) list.feed('cut', [line(from, point(u, from.y))], feed);
    from = point(u, from.y);
  }
  plunge(bottom);
  swing('in');
  list.rapid('retract', point(u, over ? overAll : clear));
  closeOperation(list, seen);
  return { events: list.events, findings, depth: blade.width, contourKey: null };
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

export const cutoff = defineKind({
  kind: 'cutoff',
  schema: CutoffSchema,
  label: 'Cutoff',
  short: 'cut off',
  fields,
  tools: ['cutoff'],
  needs: 'a cutoff blade',
  purpose: 'cutoff',
  side: 'outer',
  rank: 90,
  target: 'none',
  covers: 'sever',
  needsHole: false,
  deep: false,
  offeredFor: ['outer'],
  leaves: (op) => op.params.leave,
  starting: () => ({}),
  validate: (op, need) => {
    need(op.params.slowBy >= 0 && op.params.slowBy < 100, 'Reduce feed by', op.params.slowBy, '0 to below 100 %');
    need(op.params.pastCentre >= 0 && op.params.pastCentre <= 2, 'Past centre', op.params.pastCentre, '0 to 2 mm');
    need(op.params.leave >= 0 && op.params.leave <= 20, 'Leave on the back', op.params.leave, '0 to 20 mm');
    need(op.params.catcherTime >= 0 && op.params.catcherTime <= 60, 'Wait for it', op.params.catcherTime, '0 to 60 s');
    need(op.params.slowFrom >= 0, 'Slow from ⌀', op.params.slowFrom, '0 or more');
  },
  frame: () => OUTER,
  sketch: cutoffSketch,
  plan: planCutoff,
});
