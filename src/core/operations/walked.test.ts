import { describe, expect, it } from 'vitest';
import { seeded } from '../../../tests/fixtures/random';
import { arc, type Curve, curveLength, distance, flattenCurve, line, type Point, point } from '../geometry';
import { type Contact, firstInMetal, stretchesInMetal } from './engagement';
import { sliceChain, Track } from './track';
import { walkedAlong } from './walked';

/** A way toward −x: level, a quarter round down, a wall down, level. */
const chain: Curve[] = [
  line(point(20, 5), point(12, 5)),
  arc(point(12, 5), point(10, 3), point(12, 3), false),
  line(point(10, 3), point(10, 1)),
  line(point(10, 1), point(0, 1)),
];
const TOTAL = 8 + Math.PI + 2 + 10;

describe('a track', () => {
  const track = new Track(chain);
  it('is as long as its pieces', () => {
    expect(track.total).toBeCloseTo(TOTAL, 9);
    expect(new Track([]).total).toBe(0);
  });
  it('tells the place at a length, on straights and rounds', () => {
    expect(track.at(0)).toEqual(point(20, 5));
    expect(track.at(4)).toEqual(point(16, 5));
    const middle = track.at(8 + Math.PI / 2);
    expect(middle.x).toBeCloseTo(12 - Math.SQRT2, 9);
    expect(middle.y).toBeCloseTo(3 + Math.SQRT2, 9);
    expect(track.at(8 + Math.PI + 1).y).toBeCloseTo(2, 9);
    expect(track.at(TOTAL)).toEqual(point(0, 1));
  });
  it('cut in pieces and put together is the whole again', () => {
    const random = seeded(4);
    for (let k = 0; k < 50; k++) {
      const cuts = [0, TOTAL, ...Array.from({ length: 5 }, () => random() * TOTAL)].sort((a, b) => a - b);
      const parts = cuts.slice(1).flatMap((to, i) => track.slice(cuts[i], to));
      expect(parts.reduce((s, c) => s + curveLength(c), 0)).toBeCloseTo(TOTAL, 6);
      for (let i = 1; i < parts.length; i++) expect(distance(parts[i - 1].to, parts[i].from)).toBeLessThan(1e-6);
      expect(distance(parts[0].from, point(20, 5))).toBeLessThan(1e-9);
      expect(sliceChain(chain, cuts[1], cuts[3])).toEqual(track.slice(cuts[1], cuts[3]));
    }
  });
  it('gives points that lie on it, in order, from end to end', () => {
    const random = seeded(9);
    for (let k = 0; k < 40; k++) {
      const a = random() * TOTAL;
      const b = a + random() * (TOTAL - a);
      const points = track.points(a, b);
      expect(distance(points[0], track.at(a))).toBeLessThan(1e-9);
      expect(distance(points[points.length - 1], track.at(b))).toBeLessThan(1e-6);
      let size = 0;
      for (let i = 1; i < points.length; i++) size += distance(points[i - 1], points[i]);
      // chords are shorter than the arc by very little
      expect(Math.abs(size - (b - a))).toBeLessThan(2e-3);
    }
  });
});

describe('what was walked', () => {
  it('of the same chain is all of it', () => {
    const walked = walkedAlong(chain, chain);
    expect(walked.gaps(0, TOTAL)).toEqual([]);
    expect(walked.past(0)).toBeCloseTo(TOTAL, 6);
  });
  it('of nothing is nothing', () => {
    const walked = walkedAlong(chain, []);
    expect(walked.gaps(0, TOTAL)).toEqual([{ from: 0, to: TOTAL }]);
    expect(walked.past(3)).toBe(3);
    expect(walked.next(3)).toBe(Number.POSITIVE_INFINITY);
  });
  it('higher up leaves what lies below: the wall above is known, its foot and the level are not', () => {
    // the pass before ran at y = 2 and ended at the wall
    const before = [...chain.slice(0, 2), line(point(10, 3), point(10, 2)), line(point(10, 2), point(0, 2))];
    const walked = walkedAlong(chain, before);
    const known = 8 + Math.PI + 1;
    expect(walked.past(0)).toBeCloseTo(known, 6);
    expect(walked.past(known + 0.5)).toBe(known + 0.5);
    const gaps = walked.gaps(0, TOTAL);
    expect(gaps).toHaveLength(1);
    expect(gaps[0].from).toBeCloseTo(known, 6);
    expect(gaps[0].to).toBeCloseTo(TOTAL, 6);
  });
  it('in stretches is known in stretches', () => {
    const track = new Track(chain);
    const before = [...track.slice(2, 5), ...track.slice(9, 10), ...track.slice(15, 18)];
    const walked = walkedAlong(chain, before);
    expect(walked.next(0)).toBeCloseTo(2, 6);
    expect(walked.past(2.5)).toBeCloseTo(5, 6);
    expect(walked.next(5.5)).toBeCloseTo(9, 6);
    expect(walked.past(9.2)).toBeCloseTo(10, 6);
    expect(walked.gaps(0, TOTAL).map((g) => [g.from, g.to].map((v) => Math.round(v * 1e4) / 1e4))).toEqual([
      [0, 2],
      [5, 9],
      [10, 15],
      [18, Math.round(TOTAL * 1e4) / 1e4],
    ]);
  });
  it('beside the chain does not count, nor another round through the same ends', () => {
    const beside = chain.map((c) => ({
      ...c,
      from: point(c.from.x, c.from.y + 1e-3),
      to: point(c.to.x, c.to.y + 1e-3),
    }));
    expect(walkedAlong(chain.slice(0, 1), beside.slice(0, 1) as Curve[]).gaps(0, 8)).toHaveLength(1);
    const other = arc(point(12, 5), point(10, 3), point(10, 5), true);
    expect(walkedAlong([chain[1]], [other]).gaps(0, Math.PI)).toHaveLength(1);
    expect(walkedAlong([chain[1]], [line(point(12, 5), point(10, 3))]).gaps(0, Math.PI)).toHaveLength(1);
  });
});

/** Metal as stretches of x under a height; a tool that is one point meets it below. */
const metal = (blocks: readonly (readonly [number, number, number])[]): Contact => {
  const within = (p: Point): boolean => blocks.some(([a, b, top]) => p.x > a && p.x < b && p.y < top);
  return {
    bite: (p) => {
      const depths = blocks.map(([a, b, top]) => Math.min(p.x - a, b - p.x, top - p.y));
      return within(p) ? Math.max(Number.MIN_VALUE, ...depths) : 0;
    },
    clear: (path) => {
      for (let i = 1; i < path.length; i++)
        for (let k = 0; k <= 400; k++) {
          const t = k / 400;
          if (
            within(
              point(path[i - 1].x + (path[i].x - path[i - 1].x) * t, path[i - 1].y + (path[i].y - path[i - 1].y) * t),
            )
          )
            return false;
        }
      return true;
    },
    // nothing is plain: every place is looked at
    meets: () => 0,
  };
};
const twoBlocks = (): Contact =>
  metal([
    [3, 7, 2],
    [12, 15, 2],
  ]);
const ends = (list: readonly { from: number; to: number }[]): number[][] =>
  list.map((s) => [Math.round(s.from * 50) / 50, Math.round(s.to * 50) / 50]);

describe('stretches in metal', () => {
  const level = [line(point(20, 1), point(0, 1))];
  it('are where the metal stands higher, within a hundredth', () => {
    const found = [...stretchesInMetal(new Track(level), twoBlocks(), 0.5)];
    expect(found).toHaveLength(2);
    expect(Math.abs(found[0].from - 5)).toBeLessThan(0.02);
    expect(Math.abs(found[0].to - 8)).toBeLessThan(0.02);
    expect(Math.abs(found[1].from - 13)).toBeLessThan(0.02);
    expect(Math.abs(found[1].to - 17)).toBeLessThan(0.02);
    for (const s of found) expect(s.pieces.reduce((sum, c) => sum + curveLength(c), 0)).toBeCloseTo(s.to - s.from, 6);
  });
  it('close together are one', () => {
    const blocks = metal([
      [3, 7, 2],
      [7.4, 9, 2],
    ]);
    expect([...stretchesInMetal(new Track(level), blocks, 0.3)]).toHaveLength(2);
    const [one] = [...stretchesInMetal(new Track(level), blocks, 0.6)];
    expect(Math.abs(one.from - 11)).toBeLessThan(0.02);
    expect(Math.abs(one.to - 17)).toBeLessThan(0.02);
  });
  it('are told one by one, and nothing is looked at further on than the next would have to begin', () => {
    const blocks = twoBlocks();
    let furthest = 0;
    const seen: Contact = {
      ...blocks,
      clear: (path) => {
        for (const p of path) furthest = Math.max(furthest, 20 - p.x);
        return blocks.clear(path);
      },
    };
    expect(ends([firstInMetal(new Track(level), seen, 0.5) ?? { from: 0, to: 0 }])).toEqual([[5, 8]]);
    // the way on which the first was found began with 8 mm
    expect(furthest).toBeLessThan(12.5);
  });
  it('are the same where a tool tells how far it surely meets metal', () => {
    const blocks = metal([
      [3, 7, 2],
      [7.4, 9, 2],
      [12, 15, 2],
    ]);
    const told = (from: Point, to: Point): number => {
      for (let k = 0; k <= 100; k++) {
        const x = from.x + ((to.x - from.x) * k) / 100;
        if (blocks.bite(point(x, from.y)) === 0) return Math.max(0, k - 1) / 100;
      }
      return 1;
    };
    const found = (contact: Contact) => ends([...stretchesInMetal(new Track(level), contact, 0.5)]);
    expect(found({ ...blocks, meets: told })).toEqual(found(blocks));
  });
  it('of a few hundredths are no cut', () => {
    expect([...stretchesInMetal(new Track(level), metal([[5, 5.02, 2]]), 0.5)]).toEqual([]);
  });
  it('that low metal does not reach are none', () => {
    expect([...stretchesInMetal(new Track(level), metal([[0, 20, 0.99]]), 0.5)]).toEqual([]);
  });
  it('begin where they are asked from', () => {
    const blocks = twoBlocks();
    expect(ends([...stretchesInMetal(new Track(level), blocks, 0.5, 9)])).toEqual([[13, 17]]);
    expect(ends([...stretchesInMetal(new Track(level), blocks, 0.5, 14)])).toEqual([[14, 17]]);
  });
  it('are not looked for where the tool has gone before', () => {
    const track = new Track(level);
    const blocks = twoBlocks();
    let asked = 0;
    const counted: Contact = {
      ...blocks,
      clear: (path) => {
        for (const p of path) if (p.x > 8 && p.x < 20) asked++;
        return blocks.clear(path);
      },
    };
    // what was walked is taken for clear without a look
    const walked = walkedAlong(level, track.slice(0, 12));
    expect(ends([...stretchesInMetal(track, counted, 0.5, 0, walked)])).toEqual([[13, 17]]);
    expect(asked).toBeLessThanOrEqual(1);
  });
  it('on a round are those of its chords', () => {
    const round = [arc(point(10, 0), point(-10, 0), point(0, 0), false)];
    const [s] = [...stretchesInMetal(new Track(round), metal([[-20, 20, 6]]), 0.1)];
    // y < 6 up to asin(0.6)
    expect(s.from).toBeLessThan(0.02);
    expect(Math.abs(s.to - 10 * Math.asin(0.6))).toBeLessThan(0.02);
    expect(flattenCurve(round[0]).length).toBeGreaterThan(10);
  });
});
