import { describe, expect, it } from 'vitest';
import { seeded } from '../../../tests/fixtures/random';
import {
  add,
  arc,
  type Curve,
  convexHull,
  depthWithin,
  fromAngle,
  heightAt,
  line,
  type Point,
  perpendicular,
  point,
  pointAt,
  type RoundedPolygon,
  scale,
} from '../geometry';
import { deepestPositions } from './reach';

const CASES = Number(process.env.PROPERTY_CASES ?? 120);
const FIRST = Number(process.env.PROPERTY_SEED ?? 1 + Math.floor(Math.random() * 1e6));
/** Places of the ground that the shape is held against lie no further apart, mm. */
const STEP = 0.004;

/** A ground 20 mm long of lines, walls and rounds of either kind; half of them on a grid, where much coincides. */
const randomGround = (random: () => number): Curve[] => {
  const onGrid = random() < 0.5;
  const near = (v: number): number => (onGrid ? Math.round(v * 2) / 2 : v);
  const ground: Curve[] = [];
  let at = point(-20, near(random() * 6));
  const go = (to: Point, curve: (from: Point) => Curve): void => {
    ground.push(curve(at));
    at = to;
  };
  while (at.x < 0) {
    const what = random();
    const up = near((random() - 0.5) * 5);
    const along = Math.max(0.5, near(random() * 3));
    if (what < 0.25 && up !== 0) go(point(at.x, at.y + up), (from) => line(from, point(from.x, from.y + up)));
    else if (what < 0.6)
      go(point(at.x + along, at.y + up / 2), (from) => line(from, point(from.x + along, from.y + up / 2)));
    else {
      const to = point(at.x + along, at.y + up / 2);
      const clockwise = random() < 0.5;
      // the centre on the line through the middle, square to the chord
      const far = (0.6 + random() * 2) * (clockwise ? 1 : -1);
      const centre = point((at.x + to.x) / 2 + (to.y - at.y) * far, (at.y + to.y) / 2 - (to.x - at.x) * far);
      go(to, (from) => arc(from, to, centre, clockwise));
    }
  }
  return ground;
};

/** A rounded polygon, or an oblong with sharp corners that stands anyhow. */
const randomShape = (random: () => number): RoundedPolygon => {
  if (random() < 0.25) {
    const along = fromAngle(random() * Math.PI);
    const [l, w] = [0.3 + random() * 3, 0.3 + random() * 3];
    const across = perpendicular(along);
    const corners = [point(0, 0), scale(along, l), add(scale(along, l), scale(across, w)), scale(across, w)];
    return { points: convexHull(corners), radius: 0 };
  }
  const corners = Array.from({ length: 1 + Math.floor(random() * 5) }, () => point((random() - 0.5) * 4, random() * 4));
  return { points: corners.length > 2 ? convexHull(corners) : corners, radius: 0.1 + random() * 1.5 };
};

describe('deepest positions of any shape over any ground', () => {
  it(`let it touch and not dip in (${CASES} cases from seed ${FIRST})`, { timeout: 300_000 }, () => {
    for (let seed = FIRST; seed < FIRST + CASES; seed++) {
      const random = seeded(seed);
      const ground = randomGround(random);
      const shape = randomShape(random);
      const floor = deepestPositions(ground, [shape], -19, -1);
      const places = ground.flatMap((c) => {
        const count = Math.ceil(Math.hypot(c.to.x - c.from.x, c.to.y - c.from.y) / STEP) + 1;
        return Array.from({ length: count + 1 }, (_, i) => pointAt(c, i / count));
      });
      for (let k = 0; k < 8; k++) {
        const x = -19 + 18 * random();
        const y = heightAt(floor, x);
        if (y === null) {
          // out of reach of the ground on one of its sides
          const [left, right] = [-1, 1].map((s) => Math.max(...shape.points.map((p) => s * p.x)) + shape.radius);
          expect(x + right < -20 || x - left > 0, `seed ${seed}`).toBe(true);
          continue;
        }
        const dip = (at: number): number =>
          places.reduce((m, p) => Math.max(m, depthWithin(shape, point(x, at), p)), 0);
        expect(dip(y), `seed ${seed} at ${x}`).toBeLessThan(1e-6);
        expect(dip(y - 0.02), `seed ${seed} at ${x}`).toBeGreaterThan(0);
      }
    }
  });
});
