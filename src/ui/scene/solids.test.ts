import { describe, expect, it } from 'vitest';
import { type Curve, curveLength } from '@/core/geometry';
import { buildPart, turnAbout } from '@/core/part';
import { applyChanges, derive, rawStockOf, trackOf, ViewSender } from '@/core/plan';
import { formDepth } from '@/core/threads';
import type { SolidMesh } from '@/solid/bring';
import { demoJob } from '../../../tests/fixtures/jobs';
import type { Fetched, Played } from '../job/fetched';
import { makePickable, meshGeometry, regionBoundary, turnedGeometry, unfinishedOf } from './solids';
import { type ShownThread, threadedGeometry, threadedMesh, threadsAt } from './threads';

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

describe('stock in space', () => {
  const length = (chain: readonly Curve[]): number => chain.reduce((s, c) => s + curveLength(c), 0);
  it.each(['LM-101', 'LM-104', 'LM-118'])('of %s leaves the part in sight where it is finished', (name) => {
    const job = demoJob(name);
    const d = derive(job);
    const { boundary } = d.part;
    const off = regionBoundary(d.finished.turnedOutline).flat();
    expect(length(unfinishedOf(off, boundary)) / length(off)).toBeLessThan(0.02);
    // of the bar everything but what lies on the axis with the part
    const raw = regionBoundary(rawStockOf(d).turnedOutline).flat();
    expect(length(unfinishedOf(raw, boundary))).toBeGreaterThan(0.9 * length(raw));
  });
});

/** Volume inside surfaces that are open only across the axis: what flows out of a field that points away from the axis. */
const radialVolume = (g: ReturnType<typeof turnedGeometry>): number => {
  const p = g.getAttribute('position');
  const index = g.getIndex();
  let sum = 0;
  for (let i = 0; i < (index?.count ?? 0); i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => {
      const j = index?.getX(i + k) ?? 0;
      return [p.getX(j), p.getY(j), p.getZ(j)];
    });
    const [u, v] = [b.map((t, k) => t - a[k]), c.map((t, k) => t - a[k])];
    const [ny, nz] = [u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    sum += (ny * (a[1] + b[1] + c[1]) + nz * (a[2] + b[2] + c[2])) / 12;
  }
  return sum;
};

describe('threads in space', () => {
  it.each(['LM-104', 'LM-140', 'LM-212B'])(
    'of %s are cut for real when their passes are done, and not before',
    (name) => {
      const job = demoJob(name);
      const derived = derive(job);
      const view = applyChanges(null, new ViewSender().changes(derived));
      const tracks = new Map<string, Played>();
      const fetched: Fetched = { tracks, bodies: new Map() };
      for (const o of view.operations) {
        const track = trackOf(derived, o.id);
        if (track) tracks.set(track.key, { track, stocks: [track.before] });
      }
      const part = buildPart(job.part, 'mm');
      const all = threadsAt(job, view, null, fetched);
      expect(all.length).toBeGreaterThan(0);
      expect(threadsAt(job, view, 0, fetched)).toEqual([]);
      expect(threadsAt(job, view, view.total, fetched)).toEqual(all);
      // half way through its passes a thread is deeper than at first and not yet whole
      for (const t of all) {
        const op = view.operations.find((o) => o.operation === t.operation);
        if (!op) throw new Error('planned');
        const middle = threadsAt(job, view, (op.times.start + op.times.end) / 2, fetched).find(
          (k) => k.operation === t.operation,
        );
        expect(middle?.depth).toBeGreaterThan(0.2 * t.depth);
        expect(middle?.depth).toBeLessThan(t.depth);
      }
      const lost = radialVolume(turnedGeometry(part.boundary)) - radialVolume(threadedGeometry(part, all).solid);
      // each as a ring of its form's mean depth along its crest
      const expected = all.reduce((sum, t) => {
        const [a, b] = t.crest;
        const mean = Array.from({ length: 400 }, (_, i) => formDepth(t, (t.pitch * i) / 400)).reduce(
          (s, h) => s + h / 400,
          0,
        );
        return sum + 2 * Math.PI * a.y * mean * Math.abs(a.x - b.x);
      }, 0);
      expect(lost).toBeGreaterThan(0.9 * expected);
      expect(lost).toBeLessThan(1.1 * expected);
    },
  );
});

/** A kernel's mesh of a plain pin ⌀16 × 40 with a face at each end: triangles by faces, 64 steps round. */
const pin = (gap = 0): SolidMesh => {
  const positions: number[] = [];
  const normals: number[] = [];
  const triangles: number[] = [];
  const steps = 64;
  const put = (x: number, r: number, k: number, n: readonly number[]): number => {
    const a = (2 * Math.PI * k) / steps;
    positions.push(x, r * Math.cos(a), r * Math.sin(a));
    normals.push(...n);
    return positions.length / 3 - 1;
  };
  for (let k = 0; k < steps - gap; k++) {
    const a = (2 * Math.PI * k) / steps;
    const n = [0, Math.cos(a), Math.sin(a)];
    const [p, q, r, s] = [put(0, 8, k, n), put(-40, 8, k, n), put(0, 8, k + 1, n), put(-40, 8, k + 1, n)];
    triangles.push(p, r, q, q, r, s);
  }
  const round = triangles.length;
  for (let k = 0; k < steps; k++) {
    const n = [1, 0, 0];
    triangles.push(put(0, 0, k, n), put(0, 8, k, n), put(0, 8, k + 1, n));
  }
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    triangles: Uint32Array.from(triangles),
    groups: [
      { start: 0, count: round, face: 0 },
      { start: round, count: triangles.length - round, face: 1 },
    ],
    edges: new Float32Array(),
    circles: [],
  };
};

describe('threads in a solid’s mesh', () => {
  const thread: ShownThread = {
    operation: 'op1',
    turned: false,
    side: 'outer',
    crest: [
      { x: 0, y: 8 },
      { x: -15, y: 8 },
    ],
    depth: 0.92,
    apex: 1.1366,
    angle: 60,
    pitch: 1.5,
    starts: 1,
    hand: 'right',
  };
  const part = buildPart(demoJob('LM-118').part, 'mm');
  it('take the place of the face on which they lie, the rest of it is turned anew', () => {
    const g = threadedMesh(pin(), part, [thread]);
    if (!g) throw new Error('no thread');
    const mean = Array.from({ length: 400 }, (_, i) => formDepth(thread, (1.5 * i) / 400)).reduce(
      (s, h) => s + (64 - (8 - h) ** 2) / 400,
      0,
    );
    const expected = Math.PI * 64 * 40 - Math.PI * 15 * mean;
    expect(Math.abs(radialVolume(g) - expected)).toBeLessThan(0.003 * expected);
  });
  it('turned round stand at the other end, and are the same thread', () => {
    const back = turnAbout(part)({ x: 0, y: 0 }).x;
    const g = threadedMesh(pin(), part, [
      {
        ...thread,
        turned: true,
        crest: [
          { x: back + 40, y: 8 },
          { x: back + 25, y: 8 },
        ],
      },
    ]);
    if (!g) throw new Error('no thread');
    const p = g.getAttribute('position');
    const cut = Array.from({ length: p.count }, (_, i) => i).filter((i) => {
      const r = Math.hypot(p.getY(i), p.getZ(i));
      return r < 7.5 && r > 7;
    });
    expect(cut.length).toBeGreaterThan(100);
    for (const i of cut) expect(p.getX(i)).toBeLessThan(-24.9);
  });
  it('find their faces after the solid was made quick to pick', () => {
    const m = pin();
    const order = [...m.triangles];
    makePickable(meshGeometry(m).solid);
    expect([...m.triangles]).toEqual(order);
    expect(threadedMesh(m, part, [thread])).not.toBeNull();
  });
  it('leave a face alone that is not a whole turn', () => {
    expect(threadedMesh(pin(6), part, [thread])).toBeNull();
    expect(threadedMesh(pin(), part, [])).toBeNull();
  });
});
