import { z } from 'zod';
import { type Finding, note } from '../../findings';
import { type Curve, graphHeight, heightAt, line, type Point, point, VOID } from '../../geometry';
import { deepestPositions } from '../../tooling';
import { typed } from '../../units';
import { dwellField, needDwell } from '../axis';
import { backThrough, closeOperation, EventList, openOperation, perRev } from '../events';
import { OUTER } from '../frame';
import { grooveOf } from '../groove/span';
import { defineKind } from '../kind';
import { Metal } from '../metal';
import { groundOf, spanRange, viewOf } from '../turning';
import { type Field, nothing, operationBase, type Planned, type Seen, topOver } from '../types';

const FormSchema = z.object({
  ...operationBase,
  kind: z.literal('form'),
  params: z.object({
    /** Left by the roughing plunge for the finishing one, mm; 0 plunges once. */
    allowance: typed().default(0.2),
    /** Depth after which the tool goes back a little, so that the chip breaks; 0 = in one go. */
    peck: typed().default(0),
    /** Share of the feed for the finishing plunge, %. */
    finishFeed: typed().default(50),
    dwell: typed().default(0.2),
  }),
});
type FormOperation = z.infer<typeof FormSchema>;

const fields: Field[] = [
  {
    key: 'params.allowance',
    label: 'Left for finishing',
    group: 'Depth',
    help: 'The first plunge stops this far above the form, the second makes it. 0 plunges once.',
    input: { kind: 'length', per: 'side' },
  },
  {
    key: 'params.finishFeed',
    label: 'Feed of finishing',
    group: 'Cut',
    help: 'Share of the feed for the second plunge: a wide edge wants to be let in gently.',
    input: { kind: 'number', unit: '%', step: 10 },
    showWhen: { key: 'params.allowance', isNot: 0 },
  },
  {
    key: 'params.peck',
    label: 'Peck',
    group: 'Cut',
    help: 'Depth after which the tool goes back a little, so that the chip breaks. 0: in one go.',
    input: { kind: 'length', per: 'side' },
  },
  dwellField('Seconds to stay on the form, so that it comes out round.'),
];

/** How far the tool goes back to break a chip, mm. */
const BREAK = 0.3;
const MOST_PECKS = 500;
/** Metal that stays under a form that fits, mm: less is no news. */
const FITS = 0.02;

/** The lowest place of a graph of reference positions; the middle of it where it is level. */
const deepest = (floor: readonly Curve[]): Point | null => {
  // a vertical piece has no heights between its ends
  const places = floor.flatMap((c) => [
    c.from,
    c.to,
    ...[0.25, 0.5, 0.75].flatMap((t) => {
      const x = c.from.x + (c.to.x - c.from.x) * t;
      const y = graphHeight(c, x);
      return Number.isFinite(y) ? [point(x, y)] : [];
    }),
  ]);
  if (places.length === 0) return null;
  const low = Math.min(...places.map((p) => p.y));
  const level = places.filter((p) => p.y < low + 1e-6);
  const middle = (Math.min(...level.map((p) => p.x)) + Math.max(...level.map((p) => p.x))) / 2;
  return level.reduce((best, p) => (Math.abs(p.x - middle) < Math.abs(best.x - middle) ? p : best));
};

/**
 * Plunges where the tool comes deepest over its span: its own shape against the part says how deep that is, so that it never
 * cuts into the part, however little its profile fits.
 */
const planForm = (op: FormOperation, seen: Seen): Planned => {
  const { params } = op;
  const range = spanRange(seen, OUTER);
  if (!range) return nothing([note('blocking', 'span-lost', op.id, {})]);
  const view = viewOf(seen);
  const floor = deepestPositions(groundOf(seen, OUTER, 0), view.cutting, range.minU, range.maxU);
  const place = deepest(floor);
  const bottom = place && heightAt(floor, place.x);
  if (!place || bottom === null) return nothing([note('blocking', 'span-lost', op.id, {})]);
  const findings: Finding[] = [];
  const low = bottom - view.noseRadius;
  const left = Math.min(...view.cutting.flatMap((s) => s.points.map((p) => p.x - s.radius)));
  const right = Math.max(...view.cutting.flatMap((s) => s.points.map((p) => p.x + s.radius)));
  const found = topOver(seen, place.x + left, place.x + right);
  const at = point(place.x, low);
  if (found === VOID || found <= low + 1e-3) return nothing([note('attention', 'nothing-to-cut', op.id, {}, at)]);
  const metal = new Metal(OUTER, seen.metal, null);
  if (metal.clearsAlong(view.cutting, [point(place.x, found + view.noseRadius + 1), point(place.x, bottom)]))
    return nothing([note('attention', 'nothing-to-cut', op.id, {}, at)]);
  if (low - range.minV > FITS)
    findings.push(note('attention', 'form-does-not-fit', op.id, { left: low - range.minV }, at));
  const reach = Math.max(...view.cutting.flatMap((s) => s.points.map((p) => p.y)));
  if (found - low > reach)
    return nothing([...findings, note('blocking', 'blade-too-short', op.id, { needed: found - low, reach }, at)]);
  if (params.peck > 0 && (found - low) / params.peck > MOST_PECKS)
    return nothing([
      note('blocking', 'too-much-work', op.id, {
        what: 'The number of pecks',
        number: (found - low) / params.peck,
        most: MOST_PECKS,
      }),
    ]);
  const safe = seen.place.safeDistance;
  const clear = Math.max(found, topOver(seen, place.x + left, 1e5)) + view.noseRadius + safe;
  const gate = Math.max(seen.metal.right, seen.contour.front) - left + safe * 2;
  const list = new EventList(op.id, seen.section.tip);
  openOperation(list, seen, op.cutting);
  list.rapid('approach', point(gate, clear));
  list.rapid('approach', point(place.x, clear));
  const start = Math.min(clear, found + view.noseRadius + safe);
  list.rapid('approach', point(place.x, start));
  const cut = (from: number, to: number, share: number): void =>
    list.feed(
      'cut',
      backThrough(OUTER, [line(point(place.x, from), point(place.x, to))]),
      perRev(op.cutting.feed * share),
    );
  const first = Math.min(start, bottom + params.allowance);
  let v = start;
  while (v > first + 1e-9) {
    const next = params.peck > 0 ? Math.max(first, v - params.peck) : first;
    cut(v, next, 1);
    if (next > first + 1e-9) {
      const back = Math.min(BREAK, params.peck / 2);
      cut(next, next + back, 1);
      cut(next + back, next, 1);
    }
    v = next;
  }
  if (params.allowance > 0) cut(first, bottom, params.finishFeed / 100);
  if (params.dwell > 0) list.add('cut', { kind: 'dwell', seconds: params.dwell });
  list.rapid('retract', point(place.x, clear));
  list.rapid('retract', point(gate, clear));
  closeOperation(list, seen);
  return { events: list.events, findings, depth: right - left, contourKey: null };
};

export const form = defineKind({
  kind: 'form',
  schema: FormSchema,
  label: 'Form plunging',
  short: 'form',
  fields,
  tools: ['form'],
  needs: 'a form tool',
  purpose: 'groove',
  side: 'outer',
  rank: 66,
  target: 'span',
  spanFor: (part, span) => grooveOf(part, 'outer', span),
  covers: 'finish',
  needsHole: false,
  deep: false,
  offeredFor: ['outer'],
  starting: () => ({}),
  validate: ({ params }, need) => {
    need(params.allowance >= 0 && params.allowance <= 1.5, 'Left for finishing', params.allowance, '0 to 1.5 mm');
    need(params.peck === 0 || params.peck >= 0.05, 'Peck', params.peck, '0, or at least 0.05 mm');
    need(params.finishFeed >= 5 && params.finishFeed <= 200, 'Feed of finishing', params.finishFeed, '5 to 200 %');
    needDwell(need, params.dwell);
  },
  frame: () => OUTER,
  plan: planForm,
});
