import {
  boundsOfShapes,
  onceFor,
  type Point,
  type RoundedPolygon,
  type Stretch,
  Surface,
  upperSideOn,
  VOID,
} from '../geometry';
import type { Frame } from './frame';
import { Metal } from './metal';

/** So far beside a change the lips are looked at anew, mm. */
const BESIDE_CHANGE = 0.01;
/** Extent of shapes, looked up for each step. */
const boundsOf = onceFor(boundsOfShapes);

/**
 * Lips that hang over what other tools have cut, while an operation cuts under and through them. A cut takes a lip off only
 * where it reaches to its top: what a tool takes from under a lip leaves the lip where it is, in the way of every rapid.
 */
export class Lips {
  private cut: Metal;
  /** Highest places that this cut has swept, their sign turned. */
  private swept: Metal;
  /** How they stood before this cut, and where there were any. */
  private uncut: Metal;
  private places: readonly Stretch[];
  /** As they stand, made anew where something has changed. */
  private standing: Metal;

  /** The lips before a cut. */
  constructor(
    private readonly frame: Frame,
    before: Surface,
  ) {
    this.cut = new Metal(frame, before.fresh(), null);
    this.uncut = new Metal(frame, before, null);
    this.standing = this.uncut;
    this.places = before.occupied();
    // nothing hangs beside them
    const [first] = this.places;
    const last = this.places[this.places.length - 1];
    const swept = first ? Surface.outermost([], first.from - BESIDE_CHANGE, last.to + BESIDE_CHANGE) : Surface.empty();
    this.swept = new Metal(frame, swept, null);
  }

  /** Lips over all of a metal, to which others may be added: those that are there already, or none. */
  static over({ frame, surface }: Metal, there: Lips | null): Lips {
    const own = there?.now().surface;
    if (!own || own.isEmpty) return new Lips(frame, Surface.level(VOID, surface.left, surface.right));
    const none = Surface.level(VOID, Math.min(surface.left, own.left), Math.max(surface.right, own.right));
    return new Lips(frame, none.replaced(own, own.left, own.right));
  }

  /** Adds metal as high as it stood before, over some stretches, after a cut; a lip that hangs above it stays as it is. */
  add(before: Surface, stretches: readonly Stretch[]): void {
    if (stretches.length === 0) return;
    const now = this.now().surface;
    const higher = stretches.flatMap(({ from, to }) => now.lowerThan(before, from, to));
    this.become(
      new Lips(
        this.frame,
        higher.reduce((s, { from, to }) => s.replaced(before, from, to), now),
      ),
    );
  }

  /** The lips as they stand now, before another cut. */
  next(): Lips {
    return new Lips(this.frame, this.now().surface.fresh());
  }

  /** The same, in the middle of a cut. */
  copy(): Lips {
    const copy = new Lips(this.frame, this.uncut.surface);
    copy.become(this);
    return copy;
  }

  /** Takes over the state of others. */
  become(other: Lips): void {
    this.uncut = other.uncut;
    this.places = other.places;
    this.cut = other.cut.clone();
    this.swept = other.swept.clone();
    this.standing = other.standing;
  }

  cutAlong(cutters: readonly RoundedPolygon[], path: readonly Point[]): void {
    for (let i = 1; i < path.length; i++) {
      const step = [path[i - 1], path[i]];
      if (!this.comesNear(cutters, step)) continue;
      this.cut.cutAlong(cutters, step);
      // a way may come up to the top of what an earlier one of the same cut has taken from below
      this.swept.lowerAlong(cutters, step, upperSideOn);
    }
  }

  /** Whether shapes on a step, or their mirror images, come over a place where there was a lip. */
  private comesNear(shapes: readonly RoundedPolygon[], [a, b]: readonly Point[]): boolean {
    const { minX, maxX } = boundsOf(shapes);
    const [from, to] = [Math.min(a.x, b.x) + minX, Math.max(a.x, b.x) + maxX];
    return this.places.some(
      (p) => (p.from < to && p.to > from) || (this.frame.alongAxis && p.from < -from && p.to > -to),
    );
  }

  /** True when shapes on a way meet no lip. */
  clearsAlong(shapes: readonly RoundedPolygon[], path: readonly Point[]): boolean {
    if (this.places.length === 0) return true;
    // no lip has grown by this cut
    if (this.uncut.clearsAlong(shapes, path, false)) return true;
    const now = this.now();
    return now !== this.uncut && now.clearsAlong(shapes, path, false);
  }

  /** How far a side carried to a place would have to rise to clear the lips. */
  rise(...at: Parameters<Surface['rise']>): number {
    return this.now().surface.rise(...at);
  }

  upperPoints(...within: Parameters<Surface['upperPoints']>): Point[] {
    return this.now().upperPoints(...within);
  }

  private now(): Metal {
    const { cut, swept } = this;
    const before = this.uncut.surface;
    const changed = [...cut.surface.takeChanges(), ...swept.surface.takeChanges()];
    if (changed.length === 0) return this.standing;
    // what lies hidden at a place follows from the lines at that place alone
    const from = Math.min(...changed.map((c) => c.from)) - BESIDE_CHANGE;
    const to = Math.max(...changed.map((c) => c.to)) + BESIDE_CHANGE;
    const open = this.standing.surface.replaced(cut.surface, from, to);
    const hidden = cut.surface.hiddenSince(before, swept.surface, from, to);
    const standing = hidden.reduce((s, { from, to }) => s.replaced(before, from, to), open);
    this.standing = new Metal(this.frame, standing, null);
    return this.standing;
  }
}
