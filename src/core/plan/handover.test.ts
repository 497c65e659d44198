import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { jointOf } from '../../../tests/fixtures/machines';
import { wordFinding } from '../findings';
import { point, regionBounds, regionVolume } from '../geometry';
import { MachineSchema } from '../machine';
import { isMove, type MotionEvent } from '../motion';
import { postJob, programText, proveJob } from '../nc';
import { OperationSchema } from '../operations';
import { mountedAt, usualMount } from '../tooling';
import { derive, heldIn } from './derive';
import { withValues } from './diff';
import { type Job, JobSchema } from './document';
import { hashRegion } from './hash';
import { trackOf } from './view';

const bushing = (change: (job: Job) => void = () => undefined): Job => {
  const job = demoJob('LM-212');
  change(job);
  return job;
};
const serious = (job: Job): string[] =>
  derive(job).findings.flatMap((f) =>
    f.severity === 'info' ? [] : [f.operation ? `${f.code} ${f.operation}` : f.code],
  );
const idOf = (job: Job, kind: string): string => Object.values(job.operations).find((o) => o.kind === kind)?.id ?? '';
const params = (job: Job, id: string): Record<string, unknown> =>
  job.operations[id] as never as Record<string, never>['params'];
const set = (job: Job, id: string, values: object): void => {
  Object.assign((params(job, id) as { params: object }).params, values);
};

describe('a part handed over to the sub-spindle', () => {
  const job = bushing();
  const d = derive(job);
  it('is sound: nothing stands against it, and the part is done', () => {
    expect(serious(job)).toEqual([]);
    expect(d.coverage.every((c) => c.state === 'finished')).toBe(true);
    expect(regionVolume(d.finished.turnedOutline) / d.part.volume).toBeCloseTo(1, 4);
  });
  it('meets where chuck, jaws, grip and part say', () => {
    // main: face at 0, jaws 30, stick-out 82 of which 1 is allowance: the part's front lies at 30 + 81
    expect(heldIn(d, 'h1').zeroZ).toBe(111);
    const slides = d.operations
      .flatMap((o) => o.events)
      .flatMap((e) => (e.kind === 'slide' ? [[e.to, e.feed, e.limited]] : []));
    // the sub-spindle's face stands behind its jaws of 30, which hold 18 of the part; 5 before that the feed begins
    expect(slides).toEqual([
      [111 + 30 - 18 + 18 + 5, null, false],
      [111 + 30 - 18, 600, true],
      [620, null, false],
    ]);
    // at home the zero lies a part's length and the rest of the jaws in front of the chuck's face
    expect(heldIn(d, 'h2').zeroZ).toBeCloseTo(620 - (30 - 18) - 64, 9);
  });
  it('follows the order of a handover: open, in step, come, grip, close, wait; then the cutoff, then back', () => {
    const what = (id: string): string[] =>
      (d.operations.find((o) => o.id === id)?.events ?? []).map((e: MotionEvent) =>
        e.kind === 'device' ? `${e.device} ${e.action}` : e.kind === 'synchronise' ? `in step ${e.on}` : e.kind,
      );
    expect(what('op7')).toEqual([
      'chuck sub open',
      'spindle',
      'in step true',
      'slide',
      'slide',
      'chuck sub close',
      'dwell',
    ]);
    expect(what('op9')).toEqual(['in step false', 'slide']);
    const at = (id: string) => d.operations.find((o) => o.id === id)?.times ?? { start: Number.NaN, end: Number.NaN };
    expect(at('op8').start).toBeGreaterThanOrEqual(at('op7').end - 1e-9);
    expect(at('b1').start).toBeGreaterThanOrEqual(at('op9').end - 1e-9);
  });
  it('has the blade standing ready before the jaws open, so that it cuts as soon as both hold the part', () => {
    const events = d.program.channels[0].events;
    const at = (found: (e: MotionEvent) => boolean): number => events.findIndex(found);
    const called = at((e) => e.kind === 'tool' && e.tool === 'cutoff-3');
    const opened = at((e) => e.kind === 'device' && e.device === 'chuck sub' && e.action === 'open');
    const closed = at((e) => e.kind === 'device' && e.device === 'chuck sub' && e.action === 'close');
    expect(called).toBeGreaterThan(0);
    expect(called).toBeLessThan(opened);
    // from there to the first cut the tool moves no more, and none is called
    const first = events.findIndex((e, i) => i > closed && e.kind === 'feed');
    expect(events.slice(opened, first).filter((e) => isMove(e) || e.kind === 'tool')).toEqual([]);
    // it stands where the cut begins, over the blade's place
    const last = events.slice(0, opened).findLast(isMove);
    expect(last?.kind).toBe('rapid');
    expect(last?.to.X).toBeGreaterThan(24);
    const own = d.operations.find((o) => o.id === 'op8')?.events ?? [];
    expect(last && isMove(last) ? last.to : null).toEqual(
      own
        .slice(
          0,
          own.findIndex((e) => e.kind === 'feed'),
        )
        .findLast(isMove)?.to,
    );
  });
  it('has a blade of the other channel ready meanwhile, between the marks that tie it to the handover, and shows it there', () => {
    const job = bushing((j) => {
      j.mounts.lower['11'] = { '1': usualMount('twin') };
      j.tools.twin = { ...structuredClone(j.tools['cutoff-3']), id: 'twin' };
      j.operations.op8 = { ...j.operations.op8, channel: '2', tool: 'twin' } as Job['operations'][string];
      for (const [id, mark, channel] of [
        ['m5a', 5, '1'],
        ['m5b', 5, '2'],
        ['m6a', 6, '1'],
        ['m6b', 6, '2'],
      ] as const)
        j.operations[id] = OperationSchema.parse({
          ...{ kind: 'wait', id, name: `Mark ${mark}`, holding: 'h1', channel, params: { mark, channels: ['1', '2'] } },
        });
      j.order = {
        '1': ['op1', 'm1a', 'op3', 'm2a', 'op5', 'm3a', 'op7', 'm5a', 'm6a', 'op9', 'm4a', 'op10'],
        '2': ['m1b', 'op2', 'm2b', 'op4', 'op6', 'm3b', 'm5b', 'op8', 'm6b', 'm4b', 'b1', 'b2', 'b3'],
      };
    });
    expect(serious(job)).toEqual([]);
    const made = derive(job);
    const two = made.timeline.channels[1].events;
    const called = two.find((t) => t.event.kind === 'tool' && t.event.tool === 'twin');
    const handover = made.operations.find((o) => o.id === 'op7');
    const cutoff = made.operations.find((o) => o.id === 'op8');
    expect(called?.start).toBeLessThan(handover?.times.end ?? 0);
    expect(called?.start).toBeGreaterThanOrEqual((handover?.times.start ?? 0) - 1e-9);
    // it cuts at once when the mark is met: nothing moves between them but the spindle
    const met = two.findIndex((t) => t.event.kind === 'wait' && t.event.mark === 5);
    const first = two.findIndex((t, i) => i > met && t.event.kind === 'feed');
    expect(two.slice(met, first).filter((t) => isMove(t.event) || t.event.kind === 'tool')).toEqual([]);
    // where it waits it is drawn, and no longer than it does
    expect(made.operations.find((o) => o.id === 'm5b')?.section).toBe(cutoff?.section);
    expect(made.operations.find((o) => o.id === 'm3b')?.section).toBeNull();
    const proof = proveJob(job, made, postJob(job, made, '').map(programText));
    expect(proof).toMatchObject({ ok: true, agrees: true, deadlock: false });
    // with other work between the marks the blade is not brought where that goes on
    const busy = structuredClone(job);
    busy.order['1'] = ['op1', 'm1a', 'op3', 'm2a', 'm3a', 'op5', 'op7', 'm5a', 'm6a', 'op9', 'm4a', 'op10'];
    expect(derive(busy).operations.find((o) => o.id === 'm5b')?.section).toBeNull();
  });
  it('draws the blade that stands ready while the part is handed over', () => {
    const [stands, cuts] = ['op7', 'op8'].map((id) => d.operations.find((o) => o.id === id));
    expect(stands?.section).toBe(cuts?.section);
    expect(stands?.station).toBe(cuts?.station);
    const track = trackOf(d, 'op7');
    const grip = track?.timed.find((t) => t.event.kind === 'slide' && t.event.feed !== null);
    const last = cuts?.events
      .slice(
        0,
        cuts.events.findIndex((e) => e.kind === 'feed'),
      )
      .findLast(isMove);
    expect(grip?.to).toEqual(point(last?.to.Z ?? Number.NaN, last?.to.X ?? Number.NaN));
  });
  it('stands in the way of nothing that is done before it, whichever channel that is done in', () => {
    const moved = bushing((j) => {
      j.tools.twin = { ...structuredClone(j.tools['face-rough-80']), id: 'twin' };
      j.mounts.lower['11'] = { '1': usualMount('twin') };
      j.operations.op1 = { ...j.operations.op1, channel: '2', tool: 'twin' } as (typeof j.operations)[string];
      // the one cut in the second channel is done long before the handover, and no mark says anything
      j.order = { '1': ['op3', 'op5', 'op7', 'op8', 'op9'], '2': ['op1', 'b1', 'b2', 'b3'] };
    });
    const codes = derive(moved).findings.map((f) => f.code);
    expect(codes).toContain('unsynchronised');
    expect(codes.filter((c) => c.endsWith('meets-chuck') || c.endsWith('meets-jaws'))).toEqual([]);
  });
  it('takes as long as the slide, the spindle and the delay take', () => {
    const timed = d.timeline.channels[0].events.filter((t) => t.event.op === 'op7');
    const slow = timed.find((t) => t.event.kind === 'slide' && t.event.feed !== null);
    // 23 mm at 600 mm/min, from rest to rest: 2.3 s and a ramp of v/a
    expect((slow?.end ?? 0) - (slow?.start ?? 0)).toBeCloseTo(23 / 10 + 10 / 4000, 6);
    const fast = timed.find((t) => t.event.kind === 'slide' && t.event.feed === null);
    expect((fast?.end ?? 0) - (fast?.start ?? 0)).toBeCloseTo((620 - 146) / 400 + 400 / 4000, 6);
    // the sub-spindle runs up to 800 of its 6000 in 2 s
    const step = timed.find((t) => t.event.kind === 'synchronise');
    expect((step?.end ?? 0) - (step?.start ?? 0)).toBeCloseTo(0.1 + (800 / 6000) * 2, 6);
  });
  it('may be taken over at rest: the spindles stop before they are tied, and the program is proved', () => {
    const still = bushing((j) => set(j, idOf(j, 'handover'), { speed: 0 }));
    expect(serious(still)).toEqual([]);
    const made = derive(still);
    const texts = postJob(still, made, '').map(programText);
    const [main] = texts;
    expect(main).toMatch(/M68\nM5\nM75/);
    expect(main).not.toMatch(/S0 M3/);
    const proof = proveJob(still, made, texts);
    expect(proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
    expect(proof.ok).toBe(true);
  });
  it('is posted with the codes of Tarn 5, Z of the sub-spindle the machine’s way, and proved', () => {
    const [one, two] = postJob(job, d, '').map(programText);
    expect(one).toMatch(/M68\nG97 S800 M3\nM75\nA146\.\nM82\nG98 G1 A123\. F600\.\nM83\nM69\nG4 P500\n/);
    expect(one).toMatch(/M76\nG0 A620\.\n/);
    // a left-hand tool on the sub-spindle cuts toward its chuck: +Z, spindle reverse as seen toward that chuck
    expect(two).toMatch(/T0707\nG55\nG0 X160\. Z-100\.\nG50 S3500\nG96 S220 M64\n/);
    expect(two).toMatch(/G1 G41 X46\. Z0\. F0\.1\nX48\. Z1\.\n/);
    const proof = proveJob(job, d, [one, two]);
    expect(proof).toMatchObject({ ok: true, agrees: true, deadlock: false });
    expect(proof.maxDeviation).toBeLessThanOrEqual(0.001);
  });
  it.each<[string, 0 | 1, string | RegExp, string]>([
    ['without following', 0, 'M75\n', ''],
    ['with the slide short of the grip', 0, 'A123.', 'A124.'],
    ['with the feed of the slide doubled', 0, 'F600.', 'F1200.'],
    ['without limited force', 0, 'M82\n', ''],
    ['with jaws that never close', 0, 'M69\n', ''],
    ['with the sub-spindle turning the other way', 1, /M64/g, 'M63'],
    ['with the main spindle in its place', 1, /M64/g, 'M4'],
    ['with the zero of the main spindle', 1, /G55/g, 'G54'],
    ['with Z as on the main spindle', 1, 'X48. Z1.', 'X48. Z-1.'],
    ['with the tool on the other side', 1, /G41 X46/, 'G42 X46'],
    ['with a wait for nobody', 1, 'M104 P3', 'M105 P3'],
    ['with a code that is not known', 0, 'M75', 'M77'],
    ['with the slide in a block with the tool', 0, 'A146.', 'X200. A146.'],
    ['with the blade brought only after the grip', 0, /Z-67\.5\nX52\.\nX50\.\n/, ''],
  ])('is found out %s', (_name, channel, from, to) => {
    const texts = postJob(job, d, '').map(programText);
    const changed = texts[channel].replace(from, to);
    expect(changed).not.toBe(texts[channel]);
    texts[channel] = changed;
    expect(proveJob(job, d, texts).agrees).toBe(false);
  });
});

describe('what is missing around a handover', () => {
  const without = (job: Job, id: string): void => {
    job.order['1'] = job.order['1'].filter((k) => k !== id);
    delete job.operations[id];
  };
  it.each<[string, (job: Job) => void, string, string]>([
    ['a handover', (j) => without(j, 'op7'), 'no-handover', 'Hand it over before “Cut off”'],
    [
      'the cutoff behind it',
      (j) => {
        j.order['1'] = j.order['1'].filter((k) => k !== 'op8').flatMap((k) => (k === 'op7' ? ['op8', 'op7'] : [k]));
      },
      'cutoff-before-grip',
      'Move “Hand over” in front of it',
    ],
    [
      'the cutoff at the end',
      (j) => {
        j.order['1'] = j.order['1'].filter((k) => k !== 'op8').flatMap((k) => (k === 'op5' ? ['op8', 'op5'] : [k]));
      },
      'cutoff-not-last',
      'Move it behind “Finish the outside”',
    ],
  ])('is put there by a button: %s', (_what, change, code, label) => {
    const job = bushing(change);
    const found = derive(job).findings.find((f) => f.code === code);
    expect(found?.remedy?.label).toBe(label);
    const mended = withValues(structuredClone(job), found?.remedy?.set ?? {});
    expect(JobSchema.safeParse(mended).success).toBe(true);
    expect(derive(mended).findings.map((f) => f.code)).not.toContain(code);
  });
  it.each<[string, (job: Job) => void, RegExp]>([
    ['that is missing', (j) => without(j, 'op8'), /^Cut it off with “.*”$/],
    ['that is switched off', (j) => Object.assign(j.operations.op8, { on: false }), /^Switch “Cut off” on$/],
  ])(
    'is put there by a button: a cutoff %s, and the part comes off where it is handed over',
    (_what, change, label) => {
      const job = bushing((j) => {
        change(j);
        // taken over by hand: then nothing but a cutoff says where it comes off
        j.holdings.h2.stock = { form: 'from', holding: 'h1', by: 'hand' };
        without(j, 'op7');
        without(j, 'op9');
      });
      const found = derive(job).findings.find((f) => f.code === 'piece-not-off');
      expect(found?.remedy?.label).toMatch(label);
      const mended = withValues(structuredClone(job), found?.remedy?.set ?? {});
      expect(JobSchema.safeParse(mended).success).toBe(true);
      const made = derive(mended);
      expect(made.findings.map((f) => f.code)).not.toContain('piece-not-off');
      const cut = made.operations.find((o) => mended.operations[o.operation].kind === 'cutoff');
      expect(cut?.removed).toBeGreaterThan(0);
    },
  );
});

describe('the bar for the next part', () => {
  it('is fed while the back of this one is made, and the part is pushed out at the end', () => {
    const job = bushing();
    const d = derive(job);
    const at = (id: string) => d.operations.find((o) => o.id === id)?.times ?? { start: Number.NaN, end: Number.NaN };
    // feeder 2 s, jaws 0.5 s, three codes
    expect(at('op10').end - at('op10').start).toBeCloseTo(2 + 0.5 + 0.3, 6);
    expect(at('op10').start).toBeLessThan(at('b1').end);
    expect(at('b3').start).toBeGreaterThanOrEqual(at('b2').end - 1e-9);
    const [one, two] = postJob(job, d, '').map(programText);
    expect(one).toMatch(/M70\nM72\nG4 P2000\nM71\nG4 P500\n/);
    expect(two).toMatch(/M68\nM74\nG4 P1000\n/);
    expect(proveJob(job, d, [one.replace('M72\n', ''), two]).agrees).toBe(false);
  });
  it('may be fed first, and the part before thrown out first: the program goes round', () => {
    const job = demoJob('LM-212', (j) => {
      j.order['1'] = ['op10', ...j.order['1'].filter((id) => id !== 'op10')];
      // before the handover nothing of this part is in the sub-spindle
      j.order['2'] = ['b3', ...j.order['2'].filter((id) => id !== 'b3')];
    });
    const d = derive(job);
    expect(d.findings.filter((f) => f.severity === 'blocking').map((f) => [f.operation, f.code])).toEqual([]);
  });
  it('cannot be fed where no bar is', () => {
    expect(serious(bushing((j) => void (j.operations.op10.holding = 'h2')))).toContain('no-bar op10');
  });
  it('is fed and pushed out on a lathe of one spindle too', () => {
    const job = demoJob('LM-118');
    for (const [id, kind] of [
      ['f', 'bar-feed'],
      ['e', 'eject'],
    ]) {
      job.operations[id] = OperationSchema.parse({ id, kind, name: id, channel: '1', params: {} });
      job.order['1'].push(id);
    }
    const d = derive(job);
    expect(d.findings.filter((f) => f.severity !== 'info')).toEqual([]);
    const [text] = postJob(job, d, '').map(programText);
    expect(text).toMatch(/M70\nM72\nG4 P2000\nM71\n[\s\S]*M70\nM73\n/);
    expect(proveJob(job, d, [text]).ok).toBe(true);
  });
});

describe('a control without words for it', () => {
  it('is told, operation by operation, before anything is posted', () => {
    const plain = bushing((j) => void (j.machine.dialect = 'tarn-2'));
    const told = derive(plain).findings.filter((f) => f.code === 'event-not-run');
    expect(told.every((f) => f.severity === 'blocking')).toBe(true);
    expect(new Set(told.map((f) => f.operation))).toContain(idOf(plain, 'handover'));
    expect(told.map((f) => (f.numbers as { what: string }).what)).toEqual(
      expect.arrayContaining([
        'chuck sub open',
        'spindle sub following main',
        'spindle sub moving along its slide',
        'spindle sub',
      ]),
    );
    // what the post leaves out is told too, and nothing else is
    const left = new Set(postJob(plain, derive(plain), '').flatMap((p) => p.problems.map((k) => `${k.op} ${k.what}`)));
    expect(new Set(told.map((f) => `${f.operation} ${(f.numbers as { what: string }).what}`))).toEqual(left);
  });
});

describe('handovers that cannot be', () => {
  it.each<[string, string, (job: Job) => void]>([
    ['no handover at all', 'no-handover', (j) => void (j.operations.op7.on = false)],
    ['a handover to a holding that takes from elsewhere', 'handover-unknown op7', (j) => set(j, 'op7', { to: 'h1' })],
    [
      'the cutoff before the grip',
      'cutoff-before-grip op8',
      (j) => {
        const list = j.order['1'];
        const [a, b] = [list.indexOf('op7'), list.indexOf('op8')];
        [list[a], list[b]] = [list[b], list[a]];
      },
    ],
    [
      'jaws of both spindles too near for the blade',
      'handover-room op7',
      (j) => {
        j.holdings.h2.grip = 60;
        Object.assign(j.holdings.h1.stock, { stickOut: 65 });
      },
    ],
    [
      'a slide that does not come so far',
      'handover-slide op7',
      (j) => Object.assign(jointOf(j.machine, 'sub-head'), { min: 200 }),
    ],
    [
      'spindles that cannot turn in step',
      'cannot-synchronise op7',
      (j) => void (j.machine.capabilities = ['limited-feed']),
    ],
    [
      'a slide that cannot push with limited force',
      'no-limited-feed op7',
      (j) => void (j.machine.capabilities = ['synchronised-spindles']),
    ],
    [
      'a slide that its channel has no word for',
      'spindle-not-commanded op7',
      (j) => void delete j.machine.channels[0].words['sub-head'],
    ],
    [
      'a channel without a bar feeder',
      'device-missing op10',
      (j) => void (j.machine.channels[0].devices = ['catcher']),
    ],
    [
      'a turret that does not come to the sub-spindle',
      'out-of-reach b1',
      (j) => void (j.machine.carriers[1].reaches = ['main']),
    ],
    [
      'a spindle that the channel cannot command',
      'spindle-not-commanded b1',
      (j) => void (j.machine.channels[1].spindles = ['main']),
    ],
    ['a channel without a carrier', 'channel-unknown b1', (j) => void (j.machine.channels[1].carrier = null)],
    [
      'the back begun before the part is there',
      'before-handover b1',
      (j) => {
        j.order['1'] = j.order['1'].filter((id) => id !== 'm4a');
        j.order['2'] = j.order['2'].filter((id) => id !== 'm4b');
        delete j.operations.m4a;
        delete j.operations.m4b;
      },
    ],
    [
      'two channels that want one spindle at two speeds',
      'spindle-conflict op2',
      (j) =>
        Object.assign(j.operations.op2 as object, {
          cutting: { speed: { mode: 'fixed', value: 900 }, feed: 0.2, coolant: true },
        }),
    ],
    [
      'a drill for the back that points toward the main spindle',
      'faces-away b1',
      (j) =>
        void (j.operations.b1 = OperationSchema.parse({
          id: 'b1',
          kind: 'drill',
          name: 'Drill from the back',
          channel: '2',
          holding: 'h2',
          tool: 'drill-20',
          cutting: { speed: { mode: 'fixed', value: 1300 }, feed: 0.2 },
          params: { depth: 5 },
        })),
    ],
    [
      'a right-hand tool on the sub-spindle',
      'wrong-hand b1',
      (j) => {
        j.mounts.lower['7']['1'].tool = 'face-rough-80';
        delete j.mounts.upper['1'];
        Object.assign(j.operations.b1, { tool: 'face-rough-80' });
      },
    ],
  ])('%s', (_name, code, change) => {
    expect(serious(bushing(change))).toContain(code);
  });
  it('offer to point a tool the other way, which cures it', () => {
    const job = bushing((j) => {
      j.operations.b1 = OperationSchema.parse({
        ...j.operations.b1,
        kind: 'drill',
        tool: 'drill-20',
        cutting: { speed: { mode: 'fixed', value: 1300 }, feed: 0.2 },
        params: { depth: 5, output: 'cycle' },
      });
    });
    const remedy = derive(job).findings.find((f) => f.code === 'faces-away')?.remedy;
    const at = mountedAt(job.mounts, 'drill-20');
    expect(remedy?.set).toEqual({ [`/mounts/lower/${at?.station}/1/facing`]: 'sub' });
  });
  it.each<[string, (job: Job) => void, string]>([
    [
      'an axis whose least place lies above its greatest',
      (j) => Object.assign(jointOf(j.machine, 'lower-z'), { min: 700 }),
      'Axis Z of Lower turret cannot travel: its least place, 700, is not below its greatest, 640.',
    ],
    [
      'a slide of the same kind',
      (j) => Object.assign(jointOf(j.machine, 'sub-head'), { max: 40 }),
      'Axis Z of Sub-spindle cannot travel: its least place, 40, is not below its greatest, 40.',
    ],
  ])('are told of a machine with %s', (_name, change, words) => {
    const found = derive(bushing(change)).findings.filter((f) => f.code === 'limits-crossed');
    expect(found.map((f) => wordFinding(f).message)).toEqual([words]);
  });
  it('are refused as a machine: a slide without its travel', () => {
    const { machine } = bushing();
    const broken = structuredClone(machine) as unknown as { links: { id: string; joint: object }[] };
    Object.assign(broken.links.find((l) => l.id === 'sub-head') ?? {}, { joint: { min: 0 } });
    expect(MachineSchema.safeParse(broken).success).toBe(false);
  });
});

describe('the same work in the sub-spindle as in the main one', () => {
  /** The back of LM-212 with random numbers, held by hand in either spindle. */
  const back = (spindle: 'main' | 'sub', p: { depth: number; limit: number; control: boolean; leave: number }): Job => {
    const job = bushing();
    const right = spindle === 'main';
    job.holdings.h2.spindle = spindle;
    job.holdings.h2.stock = { form: 'from', holding: 'h1', by: 'hand' };
    for (const id of ['op7', 'op9', 'm4a', 'm4b']) {
      delete job.operations[id];
      for (const c of ['1', '2']) job.order[c] = job.order[c].filter((k) => k !== id);
    }
    set(job, 'op8', { leave: p.leave });
    set(job, 'b1', { depth: p.depth });
    set(job, 'b2', { backLimit: p.limit, compensation: p.control ? 'control' : 'computed' });
    if (right) {
      // the twins of the left-hand tools, standing where those stood
      for (const [station, id] of [
        ['7', 'face-rough-80'],
        ['9', 'finish-55'],
      ]) {
        const twin = `${id}-twin`;
        job.tools[twin] = { ...structuredClone(job.tools[id]), id: twin };
        job.mounts.lower[station]['1'].tool = twin;
      }
      Object.assign(job.operations.b1, { tool: 'face-rough-80-twin' });
      Object.assign(job.operations.b2, { tool: 'finish-55-twin' });
    }
    return job;
  };
  it('goes the same way and leaves the same metal; only the words differ', { timeout: 3_600_000 }, () => {
    fc.assert(
      fc.property(
        fc.record({
          depth: fc.integer({ min: 2, max: 10 }).map((v) => v / 10),
          limit: fc.integer({ min: 2, max: 20 }).map((v) => -v),
          control: fc.boolean(),
          leave: fc.integer({ min: 1, max: 20 }).map((v) => v / 10),
        }),
        (p) => {
          const [main, sub] = [back('main', p), back('sub', p)];
          const [a, b] = [derive(main), derive(sub)];
          expect(hashRegion(b.finished.turnedOutline)).toBe(hashRegion(a.finished.turnedOutline));
          const way = (d: typeof a): string =>
            JSON.stringify(
              d.operations
                .filter((o) => o.holding === 'h2')
                .flatMap((o) => o.events.flatMap((e) => (isMove(e) ? [e.kind, e.to] : []))),
            );
          expect(way(b)).toBe(way(a));
          for (const [job, d] of [
            [main, a],
            [sub, b],
          ] as const)
            expect(proveJob(job, d, postJob(job, d, '').map(programText)).agrees).toBe(true);
          // mirrored, word for word
          const text = (job: Job, d: typeof a): string[] =>
            programText(postJob(job, d, '')[3])
              .split('\n')
              .filter((l) => /^(G[01] )?X[\d.]+ Z|^Z/.test(l));
          const turned = text(sub, b).map((l) =>
            l.replace(/Z(-?)([\d.]+)/g, (_, s, v) => (Number(v) === 0 ? `Z${v}` : s ? `Z${v}` : `Z-${v}`)),
          );
          expect(turned).toEqual(text(main, a));
        },
      ),
      { numRuns: Number(process.env.FRAME_CASES ?? (process.env.DEEP ? 1000 : 8)) },
    );
  });
  it('keeps within the travel of the slides as they stand in the machine', () => {
    const job = bushing((j) => {
      Object.assign(jointOf(j.machine, 'lower-z'), { max: 520, home: 520 });
    });
    // the lower turret would have to come past 520 to reach the work there
    const found = derive(job).findings.filter((f) => f.code === 'travel-z');
    expect(found.map((f) => f.operation)).toEqual(['b1', 'b2']);
    expect(regionBounds(heldIn(derive(job), 'h2').chuck).minX).toBeLessThan(-64);
  });
});
