import { describe, expect, it } from 'vitest';
import { type Curve, line, point } from '../geometry';
import { threadByName } from './form';
import { type CutThread, formDepth, partedBy, type ThreadMesh, threadMesh } from './surface';

const form = (name: string, side: 'outer' | 'inner', more: Partial<CutThread> = {}): CutThread => {
  const f = threadByName(name);
  if (!f) throw new Error(name);
  const r = (side === 'outer' ? f.major : f.minor) / 2;
  const { pitch, angle } = f;
  return {
    side,
    depth: f[side].full,
    apex: f[side].apex,
    angle,
    pitch,
    starts: 1,
    hand: 'right',
    crest: [point(0, r), point(-10 * pitch, r)],
    ...more,
  };
};

/** Nothing but what a thread lies on. */
const bare = (under: readonly Curve[]) => ({ under, open: [false, false] as const });

/** Corners of each triangle. */
function* triangles({ positions, index }: ThreadMesh): Generator<readonly number[][]> {
  const at = (i: number): number[] => [...positions.slice(3 * i, 3 * i + 3)];
  for (let i = 0; i < index.length; i += 3) yield [at(index[i]), at(index[i + 1]), at(index[i + 2])];
}

/** What flows out through a mesh of a field that grows by one for each mm³: the volume inside, where ends add nothing. */
const outflow = (mesh: ThreadMesh, field: (p: number[]) => number[]): number => {
  let sum = 0;
  for (const [a, b, c] of triangles(mesh)) {
    const u = b.map((v, i) => v - a[i]);
    const w = c.map((v, i) => v - a[i]);
    const n = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]];
    const f = field(a.map((v, i) => (v + b[i] + c[i]) / 3));
    sum += (n[0] * f[0] + n[1] * f[1] + n[2] * f[2]) / 2;
  }
  return sum;
};
const radial = ([, y, z]: number[]): number[] => [0, y / 2, z / 2];

/** Mean over a pitch of a value of the form's depth. */
const meanOver = (t: CutThread, value: (h: number) => number): number => {
  const n = 20_000;
  let sum = 0;
  for (let i = 0; i < n; i++) sum += value(formDepth(t, (t.pitch * (i + 0.5)) / n));
  return sum / n;
};

describe('the form of a thread over one pitch', () => {
  it('of M16×1.5: flat of P/8 on the crest, root of the depth that the standard gives, flanks of 30°', () => {
    const t = form('M16x1.5', 'outer');
    expect(formDepth(t, 0)).toBeCloseTo(0.61343 * 1.5, 5);
    // the crest's flat is P/8 wide
    expect(formDepth(t, 0.75 - 1.5 / 16 + 1e-6)).toBe(0);
    expect(formDepth(t, 0.75 - 1.5 / 16 - 1e-3)).toBeGreaterThan(0);
    const [a, b] = [formDepth(t, 0.35), formDepth(t, 0.45)];
    expect((a - b) / 0.1).toBeCloseTo(1 / Math.tan(Math.PI / 6), 3);
    // it comes again with every pitch
    expect(formDepth(t, 4.5 + 0.35)).toBeCloseTo(a, 9);
  });
});

describe('the surface of a thread in space', () => {
  it.each([
    ['M16x1.5', 'outer', 1],
    ['M30x1.5', 'inner', 1],
    ['M20x2.5', 'outer', 2],
    ['Tr24x5', 'outer', 3],
  ] as const)('%s %s with %d start(s) holds the volume of its form', (name, side, starts) => {
    const t = form(name, side, { starts });
    const [a, b] = t.crest;
    const mesh = threadMesh(t, bare([line(a, b)]));
    const turned = outflow(mesh, radial) * (side === 'outer' ? 1 : -1);
    const sign = side === 'outer' ? -1 : 1;
    const exact = Math.PI * (a.x - b.x) * meanOver(t, (h) => (a.y + sign * h) ** 2);
    const groove = Math.abs(exact - Math.PI * (a.x - b.x) * a.y ** 2);
    // 96 steps round: a polygon of them holds 0.07 % less than the circle
    const polygon = Math.sin((2 * Math.PI) / 96) / ((2 * Math.PI) / 96);
    expect(Math.abs(turned / polygon - exact)).toBeLessThan(groove * 0.01);
  });
  it('of a spiral in a face', () => {
    const t: CutThread = {
      side: 'face',
      crest: [point(0, 40), point(0, 20)],
      depth: 1.2,
      apex: 1.5,
      angle: 60,
      pitch: 2,
      starts: 1,
      hand: 'right',
    };
    const mesh = threadMesh(t, bare([line(point(0, 40), point(0, 20))]));
    // the deeper it is the less stands in front of x = −5
    const volume = outflow(mesh, ([x]) => [x + 5, 0, 0]);
    // ∫ (5 − h(s, turn))·r over the ring: the form's mean in each turn, weighed by its radius
    const h = meanOver(t, (v) => v);
    const ring = Math.PI * (40 ** 2 - 20 ** 2);
    expect(Math.abs(volume - ring * (5 - h))).toBeLessThan(ring * h * 0.02);
  });
  it('of a right-hand thread comes forward as it turns forward, of a left-hand one it goes back', () => {
    for (const hand of ['right', 'left'] as const) {
      // with a sharp root there is one deepest place
      const sharp = form('M16x1.5', 'outer', { hand });
      const t = { ...sharp, depth: sharp.apex };
      const { positions } = threadMesh(t, bare([line(...t.crest)]));
      // the deepest place between −3.6 and −4.9 on a ray, and on the ray a quarter turn further
      const deepest = (turn: number): number => {
        let best = [9, 0];
        for (let i = 0; i < positions.length; i += 3) {
          const [x, y, z] = positions.slice(i, i + 3);
          if (x > -3.6 || x < -4.9 || Math.abs(Math.atan2(z, y) - turn) > 1e-3) continue;
          const r = Math.hypot(y, z);
          if (r < best[0] - 1e-6) best = [r, x];
        }
        return best[1];
      };
      const moved = deepest((12 / 96) * 2 * Math.PI) - deepest((6 / 96) * 2 * Math.PI);
      expect(moved).toBeCloseTo((hand === 'right' ? 1 : -1) * 1.5 * (6 / 96), 3);
    }
  });
  it('comes out of a face that stands at its end', () => {
    const t = form('M30x1.5', 'inner', { crest: [point(0, 14.188), point(-12, 14.188)] });
    const boundary = [line(point(0, 20), point(0, 14.188)), line(point(0, 14.188), point(-20, 14.188))];
    const parted = partedBy(boundary, t);
    expect(parted.open).toEqual([true, false]);
    expect(parted.rest[0].to.y).toBeCloseTo(14.188 + 1.1 * t.depth, 9);
    // the ring that the face has lost is the mesh's, but for the mouth of the groove
    const flat = (mesh: ThreadMesh): number =>
      [...triangles(mesh)].reduce((sum, [a, b, c]) => {
        if (a[0] < -1e-6 || b[0] < -1e-6 || c[0] < -1e-6) return sum;
        return sum + ((b[1] - a[1]) * (c[2] - a[2]) - (b[2] - a[2]) * (c[1] - a[1])) / 2;
      }, 0);
    const mean = meanOver(t, (h) => (14.188 + 1.1 * t.depth) ** 2 - (14.188 + h) ** 2);
    expect(Math.abs(flat(threadMesh(t, parted)) - Math.PI * mean)).toBeLessThan(0.02 * Math.PI * mean);
  });
  it('takes the chamfer in front with it, and ends where the thread ends', () => {
    const t = form('M16x1.5', 'outer', { crest: [point(-1.5, 8), point(-18, 8)] });
    const boundary = [
      line(point(0, 0), point(0, 6.5)),
      line(point(0, 6.5), point(-1.5, 8)),
      line(point(-1.5, 8), point(-24, 8)),
      line(point(-24, 8), point(-24, 10)),
      line(point(-24, 10), point(-40, 10)),
    ];
    const { under, rest, open } = partedBy(boundary, t);
    expect(under.map((c) => [c.from.x, c.to.x])).toEqual([
      [0, -1.5],
      [-1.5, -18],
    ]);
    expect(rest.map((c) => [c.from.x, c.to.x])).toEqual([
      [0, 0],
      [-18, -24],
      [-24, -24],
      [-24, -40],
    ]);
    // where a groove begins behind it, it runs out over the groove's edge
    const relieved = [
      line(point(-1.5, 8), point(-18, 8)),
      line(point(-18, 8), point(-19.2, 6.8)),
      line(point(-19.2, 6.8), point(-22, 6.8)),
    ];
    expect(partedBy(relieved, t).rest).toEqual([relieved[2]]);
    // on the chamfer the mesh lies on it or below
    const { positions } = threadMesh(t, { under, open });
    for (let i = 0; i < positions.length; i += 3) {
      const r = Math.hypot(positions[i + 1], positions[i + 2]);
      expect(r).toBeLessThan(Math.min(8, 6.5 - positions[i]) + 1e-4);
    }
  });
});
