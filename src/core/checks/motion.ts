import { type Finding, type FindingCode, type FindingNumbers, note } from '../findings';
import {
  add,
  type Bounds,
  boundsOfPoints,
  counterClockwise,
  distance,
  flattenCurve,
  foldAboutAxis,
  greatestHalfThickness,
  inflateRegion,
  insetShape,
  intersectRegions,
  mapRegion,
  overlapsMoreThan,
  type Point,
  point,
  type Region,
  type RoundedPolygon,
  rectangle,
  regionBounds,
  regionBoundsOnce,
  type Stretch,
  Surface,
  scale,
  simplifyRegion,
  subtract,
  subtractRegion,
  sweepAlong,
  TOLERANCE,
  unionRegions,
} from '../geometry';
import { type AxisName, jointAt, type Machine, type Reach } from '../machine';
import { type MotionEvent, type Move, MoveResolver, rapidPath, sectionPoint } from '../motion';
import { FRAMES, type Frame } from '../operations';
import { shapeInto, surfaceOf } from '../operations/frame';
import { Metal } from '../operations/metal';
import { type Body, withoutLoose } from '../stock';
import type { ToolSection } from '../tooling';
import { coverBetween, gapsBetween, over, underMetal, upperOf, type Way, wayOf } from './ways';

type FixtureCode =
  | 'tool-meets-jaws'
  | 'turret-meets-jaws'
  | 'tool-meets-chuck'
  | 'turret-meets-chuck'
  | 'tool-meets-support'
  | 'turret-meets-support'
  | 'turret-meets-stock';

/** How far shapes on a way reach into what they must not meet: along the axis and across it, mm. */
const reachInto = (
  shapes: readonly RoundedPolygon[],
  path: readonly Point[],
  target: Region,
): { along: number; across: number } => {
  const common = shapes.flatMap((s) => intersectRegions(foldAboutAxis(sweepAlong(s, path)), target));
  const b = regionBounds(common);
  return { along: b.maxX - b.minX, across: b.maxY - b.minY };
};

export interface MotionCheckInput {
  readonly op: string;
  readonly events: readonly MotionEvent[];
  readonly section: ToolSection;
  /** The half beyond the centre line is looked at: the slides stand on the other side. */
  readonly beyond?: boolean;
  /** The side from which the tool works: outside, bore or front. */
  readonly frame: Frame['name'];
  readonly stock: Body;
  readonly part: Region;
  readonly jaws: Region;
  readonly chuck: Region;
  /** What supports the work in front of the jaws. */
  readonly support: Region;
  readonly machine: Machine;
  /** How the tool moves against the work. */
  readonly reach: Reach;
  /** The holding's zero in front of the chuck's face, mm. */
  readonly zeroFromFace: number;
}

export interface MotionCheck {
  readonly findings: readonly Finding[];
  readonly stock: Body;
}

/** Whether a shape on a way with these bounds can touch anything within other bounds; the work turns, so r counts both ways. */
const canTouch = (s: RoundedPolygon, p: Bounds, t: Bounds): boolean => {
  const b = boundsOfPoints(s.points);
  const low = p.minY + b.minY - s.radius;
  const high = p.maxY + b.maxY + s.radius;
  if (p.minX + b.minX - s.radius >= t.maxX || p.maxX + b.maxX + s.radius <= t.minX) return false;
  return (low < t.maxY && high > t.minY) || (-high < t.maxY && -low > t.minY);
};

const meets = (
  shapes: readonly RoundedPolygon[],
  path: readonly Point[],
  around: Bounds,
  target: Region,
  thickness: number,
): boolean => {
  if (target.length === 0) return false;
  const t = regionBoundsOnce(target);
  return shapes.some(
    (s) => canTouch(s, around, t) && overlapsMoreThan(foldAboutAxis(sweepAlong(s, path)), target, thickness),
  );
};

/** What a thread's insert may brush beside the thread, mm: its way is found in steps. */
const THREAD_TOUCH = 0.02;
/** Metal beside a thread that its insert bears to meet: what a roughing has left there, mm. */
const THREAD_BESIDE = 0.5;

const skins = (shapes: readonly RoundedPolygon[], frame: Frame, by: number): RoundedPolygon[] =>
  shapes.flatMap((s) => insetShape(shapeInto(frame, s), by) ?? []);

/**
 * Follows an operation through its moves and reports gouges, rapids in stock, holder or turret against stock, jaws and
 * chuck, travel limits and axes that cannot be followed: one finding of a kind for each operation, at its first place.
 *
 * The top of the metal as the tool's side sees it is lowered move by move, and every move is held against it as it then is.
 * What that finds clear is clear; what it does not is decided by exact polygons of that moment.
 */
export const checkMotion = (input: MotionCheckInput): MotionCheck => new Check(input).run();

class Check {
  private readonly findings: Finding[] = [];
  private readonly told = new Set<string>();
  private readonly frame: Frame;
  private readonly metal: Metal;
  private readonly part: Metal;
  private readonly cutting: RoundedPolygon[];
  private readonly touch: RoundedPolygon[];
  private readonly gouging: RoundedPolygon[];
  private readonly holder: RoundedPolygon[];
  /** Stretches (along the frame's x) where something was cut under metal that still stands. */
  private readonly shadows: Stretch[] = [];
  /** Outlines of all ways of the cutting shapes, in the frame. */
  private readonly ways: Way[] = [];
  /** The metal before a run of feed, and the ways of the run that took something off its top. */
  private start: { before: Surface; took: Way[] } | null = null;
  /** The stock before the first pass of a thread. */
  private unthreaded: Region | null = null;
  private run_: { path: Point[]; event: number; last: number } | null = null;

  /** The work before the operation. */
  private readonly outline: Region;

  constructor(private readonly input: MotionCheckInput) {
    this.outline = input.stock.turnedOutline;
    this.frame = FRAMES[input.frame];
    this.metal = new Metal(this.frame, surfaceOf(this.outline, this.frame).clone(), null);
    this.part = new Metal(this.frame, surfaceOf(input.part, this.frame), null);
    this.cutting = input.section.cutting.map((s) => shapeInto(this.frame, s));
    this.touch = skins(input.section.cutting, this.frame, TOLERANCE.touch * 1.5);
    this.gouging = skins(input.section.cutting, this.frame, TOLERANCE.gouge);
    this.holder = skins(input.section.holder, this.frame, TOLERANCE.collision / 2);
  }

  run(): MotionCheck {
    const resolver = new MoveResolver();
    this.input.events.forEach((e, i) => {
      // the old tool leaves at the change position, the new one stands at its own tip there
      if (e.kind === 'tool') this.endRun();
      const move = resolver.next(e, i);
      if (!move) return;
      this.axes(move);
      this.limits(move);
      const to = this.centre(sectionPoint(move.to));
      const from = this.centre(sectionPoint(move.from));
      if (e.kind === 'rapid') {
        this.endRun();
        if (move.placed) this.rapid(move, from, to);
      } else this.feed(move, from);
    });
    this.endRun();
    return { findings: this.findings, stock: this.input.stock.turnedDownTo(this.unthreaded ?? this.stockNow()) };
  }

  private centre(tip: Point): Point {
    return subtract(tip, this.input.section.tip);
  }

  private tell<C extends FindingCode>(code: C, event: number, at: Point, numbers: FindingNumbers[C]): void {
    if (this.told.has(code)) return;
    this.told.add(code);
    this.findings.push(note('blocking', code, this.input.op, numbers, at, { event }));
  }

  /** Exact stock at this moment. */
  private stockNow(): Region {
    const { frame } = this;
    this.settleRun();
    const b = regionBounds(this.outline);
    const cap = frame.name === 'inner' ? 0 : (frame.name === 'face' ? b.maxX : b.maxY) + 1;
    const taken = this.metal.surface.takenAway(cap);
    if (taken.length === 0) return this.outline;
    const back = (r: Region): Region => (frame.name === 'outer' ? r : mapRegion(r, frame.out, frame.mirrors));
    const rest = subtractRegion(this.outline, back(taken));
    const whole = this.shadows.length === 0 ? rest : unionRegions(rest, this.underOverhangs(back, cap));
    return withoutLoose(this.input.stock.turnedDownTo(simplifyRegion(whole)), this.input.part).turnedOutline;
  }

  /**
   * Where an edge leans under metal, the line of the top takes off too much: what stands above the highest place that was
   * swept is still there. Where something was left between two ways of the tool, the stock is made anew from all ways.
   */
  private underOverhangs(back: (r: Region) => Region, cap: number): Region {
    return mergeStretches(this.shadows).flatMap(({ from, to }) => {
      const ways = over(this.ways, { from, to });
      let next = from;
      const rest = gapsBetween(ways, from, to).flatMap((gap) => {
        const joined = this.underHighest(ways, next, gap.from, back, cap);
        next = gap.to;
        return [...joined, ...this.byPolygons(ways, gap.from, gap.to, back, cap)];
      });
      return [...rest, ...this.underHighest(ways, next, to, back, cap)];
    });
  }

  /** What stands above the highest place that was swept. */
  private underHighest(
    ways: readonly Way[],
    from: number,
    to: number,
    back: (r: Region) => Region,
    cap: number,
  ): Region {
    if (to - from < 1e-9) return [];
    const own = over(ways, { from, to }).filter((way) => !way.beyond);
    const swept = Surface.outermost(own.map(upperOf), from, to);
    // the line of what was swept is never cut off at the cap corner by corner: that would turn its slopes
    const { x, y } = swept.corners;
    const above = x.map((v, i) => point(v, -y[i]));
    const lid = above.reduce((most, p) => Math.max(most, p.y), cap);
    return intersectRegions(this.outline, back([[...above, point(to, lid), point(from, lid)]]));
  }

  private byPolygons(ways: readonly Way[], from: number, to: number, back: (r: Region) => Region, cap: number): Region {
    const inside = intersectRegions(this.outline, back(rectangle(from, -10_000, to, cap + 1)));
    return subtractRegion(inside, back(coverBetween(over(ways, { from, to }), from, to)));
  }

  private seen(p: Point): Point {
    return this.frame.into(p);
  }

  private rapid(move: Move, from: Point, to: Point): void {
    const { section, reach, machine } = this.input;
    const path = [from, ...rapidPath(from, to, reach.axes, machine.rapidPath)];
    const tip = sectionPoint(move.to);
    const asSeen = path.map((p) => this.seen(p));
    const i = move.index;
    if (!this.metal.clearsAlong(this.touch, asSeen, false)) {
      if (meets(section.cutting, path, boundsOfPoints(path), this.stockNow(), TOLERANCE.touch * 3))
        this.tell('rapid-in-stock', i, to, { tip: tip.y * 2, z: tip.x });
    }
    this.holderAgainstStock(path, asSeen, i);
    this.fixtures(path, i, to);
  }

  private holderAgainstStock(path: readonly Point[], asSeen: readonly Point[], event: number): void {
    if (this.told.has('holder-meets-stock') || this.metal.clearsAlong(this.holder, asSeen, false)) return;
    const stock = this.stockNow();
    if (stock.length === 0) return;
    const around = boundsOfPoints(path);
    for (const s of this.input.section.holder) {
      if (!canTouch(s, around, regionBoundsOnce(stock))) continue;
      const common = intersectRegions(foldAboutAxis(sweepAlong(s, path)), stock);
      if (common.length === 0 || inflateRegion(common, -TOLERANCE.collision / 2).length === 0) continue;
      this.tell('holder-meets-stock', event, path[path.length - 1], {
        thickness: 2 * greatestHalfThickness(common, 1e-3),
      });
      return;
    }
  }

  private fixtures(path: readonly Point[], event: number, at: Point): void {
    const { section, jaws, chuck, support } = this.input;
    const stock = this.outline;
    const tool = [...section.cutting, ...section.holder];
    const around = boundsOfPoints(path);
    const tell = (code: FixtureCode, shapes: readonly RoundedPolygon[], target: Region): void => {
      if (!this.told.has(code) && meets(shapes, path, around, target, TOLERANCE.collision))
        this.tell(code, event, at, reachInto(shapes, path, target));
    };
    tell('tool-meets-jaws', tool, jaws);
    tell('turret-meets-jaws', section.turret, jaws);
    tell('tool-meets-chuck', tool, chuck);
    tell('turret-meets-chuck', section.turret, chuck);
    tell('tool-meets-support', tool, support);
    tell('turret-meets-support', section.turret, support);
    if (stock.length > 0 && section.turret.some((s) => canTouch(s, around, regionBoundsOnce(stock))))
      tell('turret-meets-stock', section.turret, this.stockNow());
  }

  private feed(move: Move, from: Point): void {
    const points = [from, ...flattenCurve(move.curve).map((p) => this.centre(p))];
    const asSeen = points.map((p) => this.seen(p));
    if (move.event.kind === 'thread') {
      // the groove of a thread is a form on the surface: what comes after moves in it, and the section keeps its crest
      this.unthreaded ??= this.stockNow();
      this.beyondThread(move.event, points, move.index);
    } else if (!this.told.has('gouge') && !this.part.clearsAlong(this.gouging, asSeen, false))
      this.gouge(points, move.index);
    for (let i = 1; i < asSeen.length; i++) for (const s of this.cutting) this.cut(s, asSeen[i - 1], asSeen[i]);
    if (this.holder.length > 0) this.holderAgainstStock(points, asSeen, move.index);
    this.run_ ??= { path: [from], event: move.index, last: move.index };
    for (let i = 1; i < points.length; i++) this.run_.path.push(points[i]);
    this.run_.last = move.index;
  }

  private cut(shape: RoundedPolygon, from: Point, to: Point): void {
    const { frame } = this;
    this.start ??= { before: this.metal.surface.fresh(), took: [] };
    const take = (s: RoundedPolygon, a: Point, b: Point, beyond = false): void => {
      const way = wayOf(s, a, b, beyond);
      this.ways.push(way);
      // a way that takes nothing off the top says nothing about what is hidden; nor does one that comes over the axis
      if (this.metal.surface.cut(way.lower) && !beyond) this.start?.took.push(way);
    };
    take(shape, from, to);
    // the work turns: what reaches past the axis cuts on the other side too
    if (frame.name === 'inner') take(mirrorOver(shape, 'y'), point(from.x, -from.y), point(to.x, -to.y), true);
    if (frame.name === 'face') take(mirrorOver(shape, 'x'), point(-from.x, from.y), point(-to.x, to.y));
  }

  /** What a run of feed has left under overhangs. */
  private settleRun(): void {
    const { start } = this;
    this.start = null;
    if (!start) return;
    for (const { from, to } of underMetal(start.took, start.before)) {
      const swept = Surface.outermost(over(start.took, { from, to }).map(upperOf), from, to);
      this.shadows.push(...this.metal.surface.hiddenSince(start.before, swept, from, to));
    }
  }

  /** Metal that a pass of a thread takes beyond the thread's own crest: a wall of the part beside it, or stock. */
  private beyondThread(e: Extract<MotionEvent, { kind: 'thread' }>, points: readonly Point[], event: number): void {
    if (this.told.has('gouge') || this.told.has('thread-in-stock') || !e.crest) return;
    const [a, b] = e.crest.map((p) => point(p.Z ?? 0, p.X ?? 0));
    const size = distance(a, b);
    if (size < 1e-9) return;
    // all that lies behind the crest, as the tool sees it, is the thread's
    const way = scale(subtract(b, a), 1 / size);
    const [first, last] = [subtract(a, scale(way, 100)), add(b, scale(way, 100))];
    const behind = scale(this.frame.out(point(0, -1)), 1e4);
    const own: Region = [counterClockwise([first, last, add(last, behind), add(first, behind)])];
    const swept = foldAboutAxis(sweepAll(this.input.section.cutting, points));
    const beside = (code: 'gouge' | 'thread-in-stock', metal: Region, most: number): void => {
      const lost = subtractRegion(intersectRegions(swept, metal), own);
      if (lost.length === 0) return;
      const thickness = greatestHalfThickness(lost) * 2;
      if (thickness <= most) return;
      const c = regionBounds(lost);
      this.tell(code, event, point((c.minX + c.maxX) / 2, (c.minY + c.maxY) / 2), { depth: thickness });
    };
    beside('gouge', this.input.part, THREAD_TOUCH);
    beside('thread-in-stock', this.unthreaded ?? [], THREAD_BESIDE);
  }

  /** Metal of the part that a move takes, by exact polygons. */
  private gouge(points: readonly Point[], event: number): void {
    const stock = this.stockNow();
    const swept = foldAboutAxis(sweepAll(this.input.section.cutting, points));
    const lost = intersectRegions(intersectRegions(stock, swept), this.input.part);
    if (lost.length === 0) return;
    const thickness = greatestHalfThickness(lost) * 2;
    if (thickness <= TOLERANCE.gouge) return;
    const b = regionBounds(lost);
    this.tell('gouge', event, point((b.minX + b.maxX) / 2, (b.minY + b.maxY) / 2), { depth: thickness });
  }

  private endRun(): void {
    this.settleRun();
    const run = this.run_;
    if (!run) return;
    this.run_ = null;
    this.fixtures(run.path, run.event, run.path[run.path.length - 1]);
  }

  /** Axes that a carrier lacks, and metal taken off in axes that the section does not show. */
  private axes(move: Move): void {
    const { reach } = this.input;
    const moved = (Object.keys(move.event.to) as AxisName[]).filter((k) => move.event.to[k] !== undefined);
    for (const k of moved)
      if (!reach.axes[k])
        this.tell('axis-missing', move.index, sectionPoint(move.to), { axis: k, carrier: reach.carrier.name });
    if (move.others.length > 0 && move.event.kind !== 'rapid')
      this.tell('axis-not-cut', move.index, sectionPoint(move.to), { axes: move.others.join(' and ') });
  }

  private limits(move: Move): void {
    const { reach, section, zeroFromFace } = this.input;
    const places: readonly (readonly [AxisName, number])[] = [
      ['X', (this.input.beyond ? -1 : 1) * (move.to.X + section.gauge.y)],
      ['Z', zeroFromFace + move.to.Z + section.gauge.x],
      ...move.others.map((k) => [k, move.to[k]] as const),
    ];
    for (const [name, coordinate] of places) {
      const axis = reach.axes[name];
      if (!axis) continue;
      const position = jointAt(axis, coordinate);
      if (position >= axis.min - 1e-6 && position <= axis.max + 1e-6) continue;
      const { min, max } = axis;
      const over = position > max ? position - max : min - position;
      const code = name === 'X' ? 'travel-x' : name === 'Z' ? 'travel-z' : 'travel-axis';
      this.tell(code, move.index, sectionPoint(move.to), { axis: name, position, min, max, over });
    }
  }
}

const mirrorOver = (s: RoundedPolygon, axis: 'x' | 'y'): RoundedPolygon => ({
  points: s.points.map((p) => (axis === 'x' ? point(-p.x, p.y) : point(p.x, -p.y))).reverse(),
  radius: s.radius,
});

/** Stretches that touch or overlap become one, each a hair wider. */
const mergeStretches = (list: readonly Stretch[]): { from: number; to: number }[] => {
  const result: { from: number; to: number }[] = [];
  for (const s of [...list].sort((a, b) => a.from - b.from)) {
    const last = result[result.length - 1];
    if (last && s.from - 2e-3 <= last.to) last.to = Math.max(last.to, s.to + 1e-3);
    else result.push({ from: s.from - 1e-3, to: s.to + 1e-3 });
  }
  return result;
};

const sweepAll = (shapes: readonly RoundedPolygon[], path: readonly Point[]): Region =>
  shapes.flatMap((s) => sweepAlong(s, path));

/** Metal left on the part after all, and metal missing from it. `off` says that the piece has come off: all of it counts. */
export const compareWithPart = (stock: Region, part: Region, off = false): { leftover: Region; gouge: Region } => {
  if (part.length === 0) return { leftover: [], gouge: [] };
  const b = regionBounds(part);
  const around = off ? stock : intersectRegions(stock, rectangle(b.minX, -1, b.maxX + 1000, 10_000));
  return {
    leftover: subtractRegion(around, inflateRegion(part, TOLERANCE.gouge * 2)),
    gouge: subtractRegion(inflateRegion(part, -TOLERANCE.gouge), stock),
  };
};
