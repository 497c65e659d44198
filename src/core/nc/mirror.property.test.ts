import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ONE_SPINDLE } from '../../../tests/fixtures/reader';
import { findDialect } from '../dialects';
import { postChannel } from '../dialects/tarn/post';
import { readProgram } from '../dialects/tarn/reader/reader';
import { arc, distance, point } from '../geometry';
import { type MotionEvent, movesOf, sectionPoint } from '../motion';
import { comparePrograms } from './compare';
import { programText } from './release';

const dialect = findDialect('tarn-5');
if (!dialect) throw new Error('Tarn 5 is there');

/** A random way of rapids, feeds and arcs in a holding, its tool called and its zero named. */
const way = (zero: string) =>
  fc
    .array(
      fc.record({
        kind: fc.constantFrom('rapid', 'feed', 'arc' as const),
        z: fc.integer({ min: -60_000, max: 5000 }).map((v) => v / 1000),
        r: fc.integer({ min: 1000, max: 40_000 }).map((v) => v / 1000),
        bow: fc.integer({ min: 600, max: 3000 }).map((v) => v / 1000),
        clockwise: fc.boolean(),
        feed: fc.integer({ min: 1, max: 50 }).map((v) => v / 100),
      }),
      { minLength: 2, maxLength: 12 },
    )
    .map((steps): MotionEvent[] => {
      const common = { op: 'a', purpose: 'cut' as const };
      const events: MotionEvent[] = [
        { ...common, kind: 'tool', carrier: 'lower', station: 3, offset: 3, tool: 'T3' },
        { ...common, kind: 'work-offset', code: zero },
        { ...common, kind: 'spindle', spindle: 'main', direction: 'forward', speed: { mode: 'fixed', value: 900 } },
        { ...common, kind: 'rapid', to: { X: 50, Z: 20 } },
      ];
      let at = point(20, 50);
      for (const s of steps) {
        const to = point(s.z, s.r);
        const d = distance(at, to);
        if (d < 0.05) continue;
        const feed = { mode: 'perRev' as const, value: s.feed };
        if (s.kind === 'rapid') events.push({ ...common, kind: 'rapid', to: { X: to.y, Z: to.x } });
        else if (s.kind === 'feed') events.push({ ...common, kind: 'feed', to: { X: to.y, Z: to.x }, feed });
        else {
          // a centre on the perpendicular through the middle, less than half a turn
          const side = s.clockwise ? 1 : -1;
          const h = side * s.bow * d;
          const centre = point(
            (at.x + to.x) / 2 + (h * (to.y - at.y)) / d,
            (at.y + to.y) / 2 - (h * (to.x - at.x)) / d,
          );
          const made = arc(at, to, centre, s.clockwise);
          events.push({
            ...common,
            kind: 'arc',
            to: { X: to.y, Z: to.x },
            centre: { X: made.centre.y, Z: made.centre.x },
            clockwise: s.clockwise,
            plane: 'ZX',
            feed,
          });
        }
        at = to;
      }
      return events;
    });

const posted = (events: readonly MotionEvent[], turned: boolean): string =>
  programText(
    postChannel(
      '1',
      events,
      dialect,
      {
        programNumber: 1,
        comments: [],
        holdingName: String,
        spindle: 'main',
        turned: () => turned,
        operationComment: () => '',
        subProgram: () => null,
      },
      ['1'],
    ),
  );
const read = (text: string) =>
  readProgram(text, {
    toolTable: new Map([[3, { noseRadius: 0, tip: { x: 0, y: 0 } }]]),
    channels: ['1'],
    carrier: 'lower',
    spindle: 'main',
    peckClearance: 0.5,
    ...ONE_SPINDLE,
    turnedZeros: new Set(['G55']),
    waitBase: 100,
    roughing: { head: 'two-block' },
  });

/** Z, K and the sense of arcs the other way: all that a spindle which faces the main one changes in words. */
const mirroredWords = (text: string): string =>
  text
    .replace(/([ZKW])(-?)([\d.]+)/g, (_, l, s, v) => `${l}${Number(v) === 0 || s ? '' : '-'}${v}`)
    .replace(/\bG([23])\b/g, (_, g) => (g === '2' ? 'G3' : 'G2'));

describe('a way in a spindle that faces the main one', () => {
  it('comes back from its text as it was planned, 1000 times', () => {
    fc.assert(
      fc.property(way('G55'), (events) => {
        const r = read(posted(events, true));
        expect(r.problems).toEqual([]);
        const d = comparePrograms(events, r.events);
        expect(d.differences).toEqual([]);
        expect(d.deviation).toBeLessThanOrEqual(0.001);
        const [a, b] = [movesOf(events), movesOf(r.events)];
        expect(b).toHaveLength(a.length);
        for (const [i, m] of a.entries())
          expect(distance(sectionPoint(m.to), sectionPoint(b[i].to))).toBeLessThanOrEqual(0.00071);
      }),
      { numRuns: 1000 },
    );
  });
  it('differs in words from the same way in the main spindle as a mirror says, and in nothing else', () => {
    fc.assert(
      fc.property(way('G54'), (events) => {
        expect(posted(events, true)).toBe(mirroredWords(posted(events, false)));
      }),
      { numRuns: 300 },
    );
  });
});
