import { describe, expect, it } from 'vitest';
import { buildPart } from '@/core/part';
import { demoJob } from '../../../tests/fixtures/jobs';
import { turnedGeometry } from './solids';

/** Volume that a closed surface of triangles holds: positive where they face outward; and how many disagree with their normals. */
const heldBy = (g: ReturnType<typeof turnedGeometry>): { volume: number; against: number } => {
  const [p, n, index] = [g.getAttribute('position'), g.getAttribute('normal'), g.getIndex()];
  if (!index) throw new Error('no triangles');
  let volume = 0;
  let against = 0;
  for (let i = 0; i < index.count; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => index.getX(i + k));
    const at = (k: number): number[] => [p.getX(k), p.getY(k), p.getZ(k)];
    const [u, v, w] = [at(a), at(b), at(c)];
    const cross = (x: number[], y: number[]): number[] => [
      x[1] * y[2] - x[2] * y[1],
      x[2] * y[0] - x[0] * y[2],
      x[0] * y[1] - x[1] * y[0],
    ];
    const dot = (x: number[], y: number[]): number => x.reduce((s, t, k) => s + t * y[k], 0);
    volume += dot(u, cross(v, w)) / 6;
    const face = cross(
      v.map((t, k) => t - u[k]),
      w.map((t, k) => t - u[k]),
    );
    if (dot(face, [n.getX(a), n.getY(a), n.getZ(a)]) < -1e-9) against++;
  }
  return { volume, against };
};

/** Volume of a half-section turned round, by Pappus, from its corners. */
const turnedVolume = (region: readonly (readonly { x: number; y: number }[])[]): number =>
  region.reduce(
    (sum, ring) =>
      sum +
      ring.reduce((s, a, i) => {
        const b = ring[(i + 1) % ring.length];
        return s + ((a.x * b.y - b.x * a.y) * (a.y + b.y) * Math.PI) / 3;
      }, 0),
    0,
  );

describe('the part in space', () => {
  it.each(['LM-101', 'LM-104', 'LM-118', 'LM-140', 'LM-155', 'LM-212', 'LM-233'])(
    'of %s faces outward all round',
    (name) => {
      const part = buildPart(demoJob(name).part, 'mm');
      const { volume, against } = heldBy(turnedGeometry(part.boundary));
      const true_ = turnedVolume(part.region);
      expect(volume).toBeGreaterThan(0.995 * true_);
      expect(volume).toBeLessThan(1.005 * true_);
      expect(against).toBe(0);
    },
  );
});
