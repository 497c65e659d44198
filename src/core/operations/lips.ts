import { type Point, type RoundedPolygon, type Stretch, Surface, upperSideOn, VOID } from '../geometry';
import type { Frame } from './frame';
import { Metal } from './metal';

/** Further than any work reaches, mm. */
const WIDE = 1e4;
/** Higher than anything that is swept, its sign turned. */
const NOTHING_SWEPT = 1e5;

/**
 * Lips that hang over what other tools have cut, while an operation cuts under and through them. A cut takes a lip off only
 * where it reaches to its top: what a tool takes from under a lip leaves the lip where it is, in the way of every rapid.
 */
export class Lips {
  private cut: Metal;
  /** Highest places that this cut has swept, their sign turned. */
  private swept: Metal;
  /** As they stand, made anew after a change. */
  private standing: Metal | null = null;

  /** The lips before a cut. */
  constructor(
    private readonly frame: Frame,
    private before: Surface,
  ) {
    this.cut = new Metal(frame, before.clone(), null);
    this.swept = new Metal(frame, Surface.level(NOTHING_SWEPT, before.left, before.right), null);
  }

  /** Lips over the whole of a frame, to which others may be added: those that are there already, or none. */
  static over(frame: Frame, there: Lips | null): Lips {
    const none = Surface.level(VOID, -WIDE, WIDE);
    const own = there?.now().surface;
    return new Lips(frame, own && !own.isEmpty ? none.replaced(own, own.left, own.right) : none);
  }

  /** Adds metal as high as it stood before, over some stretches, after a cut. */
  add(before: Surface, stretches: readonly Stretch[]): void {
    if (stretches.length === 0) return;
    const now = this.now().surface;
    this.become(
      new Lips(
        this.frame,
        stretches.reduce((s, { from, to }) => s.replaced(before, from, to), now),
      ),
    );
  }

  /** The lips as they stand now, before another cut. */
  next(): Lips {
    return new Lips(this.frame, this.now().surface.fresh());
  }

  /** The same, in the middle of a cut. */
  copy(): Lips {
    const copy = new Lips(this.frame, this.before);
    copy.become(this);
    return copy;
  }

  /** Takes over the state of others. */
  become(other: Lips): void {
    this.before = other.before;
    this.cut = other.cut.clone();
    this.swept = other.swept.clone();
    this.standing = null;
  }

  cutAlong(cutters: readonly RoundedPolygon[], path: readonly Point[]): void {
    this.cut.cutAlong(cutters, path);
    // a way may come up to the top of what an earlier one of the same cut has taken from below
    this.swept.lowerAlong(cutters, path, upperSideOn);
    this.standing = null;
  }

  /** True when shapes on a way meet no lip. */
  clearsAlong(shapes: readonly RoundedPolygon[], path: readonly Point[]): boolean {
    return this.now().clearsAlong(shapes, path, false);
  }

  /** How far a side carried to a place would have to rise to clear the lips. */
  rise(...at: Parameters<Surface['rise']>): number {
    return this.now().surface.rise(...at);
  }

  upperPoints(...within: Parameters<Surface['upperPoints']>): Point[] {
    return this.now().upperPoints(...within);
  }

  private now(): Metal {
    if (this.standing) return this.standing;
    const { before, cut } = this;
    const hidden = cut.surface.hiddenSince(before, this.swept.surface, before.left, before.right);
    const standing = hidden.reduce((s, { from, to }) => s.replaced(before, from, to), cut.surface);
    this.standing = new Metal(this.frame, standing, null);
    return this.standing;
  }
}
