import type { Point, RoundedPolygon, Surface } from '../geometry';
import type { Lips } from './lips';
import type { Metal } from './metal';

/** A way that is cut step by step under lips: the step on which the holder meets one is taken back. */
export class Under {
  private readonly steps: (readonly [Point, Point])[] = [];
  private readonly metalBefore: Surface;
  private readonly lipsBefore: Lips;

  constructor(
    private readonly metal: Metal,
    private readonly lips: Lips,
    private readonly cutters: readonly RoundedPolygon[],
    private readonly holder: readonly RoundedPolygon[],
  ) {
    this.metalBefore = metal.surface.fresh();
    this.lipsBefore = lips.copy();
  }

  /** Cuts the lips on a step that the metal has been cut on; takes it back where the holder meets one of them. */
  goes(a: Point, b: Point): boolean {
    const way = [a, b];
    this.lips.cutAlong(this.cutters, way);
    if (this.lips.clearsAlong(this.holder, way)) {
      this.steps.push([a, b]);
      return true;
    }
    // seldom: everything is cut once more, but for this step
    this.lips.become(this.lipsBefore);
    this.metal.surface.putBack(this.metalBefore);
    for (const step of this.steps) {
      this.metal.cutAlong(this.cutters, step);
      this.lips.cutAlong(this.cutters, step);
    }
    return false;
  }
}
