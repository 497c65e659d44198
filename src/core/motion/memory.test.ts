import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { seeded } from '../../../tests/fixtures/random';
import { twoChannelJob } from '../../../tests/fixtures/twoChannel';
import { derive } from '../plan';
import type { MotionEvent, MotionProgram } from './events';
import { TimingMemory } from './memory';
import { timeProgram } from './timing';

const machine = demoJob('LM-101').machine;

let made = 0;

/** An operation that faces, turns and travels, with a tool and an id of its own. */
const operation = (random: () => number): MotionEvent[] => {
  const i = made++;
  const op = `op${i}`;
  const at = { op, purpose: 'cut' as const };
  const events: MotionEvent[] = [
    { ...at, kind: 'tool', carrier: 'upper', station: 1 + (i % 9), offset: 1, tool: `t${i}` },
    {
      ...at,
      kind: 'spindle',
      spindle: 'main',
      direction: 'forward',
      speed:
        random() < 0.6
          ? { mode: 'surface', value: 120 + random() * 200, clamp: 2500 }
          : { mode: 'fixed', value: 300 + random() * 1500 },
    },
    { ...at, kind: 'rapid', to: { X: 40, Z: 3 } },
  ];
  const n = 8 + Math.floor(random() * 30);
  for (let k = 0; k < n; k++) {
    const to = { X: 3 + random() * 30, Z: -random() * 50 };
    const act = random();
    if (act < 0.25) events.push({ ...at, kind: 'rapid', to });
    else if (act < 0.33)
      events.push({ ...at, kind: 'compensation', side: 'off', noseRadius: 0, tipNumber: 3, contour: [] });
    else if (act < 0.4) events.push({ ...at, kind: 'dwell', seconds: random() });
    else events.push({ ...at, kind: 'feed', to, feed: { mode: 'perRev', value: 0.05 + random() * 0.3 } });
  }
  return events;
};
const program = (list: readonly (readonly MotionEvent[])[]): MotionProgram => ({
  channels: [{ channel: '1', events: list.flat() }],
});

describe('the memory of a timing', () => {
  it('gives the times of a run from the beginning, whatever was edited', () => {
    const random = seeded(31);
    const list = Array.from({ length: 30 }, () => operation(random));
    const memory = new TimingMemory();
    timeProgram(program(list), machine, memory);
    for (let k = 0; k < 80; k++) {
      const i = Math.floor(random() * list.length);
      const act = random();
      if (act < 0.5) list[i] = operation(random);
      else if (act < 0.65) list.splice(i, 1);
      else if (act < 0.8) list.splice(i, 0, operation(random));
      // the last move of an operation decides with what is next how fast it ends
      else if (act < 0.9) list[i] = list[i].slice(0, -1);
      else
        list[i] = [...list[i], { ...list[i][2], kind: 'feed', to: { Z: -60 }, feed: { mode: 'perRev', value: 0.1 } }];
      const fast = timeProgram(program(list), machine, memory);
      const slow = timeProgram(program(list), machine);
      expect(fast).toEqual(slow);
      expect(fast.channels[0].operations).toEqual(slow.channels[0].operations);
    }
  });
  it('keeps the timed events before the edit as they are, and does not touch the timeline that was given before', () => {
    const random = seeded(7);
    const list = Array.from({ length: 20 }, () => operation(random));
    const memory = new TimingMemory();
    const first = timeProgram(program(list), machine, memory);
    const copy = structuredClone(first);
    list[17] = operation(random);
    const second = timeProgram(program(list), machine, memory);
    let same = 0;
    while (second.channels[0].events[same] === first.channels[0].events[same]) same++;
    const before = list.slice(0, 17).flat().length;
    expect(same).toBeGreaterThan(before - 150);
    expect(same).toBeLessThanOrEqual(before + 1);
    expect(first).toEqual(copy);
  });
  it('counts a program that only became longer, or shorter, at its end', () => {
    const random = seeded(8);
    const list = Array.from({ length: 12 }, () => operation(random));
    const memory = new TimingMemory();
    timeProgram(program(list.slice(0, 9)), machine, memory);
    expect(timeProgram(program(list), machine, memory)).toEqual(timeProgram(program(list), machine));
    expect(timeProgram(program(list.slice(0, 6)), machine, memory)).toEqual(
      timeProgram(program(list.slice(0, 6)), machine),
    );
    expect(timeProgram({ channels: [] }, machine, memory).total).toBe(0);
    expect(timeProgram(program(list), machine, memory)).toEqual(timeProgram(program(list), machine));
  });
  it('holds for channels that wait for one another on one spindle', () => {
    const random = seeded(9);
    const job = twoChannelJob();
    const derived = derive(job).program;
    const memory = new TimingMemory();
    const lists = derived.channels.map((c) => c.events.slice());
    const now = (): MotionProgram => ({
      channels: derived.channels.map((c, i) => ({ channel: c.channel, events: lists[i].slice() })),
    });
    timeProgram(now(), job.machine, memory);
    for (let k = 0; k < 40; k++) {
      const c = Math.floor(random() * lists.length);
      const i = Math.floor(random() * lists[c].length);
      const e = lists[c][i];
      if (e.kind === 'feed') lists[c][i] = { ...e, feed: { mode: 'perRev', value: 0.02 + random() * 0.3 } };
      else if (e.kind === 'rapid') lists[c][i] = { ...e, to: { ...e.to, Z: 5 + random() } };
      else if (e.kind === 'spindle') lists[c][i] = { ...e, speed: { mode: 'fixed', value: 400 + random() * 900 } };
      expect(timeProgram(now(), job.machine, memory)).toEqual(timeProgram(now(), job.machine));
    }
  });
});
