import {
  add,
  type Curve,
  cross,
  curveLength,
  flattenChain,
  grownBy,
  heightAt,
  lerp,
  line,
  lowerSide,
  type Point,
  point,
  type RoundedPolygon,
  reverseChain,
  scale,
  tangentAt,
} from '../geometry';
import type { ClearingJob, Cut, Lead } from './clearingJob';
import type { Lips } from './lips';
import type { Metal } from './metal';
import { sliceChain } from './track';

/** Room all round the tool on the straight way from one cut to the next, mm. */
const LINK_ROOM = 0.1;

/** How far a lead may lie below the pass by rounding and chords, mm: well below a gouge. */
const BELOW = 3e-4;

const lift = (p: Point, to: number): Point => point(p.x, to);

/** The ways into a cut and out of it, clear of metal, lips and fixtures as they stand when they are asked for. */
export class Leads {
  /** Level of the pass that is cut; infinite for one without. */
  level = Infinity;
  private readonly metal: Metal;
  private readonly roomy = new Map<number, readonly RoundedPolygon[]>();

  /** `bodies` are the whole tool less a touch, `holder` its holder. */
  constructor(
    private readonly job: ClearingJob,
    private readonly lips: Lips | null,
    private readonly bodies: readonly RoundedPolygon[],
    private readonly holder: readonly RoundedPolygon[],
  ) {
    this.metal = job.metal;
  }

  private isClear(path: readonly Point[], margin: number): boolean {
    return this.metal.clearsAlong(this.bodiesWith(margin), path);
  }

  /** The whole tool with so much room all round, made once. */
  private bodiesWith(margin: number): readonly RoundedPolygon[] {
    if (margin <= 0) return this.bodies;
    let grown = this.roomy.get(margin);
    if (!grown) {
      grown = grownBy(this.bodies, margin);
      this.roomy.set(margin, grown);
    }
    return grown;
  }

  /** Free to come straight down from the clear level, or up to it. */
  private column(p: Point): boolean {
    const above = lift(p, this.job.clearLevel);
    const way = p.y >= above.y ? [above] : [above, p];
    return this.isClear(way, 0) && this.clearsLips(way, this.bodies);
  }

  clearsLips(way: readonly Point[], shapes: readonly RoundedPolygon[], lips: Lips | null = this.lips): boolean {
    return lips === null || lips.clearsAlong(shapes, way);
  }

  /** The way to the first of some pieces of a chain that begin so far along it; null where none is free. */
  into(chain: readonly Curve[], from: number, pieces: readonly Curve[]): readonly Curve[] | null {
    const { job } = this;
    const first = pieces[0].from;
    const back = scale(tangentAt(pieces[0], 0), -1);
    const length = Math.max(job.safe, job.leadLength);
    const behind = sliceChain(chain, Math.max(0, from - length), from);
    const straight = (direction: Point, size: number): Curve[] => [line(add(first, scale(direction, size)), first)];
    const along = straight(back, length);
    const candidates: Curve[][] = [
      ...this.wantedLead(first, back),
      along,
      ...(behind.reduce((s, c) => s + curveLength(c), 0) > 0.6 * length ? [behind] : []),
      straight(point(1, 0), length),
      straight(point(Math.SQRT1_2, Math.SQRT1_2), length),
      straight(back, length / 2),
    ];
    for (const candidate of candidates) {
      const path = flattenChain(candidate, BELOW);
      if (path[0].y > Math.max(job.ceiling, job.clearLevel) + job.safe) continue;
      const free =
        this.isClear(path, 0) && this.isClear([path[0]], Math.min(0.2, job.safe / 5)) && this.column(path[0]);
      if (free && this.aboveFloor(path, chain)) return candidate;
    }
    for (const candidate of [...this.wantedLead(first, back), along])
      if (this.mayCut(candidate, chain)) return candidate;
    // plunge from above: feed straight down from outside the metal
    const top = this.plungeTop(first);
    return top === null ? null : [line(point(first.x, top), first)];
  }

  /** The way that was asked for, as it leaves one end of the contour: straight on, square to it, or in a quarter of an arc. */
  private wantedWay(lead: Lead | undefined, end: Point, on: Point): Curve[][] {
    const { safe, leadLength } = this.job;
    if (!lead || lead.style === 'as-fits') return [];
    const size = Math.max(lead.length ?? safe, lead.style === 'arc' ? 0 : leadLength);
    // away from the metal: of both normals the one that points up, or to the front of a wall
    const left = point(-on.y, on.x);
    const away = left.y > 1e-9 || (Math.abs(left.y) <= 1e-9 && left.x > 0) ? left : scale(left, -1);
    if (lead.style === 'tangent') return [[line(end, add(end, scale(on, size)))]];
    if (lead.style === 'square') return [[line(end, add(end, scale(away, size)))]];
    const centre = add(end, scale(away, size));
    // it leaves along the contour
    return [[{ kind: 'arc', from: end, to: add(centre, scale(on, size)), centre, clockwise: cross(on, away) < 0 }]];
  }

  private wantedLead(first: Point, back: Point): Curve[][] {
    return this.wantedWay(this.job.lead, first, back).map(reverseChain);
  }

  /**
   * A way in along the first piece itself, through the metal that lies on it: a finishing pass on a chamfer with stock. It
   * begins in the open, stays on or above the pass, and the holder meets nothing.
   */
  private mayCut(lead: readonly Curve[], chain: readonly Curve[]): boolean {
    const { job } = this;
    const path = flattenChain(lead, BELOW);
    if (Number.isFinite(this.level) || path[0].y > Math.max(job.ceiling, job.clearLevel) + job.safe) return false;
    if (!this.isClear([path[0]], Math.min(0.2, job.safe / 5)) || !this.column(path[0])) return false;
    return this.metal.clearsAlong(this.holder, path) && this.aboveFloor(path, chain, true);
  }

  /**
   * Whether a lead stays on or above a pass that has no level, and where it cuts above the contour beside that: what is only a
   * touch for metal is a gouge in the part.
   */
  private aboveFloor(path: readonly Point[], chain: readonly Curve[], cuts = false): boolean {
    if (Number.isFinite(this.level)) return true;
    const graph = reverseChain(chain);
    const beside = cuts && this.job.beside ? this.job.beside() : null;
    return path.slice(1).every((b, i) =>
      // not at the ends: one of them lies on the pass, it may be in the middle of a wall
      Array.from({ length: 20 }, (_, k) => lerp(path[i], b, (k + 0.5) / 20)).every((p) => {
        const floor = heightAt(graph, p.x) ?? (beside && heightAt(beside, p.x));
        return floor === null || p.y >= floor - BELOW;
      }),
    );
  }

  /** Lowest height above `p` from which a straight feed down begins outside all metal, plus the safe distance. */
  private plungeTop(p: Point): number | null {
    const { job } = this;
    let rest = p.y;
    for (const s of this.bodies) {
      const side = lowerSide(s);
      rest = Math.max(
        rest,
        p.y + this.metal.surface.rise(side, p.x, p.y),
        p.y + (this.metal.fixed?.rise(side, p.x, p.y) ?? 0),
        p.y + (this.lips?.rise(side, p.x, p.y) ?? 0),
      );
    }
    if (rest > job.clearLevel) return null;
    const top = Math.min(job.clearLevel, rest + job.safe * 0.9);
    const free = this.column(point(p.x, top));
    // on the way down the holder must not be the part that meets metal
    const holder = this.metal.clearsAlong(job.holder, [point(p.x, top), p]);
    return free && holder ? top : null;
  }

  /** The way from the end of some pieces, over which what they have left hangs so far (mm). */
  outOf(leadIn: readonly Curve[], pieces: readonly Curve[], chain: readonly Curve[], lip: number): readonly Curve[] {
    const { job } = this;
    const last = pieces[pieces.length - 1].to;
    const r = job.retract;
    const outs: Curve[][] = [
      ...this.wantedWay(job.leadOut, last, tangentAt(pieces[pieces.length - 1], 1)),
      [line(last, add(last, point(r * Math.SQRT1_2, r * Math.SQRT1_2)))],
      [line(last, add(last, point(0, r)))],
      [line(last, add(last, scale(tangentAt(pieces[pieces.length - 1], 1), r)))],
      [line(last, add(last, point(r, 0)))],
      ...(lip > 0 ? [[line(last, add(last, point(lip + this.job.noseRadius + r, 0)))]] : []),
    ];
    const out = outs.find((o) => {
      const way = flattenChain(o, BELOW);
      return this.isClear(way, 0) && this.column(way[way.length - 1]) && this.aboveFloor(way, chain);
    });
    // else go back the way it came, which is now free, to the place of the approach
    return out ?? [...reverseChain(pieces), ...reverseChain([...leadIn])];
  }

  /** Straight back to above the next start where that is free in the metal before the cut, else over the clear level. */
  link(at: Point | null, start: Point, metal: Metal, lips: Lips | null): Cut['link'] {
    if (!at) return 'over';
    const level = Math.max(at.y, start.y);
    if (level >= this.job.clearLevel || start.x < at.x - 1e-9) return 'over';
    const shapes = this.bodiesWith(LINK_ROOM);
    const way = [at, point(at.x, level), point(start.x, level), start];
    return metal.clearsAlong(shapes, way) && this.clearsLips(way, shapes, lips) ? 'direct' : 'over';
  }
}
