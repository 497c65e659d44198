import {
  type Arc,
  arcRadius,
  type Bounds,
  boundsOfShapes,
  type Curve,
  clipGraph,
  curveLength,
  flattenChain,
  grownBy,
  insetShape,
  lerp,
  line,
  notBelow,
  type Point,
  parameterOf,
  point,
  type RoundedPolygon,
  reverseChain,
  Surface,
  TOLERANCE,
  trimCurve,
  upperEnvelope,
  upperSideOn,
} from '../geometry';
import { deepestPositions } from '../tooling';
import type { Clearing, ClearingJob, Cut, Pass } from './clearingJob';
import { type Contact, firstInMetal, type Stretch, stretchesInMetal } from './engagement';
import { below, contactOf } from './inMetal';
import { Leads } from './leads';
import { Lips } from './lips';
import { cutsWith, type Metal } from './metal';
import { sliceChain, Track } from './track';
import { Under } from './under';
import { type Walked, walkedAlong } from './walked';

/** Chords in which arcs are followed here, mm: half a touch. The stock itself is cut by the checks, finer. */
const FOLLOWED_CHORD = 1e-3;
/** A stretch that has no way in is tried so far on, mm, and at this share of the stretch at the least. */
const LATER = 1;
const TRIES = 24;

/** Room that a pass which is lifted for the holder keeps all round it, mm. */
const HOLDER_ROOM = 0.1;

/** All passes are gone along again so often at the most. */
const MOST_ROUNDS = 8;

/** A leading side that falls back more than this within so many mm leaves a lip that counts, mm. */
const LEAN = 0.3;
const LEAN_WITHIN = 3;

/** Passes at levels from the top down over a floor: at each the path is the upper envelope of level and floor. */
export const levelPasses = (floor: readonly Curve[], levels: readonly number[]): Pass[] => {
  if (floor.length === 0) return [];
  const left = floor[0].from.x;
  const right = floor[floor.length - 1].to.x;
  return levels.map((level) => ({
    level,
    graph: clipGraph(upperEnvelope([...floor, line(point(left, level), point(right, level))]), left, right),
  }));
};

/**
 * Removes metal pass by pass: only stretches that still meet metal are cut, each begun and ended outside the metal as it
 * then is.
 */
export const clearByPasses = (job: ClearingJob): Clearing => new Clearer(job).run();

interface Tracked {
  readonly track: Track;
  readonly walked: Walked;
}

class Clearer {
  private readonly cuts: Cut[] = [];
  private readonly skipped: Point[] = [];
  private readonly metal: Metal;
  /** Across a bore the rest of the edge comes behind the nose, over what that has just cut. */
  private readonly follows: boolean;
  /** What of the cutting shapes cuts. */
  private readonly cutters: readonly RoundedPolygon[];
  /** The same less a touch: what they meet is a cut. */
  private readonly core: readonly RoundedPolygon[];
  private readonly holderCore: readonly RoundedPolygon[];
  private readonly leads: Leads;
  /** The holder with room all round. */
  private readonly holderRoom: { readonly roomy: readonly RoundedPolygon[]; readonly extent: Bounds };
  /** The cutting shapes grown a little: what they meet across a bore is not cut but struck. */
  private readonly far: readonly RoundedPolygon[];
  private readonly contact: Contact;
  /** Lips of others, and those that this clearing leaves itself where its leading edge leans. */
  private readonly lips: Lips | null;
  /** Whether a cut of it leaves metal above the leading edge where it ends. */
  private readonly leans: boolean;
  /** Whether a pass was lifted for the holder, or ended where that would have met metal. */
  private heldOff = false;
  /** Where the last cut has ended. */
  private at: Point | null = null;
  /** What the last pass went along, cut or in the clear, in order of travel. */
  private walked: readonly Curve[] = [];

  constructor(private readonly job: ClearingJob) {
    this.metal = job.metal;
    this.cutters = cutsWith(job.metal.frame, job.cutting);
    this.follows = job.metal.frame.name === 'inner-across';
    const core = job.cutting.flatMap((s) => insetShape(s, TOLERANCE.touch) ?? []);
    this.core = cutsWith(job.metal.frame, core);
    this.holderCore = job.holder.flatMap((s) => insetShape(s, TOLERANCE.touch) ?? []);
    const roomy = grownBy(job.holder, HOLDER_ROOM);
    this.holderRoom = { roomy, extent: boundsOfShapes(roomy) };
    // behind the nose an edge may lie flush with what it has just cut
    const near = this.follows ? -TOLERANCE.touch : TOLERANCE.collision;
    this.far = job.cutting.map((s) => ({ points: s.points, radius: Math.max(0, s.radius + near) }));
    // a way out that goes straight up may meet what only the nose has left hanging
    const asked = job.leadOut !== undefined && job.leadOut.style !== 'as-fits';
    this.leans = asked || job.cutting.some((s) => leanOf(s) > LEAN);
    this.lips = this.leans ? Lips.over(job.metal, job.lips) : job.lips;
    this.leads = new Leads(job, this.lips, [...core, ...this.holderCore], this.holderCore);
    this.contact = contactOf(this.core, this.metal);
  }

  run(): Clearing {
    for (const pass of this.job.passes) {
      this.clearAlong(pass.graph, false);
      if (pass.level !== null) this.leads.level = pass.level;
    }
    if (this.job.again) this.goAgain();
    // nothing could be begun where it should: from further on something may
    if (this.cuts.length === 0 && this.skipped.length > 0) {
      this.skipped.length = 0;
      for (const pass of this.job.passes) this.clearAlong(pass.graph, true);
    }
    // what a later pass took after all is no longer skipped
    return { cuts: this.cuts, skipped: this.skipped.filter((p) => this.contact.bite(p) > 0) };
  }

  /** The last pass once more, for a roll at its end that it has left out; all of them while the holder kept one off and more comes off. */
  private goAgain(): void {
    const { passes } = this.job;
    for (const { graph } of passes.slice(-1)) this.clearAlong(graph, false);
    for (let round = 0; this.heldOff && round < MOST_ROUNDS; round++) {
      const before = this.cuts.length;
      this.heldOff = false;
      for (const { graph } of passes) this.clearAlong(graph, false);
      if (this.cuts.length === before) return;
    }
  }

  /** Cuts a pass where it meets metal; `fromAnywhere` begins a stretch that has no way in further on. */
  private clearAlong(graph: readonly Curve[], fromAnywhere: boolean): void {
    const whole = this.tracked(graph);
    const first = this.stretch(whole);
    const lifted = first ? this.avoidWithHolder(graph, whole, first) : graph;
    const { track, walked } = lifted === graph ? whole : this.tracked(lifted);
    const { chain, total } = track;
    const cleared: Curve[] = [];
    // one stretch at a time: a cut and its leads change what the next one meets
    let done = 0;
    let trying = false;
    while (done < total - 1e-6) {
      const stretch = done === 0 && lifted === graph ? first : this.stretch({ track, walked }, done);
      if (!stretch) break;
      const { pieces, skippedLength } = this.withoutRolls(stretch.pieces);
      cleared.push(...track.slice(done, stretch.from));
      const followed = this.engage(chain, stretch.from + skippedLength, pieces);
      if (followed) cleared.push(...followed);
      else {
        if (!trying) this.skipped.push(stretch.pieces[0].from);
        const later = Math.max(LATER, (stretch.to - stretch.from) / TRIES);
        trying = fromAnywhere && stretch.to - stretch.from > later;
        if (trying) {
          done = stretch.from + later;
          continue;
        }
      }
      trying = false;
      done = stretch.to + 1e-6;
    }
    this.walked = [...cleared, ...track.slice(done, total)];
  }

  /**
   * A stretch that begins or ends in a roll of the nose round a corner begins or ends at the corner's own piece instead:
   * the straight lead takes the same metal, and compensation by the control needs a contour there.
   */
  private withoutRolls(pieces: readonly Curve[]): { pieces: readonly Curve[]; skippedLength: number } {
    const { noseRadius, safe } = this.job;
    const isRoll = (c: Curve): boolean =>
      c.kind === 'arc' && !c.clockwise && noseRadius > 0 && Math.abs(arcRadius(c) - noseRadius) < 1e-6;
    let first = 0;
    let last = pieces.length;
    while (first < last - 1 && isRoll(pieces[first])) first++;
    while (last > first + 1 && isRoll(pieces[last - 1])) last--;
    if (first === 0 && last === pieces.length) return { pieces, skippedLength: 0 };
    // what remains may meet metal only further on: begin and end there
    const rest = pieces.slice(first, last);
    const contact = [...stretchesInMetal(new Track(rest), this.contact, safe)];
    if (contact.length === 0) return { pieces, skippedLength: 0 };
    const from = contact[0].from;
    return {
      pieces: sliceChain(rest, from, contact[contact.length - 1].to),
      skippedLength: from + pieces.slice(0, first).reduce((s, c) => s + curveLength(c), 0),
    };
  }

  /** The first stretch of a way, from a length on, in which it meets metal. */
  private stretch({ track, walked }: Tracked, from = 0): Stretch | null {
    return firstInMetal(track, this.contact, this.job.safe, from, walked);
  }

  /** The way of a pass by length, and what of it was gone along before. */
  private tracked(graph: readonly Curve[]): Tracked {
    const chain = below(reverseChain(graph), this.job.ceiling);
    return { track: new Track(chain), walked: walkedAlong(chain, this.walked) };
  }

  /** Lifts a pass where the holder would meet metal that the insert has not yet taken. */
  private avoidWithHolder(graph: readonly Curve[], { track, walked }: Tracked, first: Stretch): readonly Curve[] {
    const { job } = this;
    if (job.holder.length === 0 || this.metal.surface.isEmpty) return graph;
    // the tool does not come to where it begins before it takes anything off, and where it was before the holder has been too
    const ways = walked.gaps(first.from, track.total).map(({ from, to }) => track.points(from, to));
    const overLips = ways.every((way) => this.leads.clearsLips(way, job.holder));
    if (overLips && ways.every((way) => this.metal.clearsAlong(job.holder, way, false))) return graph;
    const after = this.metal.clone();
    const lips = overLips ? null : (this.lips?.next() ?? null);
    const hit = ways.some((path) =>
      path.slice(1).some((p, i) => {
        const way = [path[i], p];
        after.cutAlong(job.cutting, way);
        lips?.cutAlong(this.cutters, way);
        return !after.clearsAlong(job.holder, way, false) || !this.leads.clearsLips(way, job.holder, lips);
      }),
    );
    if (!hit) return graph;
    this.heldOff = true;
    const left = graph[0].from.x;
    const right = graph[graph.length - 1].to.x;
    const { roomy, extent } = this.holderRoom;
    // what lies lower than the holder comes anywhere on the pass does not lift it
    const least = graph.reduce((low, c) => Math.min(low, notBelow(c)), Number.POSITIVE_INFINITY) + extent.minY;
    const top = (of: Metal | Lips): Curve[] => {
      const points = of.upperPoints(0.02, left - 200, right + 200);
      return points.slice(1).flatMap((p, i) => (Math.max(points[i].y, p.y) > least ? line(points[i], p) : []));
    };
    const ground = [...top(this.metal), ...(this.lips ? top(this.lips) : [])];
    return clipGraph(upperEnvelope([...graph, ...deepestPositions(ground, roomy, left, right)]), left, right);
  }

  /**
   * Cuts a stretch: finds a way in, follows the pieces as far as the holder lets it, finds a way out. Tells what it followed, or null when
   * there is no way in.
   */
  private engage(chain: readonly Curve[], from: number, wanted: readonly Curve[]): readonly Curve[] | null {
    const leadIn = this.leads.into(chain, from, wanted);
    if (!leadIn) return null;
    const before = this.metal.surface.removed;
    const saved = this.metal.clone();
    const lips = this.lips?.next() ?? null;
    if (lips) this.lips?.become(lips);
    const into = flattenChain(leadIn, TOLERANCE.chord);
    this.metal.cutAlong(this.cutters, into);
    this.lips?.cutAlong(this.cutters, into);
    const free = into.every((p, i) => i === 0 || this.wallFree(into[i - 1], p));
    const pieces = free ? this.followed(wanted) : [];
    if (pieces.length === 0) {
      this.metal.surface.restore(saved.surface);
      if (lips) this.lips?.become(lips);
      return null;
    }
    const link = this.leads.link(this.at, leadIn[0].from, saved, lips);
    const own = this.leans ? this.ownLip(saved.surface, [...leadIn, ...pieces]) : 0;
    const leadOut = this.leads.outOf(leadIn, pieces, chain, own);
    const low = Math.min(...pieces.flatMap((c) => [c.from.y, c.to.y]));
    const size = pieces.reduce((s, c) => s + curveLength(c), 0);
    // a level tells how thick the layer is; elsewhere the mean: what came off over the length of the path
    const thickness = size < 1e-9 ? 0 : (this.metal.surface.removed - before) / size;
    const { level } = this.leads;
    const depth = Number.isFinite(level) ? Math.max(0, level - low) : thickness;
    this.cuts.push({ start: leadIn[0].from, link, leadIn, pieces, leadOut, depth });
    this.at = leadOut[leadOut.length - 1].to;
    return pieces;
  }

  /** Cuts along the pieces; ends before the place where the holder, or the insert's back, would meet metal. */
  private followed(wanted: readonly Curve[]): readonly Curve[] {
    const done: Curve[] = [];
    const under = this.lips && new Under(this.metal, this.lips, this.cutters, this.holderCore);
    for (const piece of wanted) {
      const points = flattenChain([piece], FOLLOWED_CHORD);
      const whole = piece.kind === 'arc' && this.round(piece, points);
      for (let i = 1; i < points.length; i++) {
        const [a, b] = [points[i - 1], points[i]];
        const free = whole ? 1 : this.step(a, b);
        const share = under && !under.goes(a, lerp(a, b, free)) ? 0 : free;
        if (share >= 1) continue;
        this.heldOff = true;
        const from = parameterOf(piece, a);
        const kept = from + (parameterOf(piece, b) - from) * share;
        if (kept > 1e-6) done.push(trimCurve(piece, 0, kept));
        return done;
      }
      done.push(piece);
    }
    return done;
  }

  /** Cuts an arc at once where holder and far wall are free of it even before; tells whether it did. */
  private round(piece: Arc, points: readonly Point[]): boolean {
    if (this.follows || !this.metal.clearsAlong(this.holderCore, points, false)) return false;
    return points.every((p, i) => i === 0 || this.wallFree(points[i - 1], p)) && this.metal.cutArc(this.cutters, piece);
  }

  /** Cuts a straight step as far as holder and far wall let it; tells the share of it that was cut. */
  private step(a: Point, b: Point): number {
    const cut = (to: Point): void => {
      for (const s of this.cutters) this.metal.cut(s, a, to, true);
    };
    const holderFree = (to: Point): boolean => this.holderCore.every((h) => this.metal.clears(h, a, to, false));
    const { follows } = this;
    if (!follows && this.wallFree(a, b) && holderFree(b)) {
      cut(b);
      return 1;
    }
    // the holder may meet only what the step itself takes off
    const before = this.metal.surface.fresh();
    const free = (share: number): boolean => {
      const to = lerp(a, b, share);
      if (!follows && !this.wallFree(a, to)) return false;
      cut(to);
      if (holderFree(to) && (!follows || this.wallFree(a, to))) return true;
      this.metal.surface.putBack(before);
      return false;
    };
    if (free(1)) return 1;
    let low = 0;
    let high = 1;
    for (let k = 0; k < 10; k++) {
      const m = (low + high) / 2;
      if (free(m)) low = m;
      else high = m;
    }
    return low;
  }

  private wallFree(a: Point, b: Point): boolean {
    return this.far.every((s) => this.metal.clearsFarWall(s, a, b));
  }

  /** Keeps in mind what a cut has left above itself; tells how far that hangs over the place where it ends. */
  private ownLip(before: Surface, way: readonly Curve[]): number {
    const path = flattenChain(way, FOLLOWED_CHORD);
    const sides = path.slice(1).flatMap((p, i) => this.cutters.map((s) => upperSideOn(s, path[i], p, FOLLOWED_CHORD)));
    const over = sides.flatMap((s) => before.overhang(s) ?? []);
    if (over.length === 0) return 0;
    const from = Math.min(...over.map((s) => s.from));
    const to = Math.max(...over.map((s) => s.to));
    const hidden = this.metal.surface.hiddenSince(before, Surface.outermost(sides, from, to), from, to);
    this.lips?.add(before, hidden);
    const end = path[path.length - 1].x;
    const behind = hidden.filter((h) => h.from < end + this.job.noseRadius && h.to > end);
    return behind.reduce((most, h) => Math.max(most, h.to - end), 0);
  }
}

/** How far the leading side of a shape falls back within a few mm above its lowest point. */
const leanOf = ({ points, radius }: RoundedPolygon): number => {
  const low = points.reduce((y, p) => Math.min(y, p.y), Number.POSITIVE_INFINITY) - radius;
  const level = low + LEAN_WITHIN;
  let left = Number.POSITIVE_INFINITY;
  let above = Number.POSITIVE_INFINITY;
  for (const [i, p] of points.entries()) {
    left = Math.min(left, p.x);
    const q = points[(i + 1) % points.length];
    if (p.y >= level) above = Math.min(above, p.x);
    if (p.y >= level !== q.y >= level) above = Math.min(above, p.x + ((q.x - p.x) * (level - p.y)) / (q.y - p.y));
  }
  return Number.isFinite(above) ? above - left : 0;
};

/** Depths of the reference point for a total from `top` surface to `bottom` surface. */
export const levelsBetween = (top: number, depths: readonly number[], noseRadius: number): number[] => {
  let v = top;
  return depths.map((d) => {
    v -= d;
    return v + noseRadius;
  });
};
