import { describe, expect, it } from 'vitest';
import { barOf, holdingOf } from '../../../tests/fixtures/holding';
import { demoJob, lineRow } from '../../../tests/fixtures/jobs';
import { blindBore, operation, setTool, tool, turnedJob } from '../../../tests/fixtures/turned';
import { isMove, type MotionEvent } from '../motion';
import { postJob, programText, proveJob } from '../nc';
import { derive, type Job } from '../plan';

const params = (j: Job, id: string): Record<string, unknown> =>
  (j.operations[id] as unknown as { params: Record<string, unknown> }).params;
const serious = (j: Job): string[] =>
  derive(j)
    .findings.filter((f) => f.severity !== 'info')
    .map((f) => f.code);
const cuts = (events: readonly MotionEvent[]) =>
  events.filter((e) => isMove(e) && e.kind !== 'rapid' && e.purpose === 'cut');
const proven = (job: Job) => {
  const d = derive(job);
  return { d, proof: proveJob(job, d, postJob(job, d, '').map(programText)) };
};

const rightHand = tool({ id: 'rough', kind: 'turning', insert: 'CNMG120408', approachAngle: 95, overhang: 60 });
const slim = tool({ id: 'slim', kind: 'turning', insert: 'VBMT160404', approachAngle: 93, overhang: 60 });

describe('a roughing cycle', () => {
  it('keeps every level pass whatever the safe distance (LM-101 with 3 mm)', () => {
    const count = (safe: number): number => {
      const job = demoJob('LM-101');
      holdingOf(job).safeDistance = safe;
      const { d, proof } = proven(job);
      expect(proof.agrees).toBe(true);
      const op3 = d.operations.find((o) => o.id === 'op3');
      expect(op3?.events.some((e) => e.kind === 'cycle')).toBe(true);
      return cuts(op3?.events ?? []).length;
    };
    const usual = count(1);
    for (const safe of [0.3, 2, 3, 5]) expect(Math.abs(count(safe) - usual)).toBeLessThanOrEqual(1);
  });
  it('goes up a wall as a wall: ⌀20 to Z−10, ⌀30 to Z−20', () => {
    const job = turnedJob({
      outer: [
        lineRow('a', 20, 0),
        lineRow('b', 20, -10),
        lineRow('c', 30, -10),
        lineRow('d', 30, -20),
        lineRow('e', 0, -20),
      ],
      bar: 36,
      length: 20,
      tools: [rightHand],
      operations: [
        operation({
          id: 'r',
          kind: 'outer-rough',
          tool: 'rough',
          params: { depth: 2, output: 'cycle', extendBehind: 3 },
        }),
      ],
    });
    const { d, proof } = proven(job);
    expect(proof.ok).toBe(true);
    const [text] = postJob(job, d, '').map(programText);
    expect(text).toMatch(/N10\d Z-10\.\nN10\d X30\.\nN10\d Z-23\./);
  });
});

describe('blind bores', () => {
  it('a flat-bottomed ⌀20 × 15 comes out with 72 pairs of drill and bar, as moves and as cycles', {
    timeout: 240_000,
  }, () => {
    const bars = [
      { insert: 'CCMT060202', barDiameter: 5, noseToAxis: 3.2 },
      { insert: 'CCMT060204', barDiameter: 8, noseToAxis: 5 },
      { insert: 'DCMT070204', barDiameter: 6, noseToAxis: 4 },
    ];
    let made = 0;
    for (const diameter of [10, 12, 14, 16])
      for (const pointAngle of [118, 140, 179])
        for (const bar of bars)
          for (const output of ['moves', 'cycle']) {
            const job = blindBore(
              20,
              15,
              [
                tool({ id: 'drill', kind: 'drill', diameter, pointAngle, fluteLength: 40, overhang: 60 }),
                tool({ id: 'bar', kind: 'boring', bar: 'carbide', approachAngle: 95, overhang: 30, ...bar }),
              ],
              [
                operation({ id: 'd', kind: 'drill', tool: 'drill', params: { depth: 15, depthTo: 'point', peck: 5 } }),
                operation({ id: 'r', kind: 'inner-rough', tool: 'bar', params: { depth: 1, allowanceX: 0.3, output } }),
                operation({
                  id: 'f',
                  kind: 'inner-finish',
                  tool: 'bar',
                  params: { output, compensation: made % 2 ? 'control' : 'computed' },
                }),
              ],
            );
            const { d, proof } = proven(job);
            const label = `⌀${diameter} ${pointAngle}° ${bar.insert} ${output}`;
            const told = d.findings.filter((f) => f.severity !== 'info').map((f) => f.code);
            // a nose leaves its round in the sharp corner of the bottom; that is told as leftover and nothing else is
            expect(
              told.filter((c) => c !== 'bar-overhang'),
              label,
            ).toEqual(['leftover']);
            expect(
              d.coverage.filter((c) => c.side === 'inner').every((c) => c.state === 'finished'),
              label,
            ).toBe(true);
            expect(d.leftoverVolume, label).toBeLessThan(2.2);
            expect(proof.ok, label).toBe(true);
            for (const o of d.operations)
              for (const e of o.events) if (isMove(e)) expect(e.to.X ?? 0, label).toBeGreaterThan(-0.5);
            made++;
          }
    expect(made).toBe(72);
  });
  it('says when the hole is too short or too small', () => {
    const job = demoJob('LM-101');
    Object.assign(params(job, 'op2'), { depth: 8 });
    expect(serious(job)).toContain('bore-shallow');
    expect(
      serious(
        blindBore(
          20,
          15,
          [
            tool({
              id: 'bar',
              kind: 'boring',
              insert: 'CCMT060204',
              approachAngle: 95,
              barDiameter: 8,
              noseToAxis: 5,
              overhang: 30,
            }),
          ],
          [operation({ id: 'r', kind: 'inner-rough', tool: 'bar', params: { depth: 1 } })],
        ),
      ),
    ).toContain('bore-undrilled');
  });
  it('LM-118 with its spans cleared does not gouge', () => {
    const job = demoJob('LM-118');
    for (const id of ['op4', 'op6']) Object.assign(job.operations[id], { span: null });
    expect(serious(job)).not.toContain('gouge');
    expect(serious(job)).not.toContain('metal-missing');
  });
  it('leaves an hourglass bore through its neck', () => {
    const job = turnedJob({
      start: 30,
      outer: [lineRow('o1', 44, 0), lineRow('o2', 44, -30), lineRow('o3', 24, -30)],
      inner: [lineRow('i1', 22, -12), lineRow('i2', 22, -18), lineRow('i3', 24, -30)],
      bar: 44,
      length: 30,
      tools: [
        tool({ id: 'drill', kind: 'drill', diameter: 20, fluteLength: 60, overhang: 80 }),
        tool({
          id: 'bar',
          kind: 'boring',
          bar: 'carbide',
          insert: 'DCMT070204',
          approachAngle: 93,
          barDiameter: 8,
          noseToAxis: 6,
          overhang: 48,
        }),
      ],
      operations: [
        operation({ id: 'd', kind: 'drill', tool: 'drill', params: { depth: null, breakThrough: 2, peck: 10 } }),
        operation({ id: 'r', kind: 'inner-rough', tool: 'bar', params: { depth: 1, undercuts: 'enter' } }),
        operation({ id: 'f', kind: 'inner-finish', tool: 'bar', params: { undercuts: 'enter' } }),
      ],
    });
    const { d, proof } = proven(job);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    expect(proof.ok).toBe(true);
    expect(d.coverage.filter((c) => c.side === 'inner').every((c) => c.left < 0.02)).toBe(true);
  });
});

describe('compensation by the control', () => {
  it('gives way to computed moves where the nose bridges a hollow (groove 1 wide, 2 deep)', () => {
    const job = turnedJob({
      outer: [
        lineRow('a', 30, 0),
        lineRow('b', 30, -10),
        lineRow('c', 26, -10),
        lineRow('d', 26, -11),
        lineRow('e', 30, -11),
        lineRow('f', 30, -24),
        lineRow('g', 0, -24),
      ],
      bar: 31,
      length: 24,
      tools: [tool({ id: 'wide', kind: 'turning', insert: 'VBMT160408', approachAngle: 93, overhang: 60 })],
      operations: [
        operation({
          id: 'f',
          kind: 'outer-finish',
          tool: 'wide',
          params: { compensation: 'control', extendBehind: 3 },
        }),
      ],
    });
    const { d, proof } = proven(job);
    expect(d.findings.map((f) => f.code)).toContain('compensation-not-possible');
    expect(proof.ok).toBe(true);
    expect(proof.maxDeviation).toBeLessThanOrEqual(0.001);
  });
});

describe('tools', () => {
  const pin = (operations: ReturnType<typeof operation>[], tools = [rightHand, slim]): Job =>
    turnedJob({
      outer: [
        lineRow('a', 20, 0),
        lineRow('b', 20, -15),
        lineRow('c', 28, -15),
        lineRow('d', 28, -25),
        lineRow('e', 0, -25),
      ],
      bar: 30,
      length: 25,
      tools,
      operations,
    });
  const drill = tool({ id: 'drill', kind: 'drill', diameter: 10, fluteLength: 40, overhang: 60 });
  const blade = tool({ id: 'blade', kind: 'cutoff', width: 3, reach: 18 });
  const left = tool({
    id: 'left',
    kind: 'turning',
    insert: 'DCMT11T304',
    approachAngle: 93,
    overhang: 60,
    hand: 'left',
  });
  const both = tool({ id: 'both', kind: 'turning', insert: 'VBMT160404', approachAngle: 72.5, overhang: 60 });
  it.each<[string, ReturnType<typeof tool>, Record<string, unknown>, string]>([
    ['a drill for outer roughing', drill, { kind: 'outer-rough', params: { depth: 1 } }, 'wrong-tool'],
    ['a blade for facing', blade, { kind: 'face', params: { depth: 1 } }, 'wrong-tool'],
    ['a turning tool for boring', slim, { kind: 'inner-rough', params: { depth: 1 } }, 'wrong-tool'],
    ['a left-hand tool for facing', left, { kind: 'face', params: { depth: 1 } }, 'wrong-hand'],
    ['an edge that leans over the face', both, { kind: 'face', params: { depth: 1 } }, 'wrong-hand'],
  ])('refuse %s', (_name, t, op, code) => {
    expect(serious(pin([operation({ id: 'x', tool: t.id, ...op })], [t]))).toContain(code);
  });
  it('feed a left-hand tool away from the chuck, and turn the spindle for the way up', () => {
    const directions = (
      t: ReturnType<typeof tool>,
      wayUp: 'usual' | 'turned' = 'usual',
    ): { feeds: number; spindle: string } => {
      const job = pin([operation({ id: 'r', kind: 'outer-rough', tool: t.id, params: { depth: 1 } })], [t]);
      job.mounts.upper['1']['1'].wayUp = wayUp;
      const { d, proof } = proven(job);
      expect(proof.agrees).toBe(true);
      expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
      let along = 0;
      let at: number | null = null;
      let spindle = '';
      for (const e of d.operations[0].events) {
        if (e.kind === 'spindle') spindle = e.direction;
        if (!isMove(e)) continue;
        if (e.kind === 'feed' && e.purpose === 'cut' && at !== null) along += (e.to.Z ?? at) - at;
        at = e.to.Z ?? at;
      }
      return { feeds: Math.sign(along), spindle };
    };
    expect(directions(slim)).toEqual({ feeds: -1, spindle: 'forward' });
    expect(directions(left)).toEqual({ feeds: 1, spindle: 'forward' });
    expect(directions(left, 'turned')).toEqual({ feeds: -1, spindle: 'reverse' });
  });
  it('a left-hand boring bar stands like a right-hand one and turns the spindle the other way', () => {
    const job = demoJob('LM-118');
    setTool(job, 'bore-12', { holder: { hand: 'left' } });
    const d = derive(job);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    const spindle = d.operations.find((o) => o.id === 'op4')?.events.find((e) => e.kind === 'spindle');
    expect(spindle?.kind === 'spindle' && spindle.direction).toBe('reverse');
  });
  it('finish with an approach angle of 45° and 60°', () => {
    for (const approachAngle of [45, 60]) {
      const t = tool({ id: 't', kind: 'turning', insert: 'SNMG120408', approachAngle, overhang: 60 });
      const job = turnedJob({
        outer: [lineRow('a', 24, 0, { kind: 'chamfer', size: 1 }), lineRow('b', 24, -20), lineRow('c', 0, -20)],
        bar: 25,
        length: 20,
        tools: [t],
        operations: [operation({ id: 'f', kind: 'outer-finish', tool: 't', params: { extendBehind: 2 } })],
      });
      expect(derive(job).findings.filter((f) => f.severity === 'blocking')).toEqual([]);
      expect(derive(job).coverage.find((c) => c.element === 'b')?.state).toBe('finished');
    }
  });
  it('a holder that meets stock before the insert has cut it is seen', () => {
    // a deep plunge beside a shoulder: the short edge goes down, the holder comes to the bar
    const stub = tool({
      id: 'stub',
      kind: 'turning',
      insert: 'DCMT070204',
      approachAngle: 93,
      shank: 25,
      overhang: 40,
    });
    const d = derive(
      turnedJob({
        outer: [
          lineRow('a', 20, 0),
          lineRow('b', 20, -30),
          lineRow('c', 60, -30),
          lineRow('d', 60, -40),
          lineRow('e', 0, -40),
        ],
        bar: 62,
        length: 40,
        tools: [stub],
        operations: [operation({ id: 'f', kind: 'outer-finish', tool: 'stub', params: {} })],
      }),
    );
    // never driven through: either the path keeps off, or it is told
    const told = d.findings.some(
      (f) => f.code === 'holder-meets-stock' || f.code === 'not-approachable' || f.code === 'finish-too-deep',
    );
    expect(told || d.leftoverVolume > 1000).toBe(true);
  });
});

describe('what is said of a whole job', () => {
  it('two channels on one body with no marks are unsynchronised', async () => {
    const { twoChannelJob } = await import('../../../tests/fixtures/twoChannel');
    expect(serious(twoChannelJob())).not.toContain('unsynchronised');
    const bare = twoChannelJob((j) => {
      for (const c of ['1', '2']) j.order[c] = j.order[c].filter((id) => j.operations[id].kind !== 'wait');
      for (const [id, op] of Object.entries(j.operations)) if (op.kind === 'wait') delete j.operations[id];
    });
    expect(serious(bare)).toContain('unsynchronised');
  });
  it('a cutoff that does not come through is told, with the amount', () => {
    const job = demoJob('LM-118');
    setTool(job, 'cutoff-3', { cutter: { leadAngle: 8 } });
    Object.assign(params(job, 'op7'), { pastCentre: 0 });
    const f = derive(job).findings.find((k) => k.code === 'not-severed');
    expect(f).toBeDefined();
    Object.assign(params(job, 'op7'), { pastCentre: (f as unknown as { numbers: { needed: number } }).numbers.needed });
    expect(serious(job)).not.toContain('not-severed');
  });
  it('leftover and missing metal are told without a cutoff, and an idle job says so', () => {
    const job = demoJob('LM-118');
    job.operations.op7.on = false;
    job.operations.op5.on = false;
    expect(serious(job)).toContain('leftover');
    const small = demoJob('LM-118');
    barOf(small).diameter = 45;
    expect(serious(small)).toContain('metal-missing');
    const idle = demoJob('LM-118');
    for (const op of Object.values(idle.operations)) op.on = false;
    expect(serious(idle)).toEqual(['nothing-made']);
  });
  it('metal behind the back face is compared once the part is off', () => {
    const job = demoJob('LM-118');
    setTool(job, 'cutoff-3', { cutter: { leadAngle: 15 } });
    const d = derive(job);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    expect(Math.min(...d.finished.turnedOutline.flat().map((p) => p.x))).toBeLessThanOrEqual(-36);
  });
  it('deep drilling in one go is told, with a remedy that cures it', () => {
    const job = demoJob('LM-101');
    Object.assign(params(job, 'op2'), { peck: 0 });
    setTool(job, 'drill-11', { cutter: { diameter: 7 } });
    const f = derive(job).findings.find((k) => k.code === 'drill-needs-pecks');
    expect(f?.remedy?.set).toEqual({ '/operations/op2/params/peck': 7 });
  });
});

describe('numbers that cannot be meant', () => {
  it('are told and never hang', () => {
    const slow: [string, (j: Job) => void][] = [
      [
        'depth',
        (j) => {
          barOf(j).diameter = 900;
          Object.assign(params(j, 'op3'), { depth: 0.02 });
        },
      ],
      ['pecks', (j) => void Object.assign(params(j, 'op2'), { peck: 0.05, depth: 900 })],
    ];
    for (const [, change] of slow) {
      const job = demoJob('LM-118');
      change(job);
      const d = derive(job);
      expect(d.findings.some((f) => f.severity === 'blocking')).toBe(true);
    }
  });
});
