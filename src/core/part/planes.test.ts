import { describe, expect, it } from 'vitest';
import { turnDirection } from '../frames';
import type { Vec3 } from '../geometry';
import { FeatureSchema } from './feature';
import { planeOfFeature } from './planes';

const hole = (over: object) =>
  FeatureSchema.parse({
    id: 'h',
    kind: 'radial-hole',
    access: 'radial',
    sizes: { diameter: 5, z: -12 },
    place: { front: -9.5, back: -14.5, inner: 25, outer: 48 },
    angles: [0, 60, 120],
    ...over,
  });
const normal = (f: ReturnType<typeof hole>, copy = 0): Vec3 =>
  turnDirection(planeOfFeature(f, copy) as never, [0, 0, 1]).map((v) => Math.round(v * 1e6) / 1e6) as never;

describe('the plane of a feature', () => {
  it('of a radial hole stands off its radius, copy by copy', () => {
    expect(normal(hole({}))).toEqual([1, 0, 0]);
    expect(normal(hole({}), 1)).toEqual([0.5, 0.866025, 0]);
    expect(normal(hole({}), 4)).toEqual([0.5, 0.866025, 0]);
    expect(planeOfFeature(hole({}))?.move).toEqual([24, 0, -12]);
  });
  it('of an axial hole lies on its face, where the hole is', () => {
    const f = hole({ kind: 'axial-hole', access: 'back', sizes: { diameter: 4, circle: 30 }, angles: [90] });
    expect(normal(f)).toEqual([0, 0, -1]);
    expect(planeOfFeature(f)?.move.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0, 15, -14.5]);
  });
  it('of an angled hole leans to the side on which its mouth lies', () => {
    const f = (z: number) => hole({ kind: 'angled-hole', access: 'angled', sizes: { diameter: 4, angle: 35, z } });
    const [c, s] = [Math.sin((35 * Math.PI) / 180), Math.cos((35 * Math.PI) / 180)].map(
      (v) => Math.round(v * 1e6) / 1e6,
    );
    expect(normal(f(-10))).toEqual([c, 0, s]);
    expect(normal(f(-14))).toEqual([c, 0, -s]);
  });
  it('is none for what is turned', () => {
    expect(planeOfFeature(hole({ kind: 'turn', access: 'main', angles: [] }))).toBeNull();
  });
});
