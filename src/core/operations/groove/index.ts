import { type Finding, note } from '../../findings';
import {
  type Curve,
  flattenChain,
  heightAt,
  insetShape,
  line,
  type Point,
  point,
  type RoundedPolygon,
  reverseChain,
  VOID,
} from '../../geometry';
import { toolFacts } from '../../tooling';
import { backThrough, closeOperation, EventList, openOperation, perRev } from '../events';
import { FACE, INNER, OUTER } from '../frame';
import { defineKind, type Need } from '../kind';
import { Metal } from '../metal';
import { rangeOf, type SpanRange } from '../turning';
import { nothing, type Planned, type Seen, topOver } from '../types';
import { type GrooveCycle, grooveCycle, writeGrooveCycle } from './cycle';
import { backTo, type LevelPass, levelPassesOf } from './levels';
import { fromMiddle } from './places';
import { bottomOf, chainOf, deepRange, type GrooveRoom, grooveRoom } from './room';
import { FaceGrooveSchema, type GrooveOperation, grooveFields, InnerGrooveSchema, OuterGrooveSchema } from './schema';
import { grooveSketch } from './sketch';
import { grooveOf, groovesLike } from './span';

/** A plunge that would take less than this off is not made, mm. */
const LEAST = 0.02;
/** A clear level no more than this above the place where the feed would begin is that place, mm. */
const HARDLY = 0.2;
/** How far the blade goes back to break the chip, mm. */
const BREAK = 0.3;
/** More plunges than this are a mistake in a number. */
const MOST_PLUNGES = 500;

/** Whether a face blade may go in with its first corner at a place: by the diameter of its outer corner. */
const inRange =
  (range: { readonly least: number; readonly most: number }, room: GrooveRoom) =>
  (u: number): boolean => {
    const outer = 2 * (u - room.rho + room.width);
    return outer >= range.least - 1e-6 && outer <= range.most + 1e-6;
  };

/** The side at which cutting may begin: the right one, unless a face blade's curve has no room there; null where it has at neither. */
const firstSide = (
  range: { readonly least: number; readonly most: number } | null,
  room: GrooveRoom,
  rough: { readonly from: number; readonly to: number },
): 'left' | 'right' | null =>
  !range || inRange(range, room)(rough.to) ? 'right' : inRange(range, room)(rough.from) ? 'left' : null;

/** Plunges in the order in which they are made: those of a face blade begin where its curve has room. */
const orderFor = (
  places: number[],
  range: { least: number; most: number } | null,
  room: GrooveRoom,
): number[] | null => {
  if (!range || places.length === 0) return places;
  // from the outside inward, the first that fits at the front
  const inward = [...places].sort((a, b) => b - a);
  const first = inward.find(inRange(range, room));
  return first === undefined ? null : [first, ...inward.filter((u) => u !== first)];
};

/** One groove as it is going to be cut. */
interface Prepared {
  readonly room: GrooveRoom;
  readonly bottom: { readonly level: number; readonly from: number; readonly to: number };
  readonly order: readonly number[];
  readonly levels: readonly LevelPass[];
  readonly cycle: GrooveCycle | null;
  readonly findings: readonly Finding[];
}

type Blade = NonNullable<ReturnType<typeof toolFacts>['blade']>;

/** Depth of a level where none is said, as a share of the blade's width, or of the radius of a round one. */
const LEVEL = 0.5;
/** A front that is flat over less than this is round, mm. */
const ROUND = 0.02;

/** From plunge to plunge: as asked for, else the flat front of the blade. */
const stepOf = (op: GrooveOperation, room: GrooveRoom): number =>
  Math.max(0.05, op.params.step ?? Math.max(room.flat, room.width * 0.4));

const levelDepth = (op: GrooveOperation, room: GrooveRoom): number =>
  Math.max(0.05, op.params.depth ?? LEVEL * (op.params.method === 'roll' ? room.rho : room.width));

/** How one groove is cut, or why it cannot be. */
const prepare = (op: GrooveOperation, seen: Seen, range: SpanRange, blade: Blade): Prepared | Finding[] => {
  const frame = frameOf(op);
  const { params } = op;
  const findings: Finding[] = [];
  const allowance = params.passes === 'finish' ? 0 : params.allowance;
  const middle = frame.out(point((range.minU + range.maxU) / 2, range.minV));
  const room = grooveRoom(seen, range, blade, allowance);
  const spanWidth = range.maxU - range.minU;
  if (!room)
    return [note('blocking', 'groove-narrow', op.id, { width: spanWidth, blade: blade.width, depth: 0 }, middle)];
  const deep = room.top === VOID ? 0 : room.top - range.minV;
  if (deep > blade.reach + 1e-6)
    findings.push(note('blocking', 'blade-too-short', op.id, { needed: deep, reach: blade.reach }, middle));
  const bottom = bottomOf(room.finish);
  const missing = bottom.level - room.rho - range.minV;
  if (missing > 0.01 && deep <= blade.reach + 1e-6)
    findings.push(
      note('attention', 'groove-narrow', op.id, { width: spanWidth, blade: blade.width, depth: missing }, middle),
    );
  if (params.method === 'roll' && params.passes !== 'finish' && room.flat > ROUND)
    findings.push(
      note('blocking', 'groove-not-round', op.id, { flat: room.flat }, middle, {
        remedy: { label: 'By levels', set: { [`/operations/${op.id}/params/method`]: 'turn' } },
      }),
    );
  if (params.step !== null && params.passes !== 'finish' && params.step > room.width + 1e-9)
    findings.push(
      note(
        'blocking',
        'bad-number',
        op.id,
        { field: 'Step', value: params.step, must: `at most the blade’s width, ${room.width} mm` },
        middle,
        { remedy: { label: 'As the blade allows', set: { [`/operations/${op.id}/params/step`]: null } } },
      ),
    );
  if (findings.some((f) => f.severity === 'blocking')) return findings;
  const tooMuch = (what: string, number: number): Finding[] => [
    note('blocking', 'too-much-work', op.id, { what, number, most: MOST_PLUNGES }),
  ];
  const step = stepOf(op, room);
  if ((room.to - room.from) / step > MOST_PLUNGES)
    return tooMuch('The number of plunges', (room.to - room.from) / step);
  // below the rounding of the mouth the walls are walls
  const below = Math.min(deep / 2, room.rho + allowance + 0.05);
  const rough = deepRange(room, room.floor, Math.max(LEAST, below));
  const diameters = frame === FACE ? blade.diameters : null;
  const order = orderFor(rough ? fromMiddle(rough.from, rough.to, step) : [], diameters, room);
  if (!order)
    return [
      note(
        'blocking',
        'face-groove-range',
        op.id,
        {
          inner: 2 * (room.from - room.rho + room.width),
          outer: 2 * (room.to - room.rho + room.width),
          least: blade.diameters?.least ?? 0,
          most: blade.diameters?.most ?? 0,
        },
        middle,
      ),
    ];
  const prepared = { room, bottom, order, levels: [], cycle: null, findings };
  if (!rough) return prepared;
  if (params.method === 'plunge') {
    if (params.output === 'moves' || params.passes === 'finish') return prepared;
    const begins = firstSide(diameters, room, rough);
    const cycle =
      begins === null
        ? { reason: 'the curve of the blade has room only between its walls' }
        : grooveCycle(op, seen, room, rough, step, frame, begins);
    if ('cycle' in cycle) return { ...prepared, cycle };
    return {
      ...prepared,
      findings: [...findings, note('info', 'cycle-not-possible', op.id, { reason: cycle.reason }, middle)],
    };
  }
  const depth = levelDepth(op, room);
  const lowest = bottomOf(room.floor).level;
  if ((room.top + room.rho - lowest) / depth > MOST_PLUNGES)
    return tooMuch('The number of levels', (room.top + room.rho - lowest) / depth);
  const plunged = (reason: string): Prepared => ({
    ...prepared,
    findings: [...findings, note('info', 'groove-plunged', op.id, { reason }, middle)],
  });
  if (room.to - room.from < LEAST) return plunged('the blade fills it');
  const first = firstSide(diameters, room, rough);
  if (first === null) return plunged('the curve of the blade has room only between its walls');
  return { ...prepared, levels: levelPassesOf(room, lowest, { depth, rolls: params.method === 'roll', first }) };
};

const frameOf = (op: GrooveOperation) =>
  op.kind === 'outer-groove' ? OUTER : op.kind === 'inner-groove' ? INNER : FACE;

const plan = (op: GrooveOperation, seen: Seen): Planned => {
  const blade = toolFacts(seen.tool).blade;
  if (!blade) throw new Error('invariant: a groove has a blade');
  const frame = frameOf(op);
  const own = seen.contour.span;
  if (!own || own.length === 0)
    return nothing([note('blocking', seen.contour.present ? 'span-lost' : 'no-bore', op.id, {})]);
  // from the front, or from the outside, toward the chuck or the axis
  const ranges = [own, ...seen.contour.alike].map((s) => rangeOf(s, frame)).sort((a, b) => b.maxU - a.maxU);
  const prepared: Prepared[] = [];
  const failed: Finding[] = [];
  for (const range of ranges) {
    const made = prepare(op, seen, range, blade);
    if (Array.isArray(made)) failed.push(...made);
    else prepared.push(made as Prepared);
  }
  const findings = [...failed, ...prepared.flatMap((p) => p.findings)];
  if (failed.some((f) => f.severity === 'blocking')) return nothing(findings);

  const list = new EventList(op.id, seen.section.tip);
  openOperation(list, seen, op.cutting);
  const writer = new Writer(op, seen, prepared, list, frame.out);
  writer.enter();
  for (const p of prepared) writer.groove(p);
  if (!writer.cut) {
    const [{ minU, maxU, minV }] = ranges;
    const middle = frame.out(point((minU + maxU) / 2, minV));
    return nothing([...findings, note('attention', 'nothing-to-cut', op.id, {}, middle)]);
  }
  writer.leave();
  closeOperation(list, seen);
  const [{ room, levels }] = prepared;
  const depth = levels.length > 0 ? levelDepth(op, room) : Math.min(room.width, stepOf(op, room));
  return { events: list.events, findings, depth, contourKey: null };
};

/** Writes the moves of grooves in their frame. */
class Writer {
  cut = false;
  private room: GrooveRoom;
  private readonly safe: number;
  private readonly clear: number;
  private readonly gate: number;
  /** The level of the way between the gate and the grooves: over all that stands in front of them. */
  private readonly way: number;
  /** Middles of the first groove and of the last one. */
  private readonly ends: readonly number[];
  private readonly metalBefore: Metal;

  constructor(
    private readonly op: GrooveOperation,
    private readonly seen: Seen,
    prepared: readonly Prepared[],
    private readonly list: EventList,
    private readonly map: (p: Point) => Point,
  ) {
    const rooms = prepared.map((p) => p.room);
    this.room = rooms[0];
    this.metalBefore = new Metal(this.room.view.frame, seen.metal, null);
    const { rho, width } = this.room;
    this.safe = seen.place.safeDistance;
    const [from, to] = [Math.min(...rooms.map((r) => r.from)), Math.max(...rooms.map((r) => r.to))];
    const beside = topOver(seen, from - width - 1, to + width + 1);
    const high = beside === VOID ? Math.max(...rooms.map((r) => r.top)) : beside;
    this.clear = high + rho + this.safe;
    this.gate = Math.max(seen.metal.right, seen.contour.front) + width + this.safe * 3;
    const inFront = op.kind === 'face-groove' ? VOID : topOver(seen, from - width - 1, this.gate);
    this.way = Math.max(this.clear, inFront + rho + this.safe);
    this.ends = [rooms[0], rooms[rooms.length - 1]].map((r) => (r.from + r.to) / 2);
  }

  groove({ room, order, levels, bottom, cycle }: Prepared): void {
    this.room = room;
    const { passes } = this.op.params;
    if (passes !== 'finish') {
      if (cycle) this.cycle(cycle);
      else if (levels.length > 0) this.levels(levels);
      else this.plunges(order);
    }
    if (passes !== 'plunge') this.walls(bottom);
  }

  private at(u: number, v: number): Point {
    return this.map(point(u, v));
  }

  /** From the place of the tool change to over the groove: outside and in a bore around what stands in front of it. */
  enter(): void {
    if (this.op.kind !== 'face-groove') {
      this.list.rapid('approach', this.at(this.gate, this.way));
      if (this.way > this.clear + LEAST) this.list.rapid('approach', this.at(this.ends[0], this.way));
    } else this.list.rapid('approach', this.at(this.room.to, this.clear + this.safe * 2));
  }

  leave(): void {
    if (this.op.kind !== 'face-groove') {
      if (this.way > this.clear + LEAST) this.list.rapid('retract', this.at(this.ends[1], this.way));
      this.list.rapid('retract', this.at(this.gate, this.way));
    } else this.list.rapid('retract', this.at(this.room.to, this.clear + this.safe * 2));
  }

  /** Top of the metal under the blade as it stands at a place. */
  private metal(u: number): number {
    const { rho, width } = this.room;
    const top = topOver(this.seen, u - rho + 1e-3, u - rho + width - 1e-3);
    return top === VOID ? Number.NEGATIVE_INFINITY : top;
  }

  /** Where the feed begins over a place: at the clear level, where that is hardly higher. */
  private startOver(height: number): number {
    const start = height + this.safe;
    return start > this.clear - HARDLY ? this.clear : start;
  }

  plunges(order: readonly number[]): void {
    const { params } = this.op;
    const feed = perRev(this.op.cutting.feed);
    for (const u of order) {
      const bottom = heightAt(this.room.floor, u);
      if (bottom === null || this.metal(u) < bottom - this.room.rho + LEAST) continue;
      this.over(u);
      let v = Math.max(bottom, this.startOver(this.metal(u) + this.room.rho));
      this.list.rapid('approach', this.at(u, v));
      while (v > bottom + 1e-9) {
        const next = params.peck > 0 ? Math.max(bottom, v - params.peck) : bottom;
        this.list.feed('cut', backThrough(this.room.view.frame, [line(point(u, v), point(u, next))]), feed);
        v = next;
        if (v > bottom + 1e-9) {
          const back = Math.min(BREAK, params.peck / 2);
          this.list.feed('cut', backThrough(this.room.view.frame, [line(point(u, v), point(u, v + back))]), feed);
          this.list.feed('cut', backThrough(this.room.view.frame, [line(point(u, v + back), point(u, v))]), feed);
        }
      }
      if (params.dwell > 0) this.list.add('cut', { kind: 'dwell', seconds: params.dwell });
      this.list.rapid('retract', this.at(u, this.clear));
      this.cut = true;
    }
  }

  /** Whether a pass meets anything of the metal as it stood before the operation. */
  private meetsMetal(core: readonly RoundedPolygon[], chain: readonly Curve[]): boolean {
    return !this.metalBefore.clearsAlong(core, flattenChain(chain, LEAST / 2), false);
  }

  /** From wall to wall, each pass where the one before has ended as far as that can be. */
  levels(passes: readonly LevelPass[]): void {
    const feed = perRev(this.op.cutting.feed);
    const { frame, cutting } = this.room.view;
    const core = cutting.flatMap((shape) => insetShape(shape, LEAST) ?? []);
    let last: readonly Curve[] | null = null;
    const out = (): void => {
      if (last) this.list.rapid('retract', this.at(last[last.length - 1].to.x, this.clear));
    };
    for (const { chain, follows } of passes) {
      if (!this.meetsMetal(core, chain)) {
        out();
        last = null;
        continue;
      }
      const start = chain[0].from;
      const back = last && follows ? backTo(last, start) : [];
      if (back.length > 0) this.list.feed('link', backThrough(frame, back), feed);
      else {
        out();
        this.over(start.x);
        const height = this.startOver(Math.max(start.y, this.metal(start.x) + this.room.rho));
        this.list.rapid('approach', this.at(start.x, height));
        this.list.feed('lead-in', backThrough(frame, [line(point(start.x, height), start)]), feed);
      }
      this.list.feed('cut', backThrough(frame, chain), feed);
      this.cut = true;
      last = chain;
    }
    out();
  }

  /** The control's cycle, which plunges wherever something stands or not. */
  private cycle(cycle: GrooveCycle): void {
    const { tip } = this.seen.section;
    const u = cycle.places[0] - (this.op.kind === 'face-groove' ? tip.y : tip.x);
    this.over(u);
    writeGrooveCycle(this.list, cycle, tip);
    this.list.rapid('retract', this.at(u, this.clear));
    this.cut = true;
  }

  /** Over a place at the clear level. */
  private over(u: number): void {
    this.list.rapid('link', this.at(u, this.clear));
  }

  /** Both walls from their tops down to the middle of the floor, meeting there without a step. */
  walls(bottom: { readonly from: number; readonly to: number }): void {
    const { room } = this;
    const middle = (bottom.from + bottom.to) / 2;
    const overlap = Math.min(this.op.params.overlap, Math.max(0, (bottom.to - bottom.from) / 2));
    const left = chainOf(room.finish, room.walls.from, Math.min(bottom.to, middle + overlap));
    const right = reverseChain(chainOf(room.finish, Math.max(bottom.from, middle - overlap), room.walls.to));
    if (room.to - room.from < 0.01) {
      // the blade fills the groove: one plunge to the floor finishes it
      this.pass([line(point(room.from, this.clear), point(room.from, heightAt(room.finish, room.from) ?? this.clear))]);
      return;
    }
    this.pass(left);
    this.pass(right);
  }

  private pass(chain: readonly Curve[]): void {
    const first = chain[0];
    if (!first) return;
    const feed = perRev((this.op.cutting.feed * this.op.params.finishFeed) / 100);
    const { from } = first;
    const height = Math.max(from.y, this.startOver(Math.max(this.metal(from.x) + this.room.rho, from.y)));
    this.over(from.x);
    this.list.rapid('approach', this.at(from.x, height));
    const frame = this.room.view.frame;
    if (height - from.y > 1e-9)
      this.list.feed('lead-in', backThrough(frame, [line(point(from.x, height), from)]), feed);
    this.list.feed('cut', backThrough(frame, chain), feed);
    const end = chain[chain.length - 1].to;
    this.list.rapid('retract', this.at(end.x, this.clear));
    this.cut = true;
  }
}

const validate = ({ params }: GrooveOperation, need: Need): void => {
  need(params.allowance >= 0 && params.allowance <= 1.5, 'Left by plunges', params.allowance, '0 to 1.5 mm');
  need(params.step === null || params.step >= 0.05, 'Step', params.step ?? 0, 'at least 0.05 mm');
  need(params.depth === null || params.depth >= 0.05, 'Depth of a level', params.depth ?? 0, 'at least 0.05 mm');
  need(params.peck === 0 || params.peck >= 0.05, 'Peck', params.peck, '0, or at least 0.05 mm');
  need(params.dwell >= 0 && params.dwell <= 60, 'Dwell at depth', params.dwell, '0 to 60 s');
  need(params.finishFeed >= 5 && params.finishFeed <= 300, 'Feed of the walls', params.finishFeed, '5 to 300 %');
  need(params.overlap >= 0 && params.overlap <= 10, 'Overlap', params.overlap, '0 to 10 mm');
};

const common = {
  fields: grooveFields,
  purpose: 'groove',
  target: 'span',
  covers: 'finish',
  needsHole: false,
  deep: false,
  starting: () => ({}),
  validate,
  sketch: grooveSketch,
  plan,
} as const;

export const outerGroove = defineKind({
  ...common,
  kind: 'outer-groove',
  spanFor: (part, span) => grooveOf(part, 'outer', span),
  alikeSpans: (part, op) => (op.params.alike ? groovesLike(part, 'outer', op.span) : []),
  schema: OuterGrooveSchema,
  label: 'Outside groove',
  short: 'groove',
  tools: ['grooving', 'cutoff'],
  needs: 'an outside grooving tool',
  side: 'outer',
  rank: 62,
  offeredFor: ['outer'],
  frame: () => OUTER,
});

export const innerGroove = defineKind({
  ...common,
  kind: 'inner-groove',
  spanFor: (part, span) => grooveOf(part, 'inner', span),
  alikeSpans: (part, op) => (op.params.alike ? groovesLike(part, 'inner', op.span) : []),
  schema: InnerGrooveSchema,
  label: 'Inside groove',
  short: 'inside groove',
  tools: ['grooving-bar'],
  needs: 'an inside grooving bar',
  side: 'inner',
  rank: 64,
  offeredFor: ['inner'],
  frame: () => INNER,
});

export const faceGroove = defineKind({
  ...common,
  kind: 'face-groove',
  spanFor: (part, span) => grooveOf(part, 'face', span),
  alikeSpans: (part, op) => (op.params.alike ? groovesLike(part, 'face', op.span) : []),
  schema: FaceGrooveSchema,
  label: 'Face groove',
  short: 'face groove',
  tools: ['face-grooving'],
  needs: 'a face grooving tool',
  side: 'outer',
  rank: 63,
  offeredFor: ['outer'],
  frame: () => FACE,
});
