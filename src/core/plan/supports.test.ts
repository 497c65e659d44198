import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { bendFree, bendSupported, bendWith } from '../cutting';
import { type Finding, type FindingCode, wordFinding } from '../findings';
import { point, regionBounds } from '../geometry';
import { centreRegion, centreSeat, restSeat } from '../holding';
import { movesOf } from '../motion';
import { postJob, programText, proveJob } from '../nc';
import { candidatesFor } from './candidates';
import { type Derived, derive } from './derive';
import { withValues } from './diff';
import type { Job } from './document';

const CENTRE = { point: 12, nose: 42, body: { diameter: 44, length: 60 }, quill: { diameter: 60, length: 120 } };
const TAN = Math.tan(Math.PI / 6);

/** Bending of a clamped bar on supports by beam elements between all places that matter: another way than the product's. */
const byElements = (force: number, a: number, supports: readonly number[], ei: number): number => {
  const nodes = [...new Set([0, ...supports, a])].sort((p, q) => p - q);
  const size = nodes.length * 2;
  const k = Array.from({ length: size }, () => new Array<number>(size + 1).fill(0));
  for (let i = 1; i < nodes.length; i++) {
    const l = nodes[i] - nodes[i - 1];
    const [c, d, e, f] = [(12 * ei) / l ** 3, (6 * ei) / l ** 2, (4 * ei) / l, (2 * ei) / l];
    const m = [
      [c, d, -c, d],
      [d, e, -d, f],
      [-c, -d, c, -d],
      [d, f, -d, e],
    ];
    const at = [2 * i - 2, 2 * i - 1, 2 * i, 2 * i + 1];
    for (let p = 0; p < 4; p++) for (let q = 0; q < 4; q++) k[at[p]][at[q]] += m[p][q];
  }
  k[2 * nodes.indexOf(a)][size] = force;
  const fixed = [0, 1, ...supports.map((s) => 2 * nodes.indexOf(s))];
  for (const f of fixed) {
    for (let q = 0; q <= size; q++) k[f][q] = 0;
    k[f][f] = 1;
  }
  for (let i = 0; i < size; i++) {
    const best = Array.from({ length: size - i }, (_, r) => i + r).reduce((m, r) =>
      Math.abs(k[r][i]) > Math.abs(k[m][i]) ? r : m,
    );
    [k[i], k[best]] = [k[best], k[i]];
    for (let r = 0; r < size; r++) {
      if (r === i) continue;
      const share = k[r][i] / k[i][i];
      for (let q = i; q <= size; q++) k[r][q] -= share * k[i][q];
    }
  }
  const row = 2 * nodes.indexOf(a);
  return Math.abs(k[row][size] / k[row][row]);
};

describe('work that is held in front of the jaws', () => {
  const [e, i] = [210_000, (Math.PI * 20 ** 4) / 64];
  it('bends as one held at one end, and as one between chuck and centre', () => {
    expect(bendWith(200, 60, [], e, i)).toBeCloseTo(bendFree(200, 60, e, i), 12);
    // tables.md: ⌀20, L 200 with tailstock, F 300: mid .0132629, worst .0142784 at 117.157
    expect(bendWith(300, 100, [200], e, i)).toBeCloseTo(0.0132629, 6);
    expect(bendWith(300, 117.157, [200], e, i)).toBeCloseTo(0.0142784, 6);
    for (const a of [1, 33, 150, 199])
      expect(bendWith(300, a, [200], e, i)).toBeCloseTo(bendSupported(300, 200, a, e, i), 9);
  });
  it('bends on several supports as beam elements say, not at all at a support, and less with one more', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: 20, max: 700 }), { minLength: 1, maxLength: 3 }),
        fc.integer({ min: 5, max: 800 }),
        (supports, a) => {
          const bent = bendWith(100, a, supports, e, i);
          expect(bent).toBeCloseTo(byElements(100, a, supports, e * i), 6);
          expect(bendWith(100, supports[0], supports, e, i)).toBeCloseTo(0, 9);
          expect(bent).toBeLessThanOrEqual(bendWith(100, a, supports.slice(1), e, i) + 1e-9);
        },
      ),
      { numRuns: 200 },
    );
  });
});

describe('where a centre stands', () => {
  const shaft = (front: ReturnType<typeof point>[]) => [[point(-100, 0), ...front, point(0, 15), point(-100, 15)]];
  it('is the cone of its hole, or the edge of a plain one', () => {
    const coned = centreSeat(shaft([point(-5 / TAN, 0), point(0, 5)]), CENTRE);
    expect(coned).toMatchObject({ hole: true });
    expect(coned?.apex).toBeCloseTo(-5 / TAN, 6);
    const plain = centreSeat(shaft([point(-30, 0), point(-30, 4), point(0, 4)]), CENTRE);
    expect(plain).toMatchObject({ hole: true, radius: 4 });
    expect(plain?.apex).toBeCloseTo(-4 / TAN, 6);
  });
  it('is nowhere on a plain face, and in a bore that is wider than the point', () => {
    expect(centreSeat(shaft([point(0, 0)]), CENTRE)).toMatchObject({ apex: 0, hole: false });
    expect(centreSeat(shaft([point(-30, 0), point(-30, 9), point(0, 9)]), CENTRE)?.hole).toBe(false);
    expect(centreSeat([], CENTRE)).toBeNull();
  });
  it('has the length of point, nose, body and quill', () => {
    const b = regionBounds(centreRegion(-3, CENTRE));
    expect(b).toEqual({ minX: -3, maxX: -3 + 6 / TAN + 42 + 60 + 120, minY: 0, maxY: 30 });
  });
  it('of rollers is told by what lies under their width', () => {
    const stepped = [[point(-100, 0), point(0, 0), point(0, 10), point(-50, 10), point(-50, 15), point(-100, 15)]];
    const rest = { width: 20, diameter: 200 };
    expect(restSeat(stepped, -20, rest)).toEqual({ radius: 10, least: 10 });
    expect(restSeat(stepped, -50, rest)).toEqual({ radius: 15, least: 10 });
    expect(restSeat(stepped, 5, rest).least).toBe(0);
  });
});

const remedied = (job: Job, f: Finding | undefined): Job => withValues(structuredClone(job), f?.remedy?.set ?? {});

describe('LM-140 between chuck and centre', () => {
  const shaft = (change: (job: Job) => void = () => undefined): Job => {
    const job = demoJob('LM-140');
    change(job);
    return job;
  };
  const noRest = (j: Job): void => {
    for (const id of ['op11', 'op12']) j.operations[id].on = false;
  };
  const codes = (d: Derived): string[] =>
    d.findings.flatMap((f) => (f.severity === 'info' ? [] : [`${f.code} ${f.operation ?? 'job'}`]));
  const moved = (job: Job, id: string, to: number): void => {
    job.order['1'] = job.order['1'].filter((k) => k !== id);
    job.order['1'].splice(to, 0, id);
  };
  const steady = (job: Job, z: number, to: number): void => {
    noRest(job);
    const params = { device: 'steady' as const, action: 'on' as const, z, time: 1 };
    const { op9 } = job.operations;
    if (op9.kind === 'support') job.operations.op14 = { ...op9, id: 'op14', name: 'Rest', params };
    job.order['1'].splice(to, 0, 'op14');
  };
  it('is held from the centre hole to the cutoff, by a rest while its front is finished, and told nothing', () => {
    const d = derive(shaft());
    expect(codes(d)).toEqual([]);
    const held = (by: string): string[] =>
      d.operations.filter((o) => o.supports.some((s) => s.device === by)).map((o) => o.id);
    expect(held('tailstock')).toEqual(['op9', 'op3', 'op4', 'op11', 'op5', 'op7', 'op12', 'op13', 'op6']);
    expect(held('steady')).toEqual(['op11', 'op5', 'op7']);
    expect(codes(derive(shaft(noRest)))).toEqual(['steady-wanted job']);
    // finished between supports it bends a thirtieth of what it did freely
    const free = derive(shaft((j) => void (j.operations.op9.on = false)));
    const bend = (of: Derived): number => of.operations.find((o) => o.id === 'op13')?.load?.bend ?? 0;
    expect(bend(free) / bend(d)).toBeGreaterThan(25);
    expect(codes(free)).toContain('part-bends op13');
    const alone = derive(
      shaft((j) => {
        noRest(j);
        j.operations.op9.on = false;
      }),
    );
    expect(codes(alone)).toContain('unsupported job');
    expect(codes(free)).toContain('support-not-on op10');
  });
  it('is proved with the codes of its tailstock, and a program without them is not', () => {
    const job = shaft();
    const d = derive(job);
    const texts = postJob(job, d, '').map(programText);
    expect(texts[0].match(/^M2[1-4]$/gm)).toEqual(['M21', 'M23', 'M24', 'M22']);
    expect(proveJob(job, d, texts).ok).toBe(true);
    expect(proveJob(job, d, [texts[0].replace(/^M21$/m, '')]).agrees).toBe(false);
    expect(proveJob(job, d, [texts[0].replace(/^M21$/m, 'M22')]).agrees).toBe(false);
  });
  it.each<[string, (j: Job) => void, FindingCode, string]>([
    ['a centre before its hole', (j) => moved(j, 'op9', 1), 'support-no-centre', 'op9'],
    ['facing with the centre in', (j) => moved(j, 'op1', 3), 'support-in-the-way', 'op1'],
    ['a cutoff against the centre', (j) => void (j.operations.op10.on = false), 'support-pushes', 'op8'],
    ['a rest in the way of a pass', (j) => steady(j, -300, 5), 'tool-meets-support', 'op13'],
    ['a rest on a shoulder', (j) => steady(j, -60, 7), 'support-uneven', 'op14'],
    ['a rest on the jaws', (j) => steady(j, -635, 4), 'support-no-work', 'op14'],
    ['a rest in the air', (j) => steady(j, 30, 4), 'support-no-work', 'op14'],
    [
      'a machine whose channel has no tailstock',
      (j) => void (j.machine = { ...j.machine, channels: j.machine.channels.map((c) => ({ ...c, devices: [] })) }),
      'device-missing',
      'op9',
    ],
    [
      'a tailstock that does not come so far',
      (j) => {
        const links = j.machine.links.map((l) =>
          l.id === 'tailstock' && l.joint ? { ...l, joint: { ...l.joint, min: 900 } } : l,
        );
        j.machine = { ...j.machine, links };
      },
      'support-travel',
      'op9',
    ],
    [
      'a time that cannot be',
      (j) => void Object.assign((j.operations.op9 as { params: object }).params, { time: -1 }),
      'bad-number',
      'op9',
    ],
  ])('%s: told', (_what, change, code, op) => {
    const job = shaft(change);
    const d = derive(job);
    expect(codes(d)).toContain(`${code} ${op}`);
    const f = d.findings.find((k) => k.code === code && k.operation === op);
    if (f) expect(wordFinding(f).remedy.length).toBeGreaterThan(10);
  });
  it('a tailstock does not come to work in a spindle that faces the main one', () => {
    const job = demoJob('LM-212');
    const sub = job.holdingOrder.find((id) => job.holdings[id].stock.form !== 'bar') ?? '';
    const [channel] = job.machine.channels;
    job.machine = {
      ...job.machine,
      devices: [...job.machine.devices, { id: 'tailstock', name: 'Tailstock', kind: 'tailstock', link: null }],
      channels: job.machine.channels.map((c) => ({ ...c, devices: [...c.devices, 'tailstock'] })),
    };
    const { op9 } = demoJob('LM-140').operations;
    job.operations.tail = { ...op9, id: 'tail', holding: sub, channel: channel.id } as Job['operations'][string];
    job.order[channel.id] = [...job.order[channel.id], 'tail'];
    expect(codes(derive(job))).toContain('support-faces-away tail');
  });
  it('a rest on a turned place holds, where the tools stay in front of it', () => {
    const job = shaft((j) => steady(j, -400, 4));
    for (const id of ['op4', 'op5', 'op6', 'op8', 'op13']) job.operations[id].on = false;
    const thread = derive(job).operations.find((o) => o.id === 'op7');
    expect(thread?.supports.map((s) => s.device).sort()).toEqual(['steady', 'tailstock']);
    expect(codes(derive(job)).filter((c) => c.startsWith('tool-meets'))).toEqual([]);
  });
  it('what can cut is tried with the centre that stands there', () => {
    // without the thread its place is turned again from the front, past the point
    const job = shaft((j) => {
      for (const id of ['op3', 'op5']) j.operations[id].on = false;
    });
    const found = candidatesFor(job, { from: 'o1', to: 'o4' }, 'outer', 'h1').filter((c) => c.reach > 0);
    expect(found.length).toBeGreaterThan(0);
    for (const c of found.slice(0, 3)) {
      const made = structuredClone(job);
      made.operations.op20 = { ...c.operation, id: 'op20' };
      made.order['1'].splice(made.order['1'].indexOf('op4'), 0, 'op20');
      const own = derive(made).findings.filter((f) => f.operation === 'op20' && f.severity === 'blocking');
      expect(own.map((f) => f.code)).toEqual([]);
    }
  });
  it('is come to over the centre: along Z first, and back along X first', () => {
    // a tool change as near to the axis as the usual one of a new job
    const d = derive(shaft((j) => void (j.holdings.h1.toolChange = { diameter: 130, z: 100 })));
    expect(codes(d)).toEqual([]);
    const away = (m: { X: number; Z: number }): boolean => Math.abs(m.X - 65) < 1e-9 && Math.abs(m.Z - 100) < 1e-9;
    let ways = 0;
    for (const o of d.operations.filter((k) => k.supports.some((s) => s.device === 'tailstock')))
      for (const m of movesOf(o.events)) {
        if (away(m.from) === away(m.to)) continue;
        ways++;
        expect(m.from.X, `${o.id} ${m.index}`).toBeCloseTo(65, 9);
        expect(m.to.X, `${o.id} ${m.index}`).toBeCloseTo(65, 9);
      }
    expect(ways).toBe(12);
    // without a centre it goes straight there
    const free = movesOf(d.operations.find((o) => o.id === 'op8')?.events ?? []).find(
      (m) => away(m.from) && !away(m.to),
    );
    expect(free?.to.X).toBeLessThan(60);
  });
  it('has room for a threading tool beside its point, at the usual tool change', () => {
    const job = shaft((j) => {
      noRest(j);
      j.order['1'] = j.order['1'].filter((k) => k !== 'op7');
      delete (j.operations as Record<string, unknown>).op7;
      j.holdings.h1.toolChange = { diameter: 130, z: 100 };
    });
    const found = candidatesFor(job, { from: 'o2', to: 'o2' }, 'outer', 'h1').filter((c) => c.kind === 'outer-thread');
    expect(found.some((c) => c.makes === 'M16x1.5' && c.reach > 0.99 && !c.reason)).toBe(true);
  });
  it('remedies do what they say', () => {
    const pushed = shaft((j) => void (j.order['1'] = j.order['1'].filter((k) => k !== 'op10')));
    delete (pushed.operations as Record<string, unknown>).op10;
    const cured = remedied(
      pushed,
      derive(pushed).findings.find((f) => f.code === 'support-pushes'),
    );
    expect(codes(derive(cured))).toEqual([]);
    const bare = shaft((j) => {
      noRest(j);
      j.order['1'] = j.order['1'].filter((k) => k !== 'op9' && k !== 'op10');
    });
    for (const id of ['op9', 'op10']) delete (bare.operations as Record<string, unknown>)[id];
    const held = remedied(
      bare,
      derive(bare).findings.find((f) => f.code === 'unsupported'),
    );
    expect(codes(derive(held))).toEqual(['steady-wanted job', 'support-pushes op8']);
  });
});
