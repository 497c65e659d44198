import { describe, expect, it } from 'vitest';
import { lineRow } from '../../../tests/fixtures/jobs';
import { turnedJob } from '../../../tests/fixtures/turned';
import { point, type Region } from '../geometry';
import type { Row } from '../part';
import { coverageOf, madeByCutoff } from './coverage';
import { derive } from './derive';

const partOf = (outer: Row[]) => derive(turnedJob({ outer, bar: 40, length: 30, tools: [], operations: [] })).part;
const pin = (...back: Row[]) => partOf([lineRow('a', 30, 0), ...back, lineRow('z', 0, -30)]);

describe('what is left to the cutoff', () => {
  it('is the back face, and a chamfer or a round of 3 mm at the most that falls to it', () => {
    expect([...madeByCutoff(pin(lineRow('b', 30, -29), lineRow('c', 28, -30)))]).toEqual(['z', 'c']);
    expect([...madeByCutoff(pin(lineRow('b', 30, -30, { kind: 'fillet', size: 2 })))]).toEqual(['z', 'b/corner']);
  });
  it('is the face alone where the back ends square, rises, or falls over more than that', () => {
    expect([...madeByCutoff(pin(lineRow('b', 30, -30)))]).toEqual(['z']);
    expect([...madeByCutoff(pin(lineRow('b', 30, -25), lineRow('c', 34, -30)))]).toEqual(['z']);
    expect([...madeByCutoff(pin(lineRow('b', 30, -20), lineRow('c', 24, -30)))]).toEqual(['z']);
  });
});

describe('what is left on an element', () => {
  const part = pin(lineRow('b', 30, -30));
  const bar = [point(-30, 0), point(0, 0), point(0, 20), point(-30, 20)];
  /** The part with a ridge a millimetre wide and so high on its cylinder. */
  const stock = (at: number, height: number): Region => [
    [
      [-30, 0],
      [0, 0],
      [0, 15],
      [at + 1, 15],
      [at + 1, 15 + height],
      [at, 15 + height],
      [at, 15],
      [-30, 15],
    ].map(([x, y]) => point(x, y)),
  ];
  it('is seen wherever it stands, between its ends', () => {
    for (let at = -26; at < -4; at += 0.7) {
      const [cover] = coverageOf(part, stock(at, 0.4), [bar], ['outer']).filter((c) => c.element === 'b');
      expect(cover).toMatchObject({ state: 'leftover', length: 30 });
      expect(cover.left).toBeCloseTo(0.4, 9);
    }
  });
  it('is roughed where nothing was finished, and nothing where it is the part itself', () => {
    const stateOf = (region: Region, finished: string[]) =>
      coverageOf(part, region, [bar], finished).find((c) => c.element === 'b');
    expect(stateOf(stock(-10, 0.4), [])).toMatchObject({ state: 'roughed' });
    expect(stateOf(stock(-10, 0), ['outer'])).toMatchObject({ state: 'finished', left: 0 });
    expect(stateOf([bar], ['outer'])).toMatchObject({ state: 'raw', left: 5 });
  });
});
