import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groovedJob, grooveRows, oneGroove } from '../../../../tests/fixtures/grooves';
import { lineRow, shopTool, shopTools } from '../../../../tests/fixtures/jobs';
import { turnedJob } from '../../../../tests/fixtures/turned';
import {
  curveLength,
  intersectRegions,
  pointAt,
  rectangle,
  regionArea,
  regionBounds,
  subtractRegion,
} from '../../geometry';
import { isMove, movesOf } from '../../motion';
import { postJob, programText, proveJob } from '../../nc';
import { buildPart } from '../../part';
import { candidatesFor, DeriveCache, derive, type Job } from '../../plan';
import type { Tool } from '../../tooling';
import { ToolSchema } from '../../tooling';
import { grooveOf } from './span';

const grooveOn = (job: Job) => {
  const d = derive(job);
  const op = d.operations.find((o) => o.id === 'groove');
  if (!op) throw new Error('no groove');
  return { d, op };
};
const serious = (job: Job): string[] =>
  grooveOn(job).op.findings.flatMap((f) => (f.severity === 'info' ? [] : [`${f.severity} ${f.code}`]));
const provedOk = (job: Job): void => {
  const { d } = grooveOn(job);
  const proof = proveJob(job, d, postJob(job, d, '').map(programText));
  expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
  expect(proof.maxDeviation).toBeLessThanOrEqual(0.001);
  expect(proof.stock.thickness).toBeLessThanOrEqual(0.002);
};
const leftOn = (job: Job, ids: readonly string[]): number => {
  const { d } = grooveOn(job);
  return Math.max(...d.coverage.filter((c) => ids.includes(c.element)).map((c) => c.left));
};
const outside = (
  p: { width: number; depth: number; lean?: number },
  tool: Tool = shopTool('groove-3'),
  params: Record<string, unknown> = {},
): Job =>
  groovedJob(
    { diameter: 50, length: 36, outer: grooveRows(-10, { diameter: 50, ...p }) },
    { kind: 'outer-groove', tool, span: { from: 'g1', to: 'g3' }, params },
  );
const INNER = groovedJob(
  {
    diameter: 60,
    length: 30,
    bore: 30,
    outer: [],
    inner: [lineRow('h0', 30, -10), lineRow('h1', 34, -10), lineRow('h2', 34, -15), lineRow('h3', 30, -15)],
  },
  { kind: 'inner-groove', tool: shopTool('groove-bar-3'), span: { from: 'h1', to: 'h3' } },
);
const face = (inner: number, outer: number, tool = 'groove-face-3-a', params: Record<string, unknown> = {}): Job =>
  groovedJob(
    {
      diameter: Math.max(60, outer + 10),
      length: 30,
      bore: 22,
      outer: [],
      face: [lineRow('f0', inner, 0), lineRow('f1', inner, -7), lineRow('f2', outer, -7), lineRow('f3', outer, 0)],
    },
    { kind: 'face-groove', tool: shopTool(tool), span: { from: 'f1', to: 'f3' }, params },
  );

describe('a groove', () => {
  it('is plunged from the middle outward, then both walls go down and meet on the floor', () => {
    const job = outside({ width: 8, depth: 5 });
    const { op } = grooveOn(job);
    expect(serious(job)).toEqual([]);
    const plunges = op.events.filter((e) => e.kind === 'feed' && e.feed.mode === 'perRev' && e.feed.value === 0.1);
    // X of the corner at 0.15 over the floor of ⌀40, in the middle and 0.15 from either wall
    expect(plunges.map((e) => (isMove(e) ? e.to.X : 0))).toEqual(
      [20.15, 20.15, 20.15].map((v) => expect.closeTo(v, 6)),
    );
    expect(leftOn(job, ['g1', 'g2', 'g3'])).toBeLessThanOrEqual(0.005);
    provedOk(job);
  });
  it.each([
    ['straight walls, wide', () => outside({ width: 20, depth: 6 })],
    ['leaning walls', () => outside({ width: 12, depth: 5, lean: 25 })],
    ['as wide as the blade', () => outside({ width: 3, depth: 5 })],
    ['by a round blade', () => outside({ width: 14, depth: 3, lean: 45 }, shopTool('groove-round-3'))],
    ['with pecks and dwell', () => outside({ width: 8, depth: 6 }, shopTool('groove-2'), { peck: 1.5, dwell: 0.3 })],
    ['plunges alone', () => outside({ width: 9, depth: 4 }, shopTool('groove-2'), { passes: 'plunge', allowance: 0 })],
    ['by levels', () => outside({ width: 14, depth: 5 }, shopTool('groove-3'), { method: 'turn' })],
    [
      'by levels between leaning walls',
      () => outside({ width: 18, depth: 5, lean: 30 }, undefined, { method: 'turn' }),
    ],
    ['by levels as wide as the blade', () => outside({ width: 3, depth: 5 }, undefined, { method: 'turn' })],
    [
      'rolling with a round blade',
      () => outside({ width: 16, depth: 5, lean: 20 }, shopTool('groove-round-3'), { method: 'roll' }),
    ],
    [
      'with a step in its floor',
      () =>
        groovedJob(
          {
            diameter: 50,
            length: 36,
            outer: [
              ...(
                [
                  [50, -10],
                  [44, -10],
                  [44, -15],
                  [40, -15],
                  [40, -22],
                  [50, -22],
                ] as const
              ).map(([d, z], i) => lineRow(`g${i}`, d, z)),
            ],
          },
          { kind: 'outer-groove', tool: shopTool('groove-3'), span: { from: 'g1', to: 'g5' } },
        ),
    ],
    ['inside', () => INNER],
    [
      'inside by levels',
      () => {
        const job = structuredClone(INNER);
        Object.assign((job.operations.groove as unknown as { params: object }).params, { method: 'turn' });
        return job;
      },
    ],
    ['in a face by levels', () => face(34, 60, 'groove-face-3-a', { method: 'turn' })],
    ['in a face', () => face(34, 46)],
  ])('%s, leaves nothing that the blade could reach, and is proved', (_name, make) => {
    const job = make();
    expect(serious(job)).toEqual([]);
    provedOk(job);
  });
  it('of plunges wider apart than the flat front leaves cusps of ρ − √(ρ² − ((s − w + 2ρ)/2)²): w 3, ρ 0.4, s 2.7 → 0.08775', () => {
    const blade = ToolSchema.parse({
      ...shopTool('groove-3'),
      id: 'cusp',
      cutter: { ...shopTool('groove-3').cutter, cornerRadius: 0.4 },
    });
    const cusp = (step: number): number => {
      const job = outside({ width: 3 + 2 * step, depth: 4 }, blade, { passes: 'plunge', allowance: 0, step });
      const { d } = grooveOn(job);
      const end = d.operations.find((o) => o.id === 'groove')?.after.turnedOutline ?? [];
      const middle = -10 - step / 2 - 1.5;
      // metal over the floor of ⌀42 between the first two plunges
      const over = intersectRegions(end, rectangle(middle - 1.2, 20, middle + 1.2, 24));
      return regionBounds(over).maxY - 21;
    };
    expect(cusp(2.7)).toBeCloseTo(0.08775, 3);
    expect(cusp(2.2)).toBeLessThan(1e-3);
  });
  it('of a face begins where the curve of the blade has room, and widens from there', () => {
    const { op } = grooveOn(face(34, 46));
    const first = op.events.find((e) => e.kind === 'feed');
    if (first?.kind !== 'feed') throw new Error('a plunge feeds');
    // the tip is the inner corner of the blade: the outer one stands a blade's width further out
    const at = op.events.slice(0, op.events.indexOf(first)).findLast((e) => e.kind === 'rapid' && e.to.X !== undefined);
    const outer = 2 * (((at?.kind === 'rapid' ? at.to.X : 0) ?? 0) + 3);
    expect(outer).toBeGreaterThanOrEqual(34);
    expect(outer).toBeLessThanOrEqual(50);
  });
});

describe('a groove turned by levels', () => {
  /**
   * The greatest angle over which a round blade stands in metal, degrees, on a grid that knows nothing of the planner: cells
   * of the section in which the disc of the blade's front takes away what it passes.
   */
  const engagement = (method: 'turn' | 'roll'): { most: number; level: number } => {
    const depth = 0.5;
    const job = outside({ width: 16, depth: 5 }, shopTool('groove-round-3'), { method, depth, passes: 'plunge' });
    const { op } = grooveOn(job);
    expect(serious(job)).toEqual([]);
    const [r, cell] = [1.5, 0.02];
    const [left, low, wide, high] = [-28, 18, 20, 9];
    const metal = Array.from({ length: Math.ceil(wide / cell) }, () => new Uint8Array(Math.ceil(high / cell)).fill(1));
    const filled = (z: number, x: number): boolean =>
      x < 25 && metal[Math.floor((z - left) / cell)]?.[Math.floor((x - low) / cell)] === 1;
    const clear = (z: number, x: number): void => {
      for (let i = Math.floor((z - r - left) / cell); i <= (z + r - left) / cell; i++) {
        const dz = left + (i + 0.5) * cell - z;
        if (!metal[i] || Math.abs(dz) >= r) continue;
        const half = Math.sqrt(r * r - dz * dz);
        metal[i].fill(
          0,
          Math.max(0, Math.ceil((x - half - low) / cell - 0.5)),
          Math.max(0, Math.ceil((x + half - low) / cell - 0.5)),
        );
      }
    };
    const { section } = op;
    if (!section) throw new Error('no section');
    let [most, cutYet] = [0, false];
    for (const m of movesOf(op.events)) {
      if (m.event.kind === 'rapid') continue;
      const n = Math.max(1, Math.ceil(curveLength(m.curve) / 0.04));
      for (let k = 1; k <= n; k++) {
        const tip = pointAt(m.curve, k / n);
        // the tip's place from the middle of the round front: the corner that is programmed lies under it
        const [z, x] = [tip.x - section.tip.x, tip.y - section.tip.y];
        let inside = 0;
        for (let a = 180; a < 360; a++) {
          const t = (a * Math.PI) / 180;
          if (filled(z + (r - cell) * Math.cos(t), x + (r - cell) * Math.sin(t))) inside++;
        }
        clear(z, x);
        if (inside > 0) cutYet = true;
        most = Math.max(most, inside);
      }
    }
    expect(cutYet).toBe(true);
    return { most, level: (Math.acos(1 - depth / r) * 180) / Math.PI };
  };
  it('with a round blade that rolls, the chip is nowhere half as wide again as on a level; square at the walls it is more than twice', () => {
    const [rolled, square] = [engagement('roll'), engagement('turn')];
    expect(rolled.most).toBeLessThan(rolled.level * 1.5);
    expect(square.most).toBeGreaterThan(square.level * 2);
  });
  it('goes down by equal levels, each pass beginning where the last one has ended', () => {
    const { op } = grooveOn(outside({ width: 14, depth: 5 }, shopTool('groove-3'), { method: 'turn', depth: 1.3 }));
    const cuts = movesOf(op.events).filter((m) => m.event.purpose === 'cut');
    // level runs: from the corner's first place to its last, between the walls less what is left on them; 4.85 deep in 4 passes
    const runs = cuts.filter((m) => Math.abs(m.to.X - m.from.X) < 1e-9 && Math.abs(m.to.Z - m.from.Z) > 5);
    expect(runs.slice(0, 4).map((m) => 25 - m.to.X)).toEqual(
      [1, 2, 3, 4].map((k) => expect.closeTo((k * 4.85) / 4, 6)),
    );
    expect(runs.slice(0, 4).map((m) => Math.sign(m.to.Z - m.from.Z))).toEqual([-1, 1, -1, 1]);
    for (const m of runs.slice(0, 4)) expect(Math.abs(m.to.Z - m.from.Z)).toBeCloseTo(14 - 3 - 0.3, 6);
    const rapids = op.events.filter((e) => e.kind === 'rapid' && e.purpose === 'link');
    // one to the groove, one to each wall's finishing pass
    expect(rapids.length).toBeLessThanOrEqual(3);
  });
  it('leaves out levels at which nothing stands any more', () => {
    const job = outside({ width: 14, depth: 5 }, shopTool('groove-3'), { method: 'turn', passes: 'plunge' });
    const again = structuredClone(job.operations.groove);
    again.id = 'again';
    job.operations.again = again;
    job.order['1'].push('again');
    const d = derive(job);
    expect(d.operations.find((o) => o.id === 'again')?.findings.map((f) => f.code)).toContain('nothing-to-cut');
  });
});

describe('a groove by the control’s cycle', () => {
  const text = (job: Job, dialect: string): string => {
    job.machine.dialect = dialect;
    const { d } = grooveOn(job);
    return postJob(job, d, '').map(programText).join('\n');
  };
  // ⌀50 to 0.15 over ⌀40; plunges 0.15 from the walls at −10 and −24, the tip is the corner toward the chuck
  it.each([
    ['tarn-1', /^G75 X40\.3 Z-23\.8(49|5) I1\.2 K2\.14 F0\.1$/m],
    ['tarn-2', /^G75 R0\.3\nG75 X40\.3 Z-23\.8(49|5) P1200 Q2140 F0\.1$/m],
    ['tarn-5', /^G75 R0\.3\nG75 X40\.3 Z-23\.8(49|5) P1200 Q2140 F0\.1$/m],
  ])('is proved on %s', (dialect, block) => {
    const job = outside({ width: 14, depth: 5 }, undefined, { output: 'cycle', peck: 1.2 });
    expect(text(job, dialect)).toMatch(block);
    expect(serious(job)).toEqual([]);
    provedOk(job);
  });
  it.each([
    ['tarn-1', /^G74 X[\d.]+ Z-6\.85 I[\d.]+ K2\. F0\.1$/m],
    ['tarn-2', /^G74 R0\.3\nG74 X[\d.]+ Z-6\.85 P\d+ Q2000 F0\.1$/m],
  ])('in a face by G74 on %s', (dialect, block) => {
    const job = face(34, 46, undefined, { output: 'cycle', peck: 2 });
    expect(text(job, dialect)).toMatch(block);
    expect(serious(job)).toEqual([]);
    provedOk(job);
  });
  it('inside, and as wide as the blade in one plunge', () => {
    const inside = structuredClone(INNER);
    Object.assign((inside.operations.groove as unknown as { params: object }).params, { output: 'cycle' });
    expect(text(inside, 'tarn-2')).toContain('G75 X');
    provedOk(inside);
    const one = outside({ width: 3, depth: 5 }, undefined, { output: 'cycle', allowance: 0 });
    expect(text(one, 'tarn-2')).toMatch(/^G75 X40\.? P\d+ F0\.1$/m);
    provedOk(one);
  });
  it.each([
    ['a floor that is not level', () => outside({ width: 12, depth: 5, lean: 25 }, undefined, { output: 'cycle' })],
    ['a dwell', () => outside({ width: 8, depth: 5 }, undefined, { output: 'cycle', dwell: 0.2 })],
    [
      'a peck as short as the way back',
      () => outside({ width: 8, depth: 5 }, undefined, { output: 'cycle', peck: 0.3 }),
    ],
  ])('is moves with the reason for %s', (_name, make) => {
    const job = make();
    expect(grooveOn(job).op.findings.map((f) => f.code)).toContain('cycle-not-possible');
    expect(text(job, 'tarn-2')).not.toContain('G75');
    provedOk(job);
  });
});

describe('grooves alike', () => {
  const rows = (at: number, depth: number, id: string) =>
    [
      [50, at],
      [50 - 2 * depth, at],
      [50 - 2 * depth, at - 6],
      [50, at - 6],
    ].map(([d, z], i) => lineRow(`${id}${i}`, d, z));
  const job = (params: Record<string, unknown>): Job =>
    groovedJob(
      {
        diameter: 50,
        length: 60,
        outer: [...rows(-6, 3, 'a'), ...rows(-18, 3, 'b'), ...rows(-30, 2, 'c'), ...rows(-42, 3, 'd')],
      },
      { kind: 'outer-groove', tool: shopTool('groove-3'), span: { from: 'b1', to: 'b3' }, params },
    );
  it('are cut in one operation from the front, others are left, and all is proved', () => {
    const made = job({ alike: true });
    expect(serious(made)).toEqual([]);
    expect(leftOn(made, ['a2', 'b2', 'd2'])).toBeLessThanOrEqual(0.005);
    expect(leftOn(made, ['c2'])).toBeGreaterThan(1.9);
    const first = movesOf(grooveOn(made).op.events).find((m) => m.event.purpose === 'cut');
    expect(first?.to.Z).toBeGreaterThan(-12);
    provedOk(made);
    // alone it is one groove
    const { d } = grooveOn(job({}));
    const left = (id: string): number => d.coverage.find((c) => c.element === id)?.left ?? 0;
    expect([left('b2') < 0.005, left('a2') > 2.9]).toEqual([true, true]);
  });
});

describe('grooves that cannot be', () => {
  it.each<[string, () => Job, string]>([
    ['narrower than the blade', () => outside({ width: 2.5, depth: 3 }), 'blocking groove-narrow'],
    [
      'deeper than the blade reaches',
      () => outside({ width: 8, depth: 20 }, shopTool('groove-2')),
      'blocking blade-too-short',
    ],
    [
      'a floor too narrow between leaning walls',
      () => outside({ width: 9, depth: 6, lean: 35 }),
      'attention groove-narrow',
    ],
    ['a face groove beyond the blade’s range', () => face(60, 72), 'blocking face-groove-range'],
    ['a face groove inside the blade’s range', () => face(24, 31), 'blocking face-groove-range'],
    [
      'rolled with a flat blade',
      () => outside({ width: 8, depth: 5 }, undefined, { method: 'roll' }),
      'blocking groove-not-round',
    ],
    [
      'an impossible peck',
      () => outside({ width: 8, depth: 5 }, shopTool('groove-3'), { peck: 0.01 }),
      'blocking bad-number',
    ],
    [
      'a span that is gone',
      () => {
        const job = outside({ width: 8, depth: 5 });
        Object.assign(job.operations.groove, { span: { from: 'ghost', to: 'g3' } });
        return job;
      },
      'blocking span-lost',
    ],
  ])('%s', (_name, make, code) => {
    expect(serious(make())).toContain(code);
    expect(serious(make())).not.toContain('blocking gouge');
  });
});

describe('a picked element of a groove', () => {
  const part = buildPart(outside({ width: 8, depth: 5, lean: 10 }).part, 'mm');
  it.each(['g1', 'g2', 'g3'])('%s grows to floor and both walls', (id) => {
    expect(grooveOf(part, 'outer', { from: id, to: id })).toEqual({ from: 'g1', to: 'g3' });
  });
  it('may be one arc that hangs between two edges', () => {
    const belt = buildPart(
      groovedJob(
        {
          diameter: 50,
          length: 36,
          outer: [
            lineRow('g0', 50, -10),
            { ...lineRow('g1', 50, -16), kind: 'arc', radius: 3.2, clockwise: true } as unknown as ReturnType<
              typeof lineRow
            >,
          ],
        },
        { kind: 'outer-groove', tool: shopTool('groove-round-3'), span: { from: 'g1', to: 'g1' } },
      ).part,
      'mm',
    );
    expect(grooveOf(belt, 'outer', { from: 'g1', to: 'g1' })).toEqual({ from: 'g1', to: 'g1' });
    expect(grooveOf(belt, 'outer', { from: 'g0', to: 'g0' })).toBeNull();
  });
  it('is none where there is one wall, or the whole side', () => {
    expect(grooveOf(part, 'outer', { from: 'g0', to: 'g0' })).toBeNull();
    expect(grooveOf(part, 'outer', null)).toBeNull();
    expect(grooveOf(part, 'outer', { from: 'a', to: 'z' })).toBeNull();
  });
  it('is offered the blades that fit, ranked, those of the library too', () => {
    const job = outside({ width: 8, depth: 5 });
    job.order['1'] = job.order['1'].filter((id) => id !== 'groove');
    delete job.operations.groove;
    const found = candidatesFor(job, { from: 'g2', to: 'g2' }, 'outer', 'h1', undefined, [
      shopTool('groove-2'),
      shopTool('groove-4'),
    ]);
    const grooves = found.filter((c) => c.kind === 'outer-groove');
    expect(grooves.map((c) => c.tool)).toContain('groove-3');
    expect(
      grooves
        .filter((c) => c.put !== null)
        .map((c) => c.tool)
        .sort(),
    ).toEqual(['groove-2', 'groove-4']);
    for (const c of grooves) {
      expect(c.operation.span).toEqual({ from: 'g1', to: 'g3' });
      expect(c.reach).toBeGreaterThan(0.98);
    }
  });
});

describe('a blade and a groove of nearly its width', () => {
  it.each([3.99, 3.995, 3.998])('does not cut into the walls of one %d wide with a blade of 4', (width) => {
    const found = serious(outside({ width, depth: 0.5 }, shopTool('groove-4')));
    expect(found).toEqual(['blocking groove-narrow']);
  });
  it('rests on leaning walls whose mouth is as wide as it, and does not cut into them', () => {
    const found = serious(outside({ width: 4, depth: 0.5, lean: 20 }, shopTool('groove-4'), { allowance: 0 }));
    expect(found.filter((f) => f.includes('gouge'))).toEqual([]);
  });
  it('fills one of its own width', () => {
    const found = serious(outside({ width: 4, depth: 0.5 }, shopTool('groove-4')));
    expect(found.filter((f) => f.startsWith('blocking'))).toEqual([]);
  });
});

describe('random grooves', () => {
  it('outside, inside and in faces never gouge, leave walls without a step, and are read back as planned', () => {
    const number = (min: number, max: number) =>
      fc.double({ min, max, noNaN: true }).map((v) => Math.round(v * 100) / 100);
    const made = fc.record({
      side: fc.constantFrom('outer', 'outer', 'inner', 'face'),
      width: number(2.2, 16),
      depth: number(0.5, 5),
      lean: fc.constantFrom(0, 0, 10, 20, 30, 45),
      blade: fc.constantFrom('groove-2', 'groove-3', 'groove-4', 'groove-round-3'),
      bar: fc.constantFrom('groove-bar-2', 'groove-bar-3'),
      allowance: fc.constantFrom(0, 0.1, 0.3),
      passes: fc.constantFrom('both', 'both', 'finish', 'plunge'),
      peck: fc.constantFrom(0, 1.2),
      method: fc.constantFrom('plunge', 'turn', 'roll'),
      output: fc.constantFrom('moves', 'cycle'),
      level: fc.constantFrom(null, 0.4, 1.5),
      inner: number(24, 60),
      faceBlade: fc.constantFrom('groove-face-3-a', 'groove-face-4'),
    });
    const seed = Number(process.env.PROPERTY_SEED ?? Date.now() % 1_000_000);
    let cut = 0;
    fc.assert(
      fc.property(made, (p) => {
        const lean = Math.tan((p.lean * Math.PI) / 180) * p.depth;
        if (p.width < 2 * lean + 0.4) return;
        // only a round blade rolls
        const rolls = p.side === 'outer' && p.blade === 'groove-round-3';
        const method = p.method === 'roll' && !rolls ? 'turn' : p.method;
        const params = {
          passes: p.passes,
          allowance: p.allowance,
          peck: p.peck,
          method,
          depth: p.level,
          output: p.output,
        };
        const rows = (d: number, sign: 1 | -1) => [
          lineRow('g0', d, -9),
          lineRow('g1', d - sign * 2 * p.depth, Number((-9 - lean).toFixed(3))),
          lineRow('g2', d - sign * 2 * p.depth, Number((-9 - p.width + lean).toFixed(3))),
          lineRow('g3', d, -9 - p.width),
        ];
        const span = { from: 'g1', to: 'g3' };
        const job =
          p.side === 'outer'
            ? groovedJob(
                { diameter: 50, length: 32, outer: rows(50, 1) },
                { kind: 'outer-groove', tool: shopTool(p.blade), span, params },
              )
            : p.side === 'inner'
              ? groovedJob(
                  { diameter: 70, length: 32, bore: 36, outer: [], inner: rows(36, -1) },
                  { kind: 'inner-groove', tool: shopTool(p.bar), span, params },
                )
              : groovedJob(
                  {
                    diameter: 100,
                    length: 30,
                    bore: 22,
                    outer: [],
                    face: [
                      lineRow('g0', p.inner, 0),
                      lineRow('g1', Number((p.inner + 2 * lean).toFixed(3)), -p.depth),
                      lineRow('g2', Number((p.inner + 2 * p.width - 2 * lean).toFixed(3)), -p.depth),
                      lineRow('g3', p.inner + 2 * p.width, 0),
                    ],
                  },
                  { kind: 'face-groove', tool: shopTool(p.faceBlade), span, params },
                );
        const { op, d } = grooveOn(job);
        const codes = op.findings.filter((f) => f.severity === 'blocking').map((f) => f.code);
        for (const c of codes)
          if (!['groove-narrow', 'blade-too-short', 'face-groove-range'].includes(c))
            throw new Error(`seed ${seed}: ${c} ${JSON.stringify(p)}`);
        if (op.events.length === 0) return;
        cut++;
        const proof = proveJob(job, d, postJob(job, d, '').map(programText));
        const problems = proof.channels.flatMap((c) => [...c.problems, ...c.differences]);
        if (problems.length > 0 || proof.maxDeviation > 0.001 || proof.stock.thickness > 0.002)
          throw new Error(
            `seed ${seed}: ${JSON.stringify(p)} ${JSON.stringify(problems.slice(0, 2))} ${proof.maxDeviation} ${proof.stock.thickness}`,
          );
        const narrow = op.findings.some((f) => f.code === 'groove-narrow');
        if (p.passes !== 'both' || narrow || codes.length > 0) return;
        // what stays are the fillets of the blade's corners: (1 − π/4)·ρ² in each square corner, less in wider ones
        const rho = { 'groove-2': 0.2, 'groove-3': 0.2, 'groove-4': 0.4, 'groove-round-3': 1.5 }[p.blade] ?? 0.2;
        const corner = p.side === 'outer' ? rho : p.side === 'face' && p.faceBlade === 'groove-face-4' ? 0.4 : 0.2;
        const after = d.operations.find((o) => o.id === 'groove')?.after.turnedOutline ?? [];
        const w: [number, number, number, number] =
          p.side === 'outer'
            ? [-9 - p.width, 25 - p.depth, -9, 25]
            : p.side === 'inner'
              ? [-9 - p.width, 18, -9, 18 + p.depth]
              : [-p.depth, p.inner / 2, 0, p.inner / 2 + p.width];
        const left = regionArea(
          subtractRegion(intersectRegions(after, rectangle(...w)), buildPart(job.part, 'mm').region),
        );
        if (left > 2 * (1 - Math.PI / 4) * corner ** 2 + 0.004 * (p.width + 2 * p.depth))
          throw new Error(`seed ${seed}: ${left} mm² left ${JSON.stringify(p)}`);
      }),
      { numRuns: Number(process.env.PROPERTY_CASES ?? 120), seed },
    );
    expect(cut).toBeGreaterThan(5);
  });
});

describe('a neck at the back of a bored part', () => {
  it('ends where the part is cut off, not at its bore', () => {
    const { part } = derive(
      turnedJob({
        start: 10,
        outer: [
          lineRow('a', 50, 0),
          lineRow('b', 50, -8),
          lineRow('c', 24, -8, { kind: 'fillet', size: 2 }),
          lineRow('d', 24, -20),
          lineRow('e', 10, -20),
        ],
        inner: [lineRow('i', 10, -20)],
        bar: 52,
        length: 20,
        tools: [],
        operations: [],
      }),
    );
    for (const id of ['c', 'c/corner', 'd'])
      expect(grooveOf(part, 'outer', { from: id, to: id }), id).toEqual({ from: 'c', to: 'd' });
  });
});

describe('a groove that no blade of the library cuts', () => {
  it('is offered with the reason of the one that comes nearest', () => {
    const job = oneGroove(0.8);
    const found = candidatesFor(job, { from: 'c', to: 'e' }, 'outer', 'h1', new DeriveCache(), shopTools());
    const groove = found.filter((c) => c.kind === 'outer-groove');
    expect(groove).toHaveLength(1);
    expect(groove[0].reach).toBe(0);
    expect(groove[0].reason).toMatch(/^The groove is 0\.8 mm wide; the blade has \d/);
  });
});
