import { describe, expect, it } from 'vitest';
import { holdingOf } from '../../../tests/fixtures/holding';
import { demoJob } from '../../../tests/fixtures/jobs';
import { addTo, secondSideJob } from '../../../tests/fixtures/secondSide';
import { threadedJob } from '../../../tests/fixtures/threads';
import { wordFinding } from '../findings';
import { regionArea, regionBounds, regionVolume, subtractRegion } from '../geometry';
import { postJob, programName, programText, proveJob, runsOf } from '../nc';
import { turnRegion } from '../part';
import { usualMount } from '../tooling';
import { candidatesFor } from './candidates';
import { derive, heldIn, rawStockOf } from './derive';
import { type Job, readJob } from './document';
import { landingPlace, whyNotThere } from './landing';
import { newOperation } from './newOperation';

const serious = (job: Job): string[] => derive(job).findings.flatMap((f) => (f.severity === 'info' ? [] : [f.code]));
describe('a second side by hand', () => {
  const job = secondSideJob();
  const d = derive(job);
  it('takes what the first has left, with its back to the front', () => {
    const [, second] = d.holdings;
    // 36 mm of part and the half millimetre that was left to face
    expect(regionBounds(second.rawStock.turnedOutline)).toMatchObject({ minX: -36, maxX: 0.5 });
    // turned back it lies inside the bar, in front of where the blade went
    const back = turnRegion(d.part, second.rawStock.turnedOutline);
    expect(regionArea(subtractRegion(back, rawStockOf(d).turnedOutline))).toBeLessThan(1e-6);
    expect(regionBounds(back).minX).toBeCloseTo(-36.5, 9);
  });
  it('grips as deep as was said, on the thickest place there', () => {
    const { seat, jaws } = heldIn(d, 'h2');
    expect(seat.jawFront).toBeCloseTo(-36 + 8, 9);
    expect(seat.radius).toBeCloseTo(17, 2);
    expect(regionBounds(jaws).minY).toBeCloseTo(seat.radius, 9);
    expect(seat.front).toBeCloseTo(0.5, 9);
  });
  it('is planned from its own front: faced to Z0, and the part is done', () => {
    const face = d.operations.find((o) => o.id === 'b1');
    const cut = Math.min(
      ...(face?.events ?? []).flatMap((e) => (e.kind === 'feed' && e.to.Z !== undefined ? [e.to.Z] : [])),
    );
    expect(cut).toBeCloseTo(0, 9);
    // a disc of ⌀46 × 0.5
    expect(face?.removed).toBeCloseTo(Math.PI * 23 ** 2 * 0.5, 0);
    expect(d.leftoverVolume).toBeLessThan(0.05);
    expect(d.coverage.every((c) => c.state === 'finished')).toBe(true);
    expect(regionVolume(d.finished.turnedOutline) / d.part.volume).toBeCloseTo(1, 4);
    expect(serious(job)).toEqual(['grip-short']);
  });
  it('is posted as a program for each side, or as one with a stop, and proved', () => {
    const each = postJob(job, d, '2026-11-26');
    expect(each.map((p) => programName('LM-118', p))).toEqual(['LM-118-1-ch1.nc', 'LM-118-2-ch1.nc']);
    const texts = each.map(programText);
    expect(texts[0]).toContain('G54');
    expect(texts[0]).not.toContain('G55');
    expect(texts[1]).toContain('G55');
    expect(texts[1]).toMatch(/O0119\n/);
    expect(texts[1]).toContain('(PIECE FROM FIRST SIDE, GRIP 8 ON DIA 34)');
    const proof = proveJob(job, d, texts);
    expect(proof.ok && proof.agrees).toBe(true);
    expect(proof.channels.map((c) => c.run)).toEqual([0, 1]);

    const one = secondSideJob((j) => void (j.programs = 'one'));
    const done = derive(one);
    const [whole, ...more] = postJob(one, done, '').map(programText);
    expect(more).toEqual([]);
    const stop = whole.indexOf('\nM0\n');
    expect(whole.slice(0, stop)).toMatch(/M9 M5\n\(HOLD THE WORK ANEW SECOND SIDE\)$/);
    expect(whole.slice(stop)).toMatch(/^\nM0\nG28 U0\.\nG28 W0\.\nT0101\nG55\n/);
    expect(proveJob(one, done, [whole]).ok).toBe(true);
    // without its stop the program is not the plan
    expect(proveJob(one, done, [whole.replace('\nM0\n', '\n')]).agrees).toBe(false);
  });
  it('is found out when the programs change places, or the second has the first zero', () => {
    const texts = postJob(job, d, '').map(programText);
    expect(proveJob(job, d, [texts[1], texts[0]]).agrees).toBe(false);
    const wrong = proveJob(job, d, [texts[0], texts[1].replaceAll('G55', 'G54')]);
    expect(wrong.agrees).toBe(false);
    expect(wrong.channels[1].differences[0]).toMatchObject({ what: 'work offset', planned: 'G55', read: 'G54' });
    const deep = proveJob(job, d, [texts[0], texts[1].replace('Z0.\nG1', 'Z-0.1\nG1')]);
    expect(deep.agrees).toBe(false);
    expect(deep.stock.thickness).toBeGreaterThan(0.09);
  });
  it('cuts the program where the work is held anew, with events counted through', () => {
    const runs = runsOf(d);
    expect(runs.map((r) => r.holdings)).toEqual([['h1'], ['h2']]);
    const [channel] = d.program.channels;
    expect(runs[1].channels[0].events[0]).toMatchObject({ kind: 'reload', holding: 'h2', ends: true });
    expect(runs[0].channels[0].events.length + runs[1].channels[0].events.length).toBe(channel.events.length);
    const [, second] = postJob(job, d, '');
    const g55 = second.lines.find((l) => l.text === 'G55');
    expect(channel.events[g55?.event ?? -1]).toMatchObject({ kind: 'work-offset', code: 'G55' });
    // one program, both sides
    expect(runsOf(derive(secondSideJob((j) => void (j.programs = 'one')))).map((r) => r.holdings)).toEqual([
      ['h1', 'h2'],
    ]);
  });
  it('begins after the first has ended, spindle and slides anew', () => {
    const first = d.operations.find((o) => o.id === 'op7');
    const second = d.operations.find((o) => o.id === 'b1');
    expect(second?.times.start).toBeGreaterThanOrEqual(first?.times.end ?? Number.NaN);
    const timed = d.timeline.channels[0].events.find((t) => t.event.kind === 'reload');
    expect(timed?.speedEnd).toBeLessThan(timed?.speedStart ?? 0);
  });
  it('has its metal follow an edit of the first side', () => {
    const longer = secondSideJob((j) => {
      Object.assign((j.operations.op7 as { params: object }).params, { leave: 2 });
    });
    expect(regionBounds(heldIn(derive(longer), 'h2').rawStock.turnedOutline).maxX).toBeCloseTo(2, 9);
    // and the face takes it off in more than one pass
    const face = derive(longer).operations.find((o) => o.id === 'b1');
    expect(face?.removed).toBeCloseTo(Math.PI * 23 ** 2 * 2, 0);
    expect(serious(longer)).toEqual(['grip-short']);
  });
});

describe('places in the order', () => {
  const job = secondSideJob();
  it('keep the operations of a holding together', () => {
    expect(job.order['1']).toEqual(['op1', 'op2', 'op3', 'op4', 'op5', 'op6', 'op7', 'b1', 'b2']);
    expect(landingPlace(job, 'face', 'h1')).toBe(1);
    expect(landingPlace(job, 'outer-finish', 'h1')).toBe(5);
    expect(landingPlace(job, 'face', 'h2')).toBe(8);
    expect(whyNotThere(job, 'b1', '1', 3)).toContain('“Second side”');
    expect(whyNotThere(job, 'op1', '1', 8)).toContain('“First side”');
    expect(whyNotThere(job, 'b2', '1', 7)).toBeNull();
  });
  it('and what can cut is asked of the metal of that side', () => {
    const found = candidatesFor(
      secondSideJob((j) => void (j.order['1'] = j.order['1'].slice(0, 7))),
      { from: 'o6', to: 'o6' },
      'outer',
      'h2',
    );
    expect(found[0]).toMatchObject({ kind: 'face' });
    expect(found[0].operation.holding).toBe('h2');
    expect(found.some((c) => c.kind === 'cutoff')).toBe(false);
    // on the first side nothing of the back can be reached
    const before = candidatesFor(demoJob('LM-118'), { from: 'o6', to: 'o6' }, 'outer', 'h1');
    expect(before.filter((c) => c.kind === 'face' && c.reach > 0)).toEqual([]);
  });
});

describe('holdings that cannot be', () => {
  const codes = (change: (job: Job) => void): { codes: string[]; words: string } => {
    const job = secondSideJob(change);
    const { findings } = derive(job);
    const told = findings.filter((f) => f.severity !== 'info');
    return { codes: told.map((f) => f.code), words: told.map((f) => wordFinding(f).message).join(' ') };
  };
  it('are told: nothing comes off the bar before', () => {
    const { codes: found, words } = codes((j) => void (j.operations.op7.on = false));
    expect(found).toContain('piece-not-off');
    expect(words).toContain('“Second side” takes what “First side” leaves');
  });
  it('are told: a grip as long as the piece, and one that stands in air', () => {
    expect(codes((j) => void (j.holdings.h2.grip = 37)).codes).toContain('grip-beyond-piece');
    // ⌀34 for 8 mm, then a cone: jaws that reach over the cone touch it at its thick end only
    const air = codes((j) => void (j.holdings.h2.grip = 20));
    expect(air.codes).toContain('grip-on-air');
    expect(codes((j) => void (j.holdings.h2.grip = 7.5)).codes).not.toContain('grip-on-air');
  });
  it('are told: two with one zero, and the button gives the next one that is free', () => {
    const job = secondSideJob((j) => void (j.holdings.h2.workOffset = 'G54'));
    const f = derive(job).findings.find((k) => k.code === 'same-zero');
    expect(f?.remedy?.set).toEqual({ '/holdings/h2/workOffset': 'G55' });
  });
  it('are told: jaws that close on a thread', () => {
    const pin = threadedJob({ diameter: 16, tool: 'thread-60-fine', params: { thread: 'M16x1.5' } }, (j) => {
      const [cutoff] = Object.values(demoJob('LM-118').operations).filter((o) => o.kind === 'cutoff');
      j.tools[cutoff.tool as string] = structuredClone(demoJob('LM-118').tools[cutoff.tool as string]);
      j.mounts = { upper: { ...j.mounts.upper, 5: { 1: usualMount(cutoff.tool as string) } } };
      j.operations.off = { ...structuredClone(cutoff), id: 'off' };
      j.order['1'].push('off');
      j.holdings.h2 = {
        ...structuredClone(j.holdings.h1),
        name: 'Second side',
        stock: { form: 'from', holding: 'h1', by: 'hand' },
        turned: true,
        grip: 15,
        workOffset: 'G55',
      };
      j.holdingOrder = ['h1', 'h2'];
    });
    // turned round the thread lies from -39 to -21, the end of the grip at -40 and the jaws' front at -25
    const told = derive(pin).findings.find((f) => f.code === 'grip-on-thread');
    expect(told?.numbers.length).toBeCloseTo(14, 6);
    expect(told?.holding).toBe('h2');
    // nothing of the thread lies in front of it: no shorter grip helps
    expect(told?.remedy).toBeUndefined();
    pin.operations.thread.on = false;
    expect(derive(pin).findings.map((f) => f.code)).not.toContain('grip-on-thread');
  });
  it('are told: a cutoff that is no longer the last of its side', () => {
    const job = secondSideJob((j) => {
      j.order['1'] = ['op1', 'op2', 'op3', 'op4', 'op5', 'op7', 'op6', 'b1', 'b2'];
    });
    expect(serious(job)).toContain('cutoff-not-last');
    // operations of the second side after the cutoff are as it should be
    expect(serious(secondSideJob())).not.toContain('cutoff-not-last');
  });
  it('are refused as a file, with the place', () => {
    const place = (change: (j: Job) => void): string => {
      const read = readJob(JSON.parse(JSON.stringify(secondSideJob(change))));
      return read.ok ? '' : read.problems.map((p) => `${p.place}: ${p.message}`).join('\n');
    };
    expect(place(() => undefined)).toBe('');
    expect(place((j) => void (j.holdingOrder = ['h1']))).toContain('holdings.h2: The holding is not in the order');
    expect(place((j) => void (j.holdingOrder = ['h1', 'h2', 'h3']))).toContain(
      'holdingOrder.2: No holding is called “h3”',
    );
    expect(place((j) => void (j.holdingOrder = ['h1', 'h2', 'h2']))).toContain('stands twice');
    expect(place((j) => void (j.holdingOrder = ['h2', 'h1']))).toContain('holdings.h2.stock.holding');
    expect(place((j) => void (j.operations.b1.holding = 'h9'))).toContain(
      'operations.b1.holding: The job has no holding “h9”',
    );
  });
  it('never stop the derive: a first holding without a path, a second without operations', () => {
    const empty = secondSideJob((j) => {
      for (const id of Object.keys(j.operations)) if (j.operations[id].holding === 'h1') j.operations[id].on = false;
    });
    // what nothing has taken off yet is given a millimetre for facing
    expect(
      derive(empty)
        .operations.filter((o) => o.events.length > 0)
        .map((o) => o.id),
    ).toEqual(['b1', 'b2']);
    // and its back is not taken for made
    expect(derive(empty).coverage.filter((c) => c.state === 'finished').length).toBeLessThan(3);
    const bare = secondSideJob((j) => {
      j.order['1'] = j.order['1'].slice(0, 7);
      delete j.operations.b1;
      delete j.operations.b2;
    });
    const d = derive(bare);
    expect(runsOf(d)).toHaveLength(1);
    expect(d.leftoverVolume).toBeGreaterThan(800);
    expect(d.findings.find((f) => f.code === 'leftover')?.holding).toBe('h2');
  });
});

describe('a part with a bore from the back', () => {
  it('is bored on its second side, from there', () => {
    const job = secondSideJob((j) => {
      j.part.outer.rows[j.part.outer.rows.length - 1].diameter = 16;
      const line = (id: string, diameter: number, z: number) =>
        ({ id, kind: 'line', diameter, z, corner: null, angle: null, length: null }) as never;
      j.part.back = { start: { diameter: 16, z: -36 }, rows: [line('r1', 16, -30), line('r2', 0, -25.1)] };
      addTo(j, 'h2', 'drill', 'drill-16', 'b3', { depth: 6 });
    });
    const d = derive(job);
    expect(d.part.problems).toEqual([]);
    const drill = d.operations.find((o) => o.id === 'b3');
    expect(drill?.events.length).toBeGreaterThan(3);
    const held = heldIn(d, 'h2');
    expect(held.part.inner.map((e) => e.id)).toEqual(['r1', 'r2']);
    expect(d.coverage.find((c) => c.element === 'r1')).toMatchObject({ side: 'back', state: 'finished' });
    const bar = newOperation(job, 'inner-finish', job.tools['bore-12'], { from: 'r1', to: 'r1' }, 'b4', 'h2');
    expect(bar).toMatchObject({ holding: 'h2', span: { from: 'r1', to: 'r1' } });
    const proof = proveJob(job, d, postJob(job, d, '').map(programText));
    expect(proof.agrees).toBe(true);
  });
});

describe('three holdings', () => {
  it('turn the part back again, each with a program of its own', () => {
    const job = secondSideJob((j) => {
      j.holdings.h3 = {
        ...structuredClone(holdingOf(j)),
        name: 'Third',
        stock: { form: 'from', holding: 'h2', by: 'hand' },
        grip: 10,
        workOffset: 'G56',
      };
      j.holdingOrder = ['h1', 'h2', 'h3'];
      // the outside is finished only there
      j.operations.op5.on = false;
      addTo(j, 'h3', 'outer-finish', 'finish-55', 'c1', { backLimit: -20 });
    });
    const d = derive(job);
    // as drawn once more, held by its flange
    expect(regionBounds(heldIn(d, 'h3').rawStock.turnedOutline)).toMatchObject({ maxX: 0 });
    expect(heldIn(d, 'h3').seat.radius).toBeCloseTo(23.3, 2);
    expect(postJob(job, d, '').map((p) => p.run)).toEqual([0, 1, 2]);
    expect(proveJob(job, d, postJob(job, d, '').map(programText)).agrees).toBe(true);
  });
});
