import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { reachBetween } from '../../../tests/fixtures/machines';
import { point } from '../geometry';
import { trapezoidTime } from '../machine';
import type { MotionEvent } from './events';
import { rapidPath } from './ramps';
import { timeProgram } from './timing';

const machine = demoJob('LM-101').machine;
const { axes } = reachBetween(machine, 'upper', 'main');
const base = { op: 'a', purpose: 'cut' as const };

describe('motion time', () => {
  it('of a trapezoid and a triangle', () => {
    expect(trapezoidTime(200, 400, 0, 0, 5000)).toBeCloseTo(0.58, 9);
    // too short for full speed: 2·√(s/a)
    expect(trapezoidTime(2, 400, 0, 0, 5000)).toBeCloseTo(2 * Math.sqrt(2 / 5000), 9);
    expect(trapezoidTime(10, 20, 20, 20, 5000)).toBeCloseTo(0.5, 9);
  });
  it('of a feed at constant surface speed equals the closed form up to the ramps', () => {
    const events: MotionEvent[] = [
      { ...base, kind: 'rapid', to: { X: 50, Z: 0 } },
      {
        ...base,
        kind: 'spindle',
        spindle: 'main',
        direction: 'forward',
        speed: { mode: 'surface', value: 200, clamp: 3000 },
      },
      { ...base, kind: 'feed', to: { X: 10, Z: 0 }, feed: { mode: 'perRev', value: 0.2 } },
    ];
    const t = timeProgram({ channels: [{ channel: '1', events }] }, machine);
    const feed = t.channels[0].events[2];
    // 11.3115 by the closed form, and 2·v²/2a·v for speeding up from rest and slowing down
    const closed = 11.3115;
    const took = feed.end - feed.start - feed.waiting;
    expect(took).toBeGreaterThan(closed);
    expect(took - closed).toBeLessThan(0.02);
    // spindle at rest runs up to 637 rev/min before the feed may begin
    const runUp = ((1000 * 200) / (Math.PI * 100) / machine.spindles[0].maxSpeed) * machine.spindles[0].runUp;
    expect(feed.waiting).toBeCloseTo(runUp - machine.mCodeTime, 3);
  });
  it('indexes the short way round', () => {
    const tool = (station: number): MotionEvent => ({
      ...base,
      kind: 'tool',
      carrier: 'upper',
      station,
      offset: station,
      tool: 't',
    });
    const t = timeProgram({ channels: [{ channel: '1', events: [tool(1), tool(12), tool(6)] }] }, machine);
    const [, one, six] = t.channels[0].events;
    expect(one.end - one.start).toBeCloseTo(0.4 + 0.12, 9);
    expect(six.end - six.start).toBeCloseTo(0.4 + 6 * 0.12, 9);
  });
  it('bends rapids where each axis runs at its own speed', () => {
    const path = rapidPath(point(0, 0), point(24, 36), axes, 'bent');
    // X is slower (18 against 24 m/min): Z arrives first, when X has gone 18 mm
    expect(path).toEqual([point(24, 18), point(24, 36)]);
    expect(rapidPath(point(0, 0), point(24, 36), axes, 'straight')).toEqual([point(24, 36)]);
  });
  it('lets partners wait for each other and names a deadlock', () => {
    const wait = (mark: number): MotionEvent => ({ ...base, kind: 'wait', mark, channels: ['1', '2'] });
    const dwell = (seconds: number): MotionEvent => ({ ...base, kind: 'dwell', seconds });
    const good = timeProgram(
      {
        channels: [
          { channel: '1', events: [dwell(5), wait(1), dwell(1)] },
          { channel: '2', events: [dwell(2), wait(1), dwell(1)] },
        ],
      },
      machine,
    );
    expect(good.kind).toBe('timed');
    expect(good.channels[1].events[1].waiting).toBeCloseTo(3, 9);
    expect(good.channels[0].total).toBeCloseTo(good.channels[1].total, 9);
    const bad = timeProgram(
      {
        channels: [
          { channel: '1', events: [wait(1), wait(2)] },
          { channel: '2', events: [wait(2), wait(1)] },
        ],
      },
      machine,
    );
    expect(bad.kind).toBe('deadlock');
    if (bad.kind === 'deadlock')
      expect(bad.waiting.map((w) => [w.channel, w.mark])).toEqual([
        ['1', 1],
        ['2', 2],
      ]);
  });
  it('keeps a spindle in step with its leader, whatever that is told, and lets it go at the speed that it then has', () => {
    const tt = demoJob('LM-212').machine;
    const turn = (spindle: string, value: number): MotionEvent => ({
      ...base,
      kind: 'spindle',
      spindle,
      direction: 'forward',
      speed: { mode: 'fixed', value },
    });
    const dwell = (seconds: number): MotionEvent => ({ ...base, kind: 'dwell', seconds });
    const step = (on: boolean): MotionEvent => ({ ...base, kind: 'synchronise', leader: 'main', follower: 'sub', on });
    const events = [
      turn('main', 800),
      dwell(2),
      step(true),
      turn('main', 2000),
      dwell(3),
      step(false),
      turn('sub', 2300),
    ];
    const feed: MotionEvent = { ...base, kind: 'feed', to: { X: 20, Z: -5 }, feed: { mode: 'perRev', value: 0.1 } };
    const t = timeProgram(
      { channels: [{ channel: '1', events: [...events, { ...base, kind: 'rapid', to: { X: 20, Z: 0 } }, feed] }] },
      tt,
    );
    const timed = t.channels[0].events;
    // the sub-spindle runs up to 800 of its 6000 in 2 s
    expect(timed[2].end - timed[2].start).toBeCloseTo(0.1 + (800 / 6000) * 2, 9);
    // let go at 2000 it slows for one code's time, then is told 2300: 300 and what was lost, at 3000 rev/min per s
    const lost = tt.mCodeTime * 3000;
    expect(timed[8].waiting).toBeCloseTo((300 + lost) / 3000 - tt.mCodeTime, 6);
  });
});
