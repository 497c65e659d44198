import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isCoarse, threadByName, threadDepth } from './form';
import { firstDepthFor, infeedDepths, infeedShift, runInLength } from './infeed';
import { NPT, UNIFIED } from './standards';

const thread = (name: string) => {
  const found = threadByName(name);
  if (!found) throw new Error(`no thread ${name}`);
  return found;
};

describe('threads by their designation', () => {
  it('metric, coarse and fine: M20 has d2 18.3762, D1 17.2937', () => {
    expect(thread('M20')).toMatchObject({ pitch: 2.5, angle: 60, taper: 0, major: 20, standard: true });
    expect(thread('M20').pitchDiameter).toBeCloseTo(18.3762, 4);
    expect(thread('M20').minor).toBeCloseTo(17.2937, 4);
    expect(thread('M20x2.5').designation).toBe('M20');
    expect(thread('m16 x 1,5')).toMatchObject({ designation: 'M16x1.5', pitch: 1.5, standard: true });
    expect(thread('M17x1.3').standard).toBe(false);
  });
  it('unified: pitch and minor diameters of the table', () => {
    const inches: Record<string, [number, number]> = {
      '#10-32': [0.1697, 0.1562],
      '1/4-20': [0.2175, 0.1959],
      '1/4-28': [0.2268, 0.2113],
      '5/16-18': [0.2764, 0.2524],
      '3/8-16': [0.3344, 0.3073],
      '1/2-13': [0.45, 0.4167],
      '1/2-20': [0.4675, 0.4459],
      '3/4-10': [0.685, 0.6417],
      '1-8': [0.9188, 0.8647],
    };
    for (const [size, , perInch] of UNIFIED) {
      const t = thread(`${size} UNC`);
      expect(t.pitch).toBeCloseTo(25.4 / perInch, 9);
      if (!inches[size]) continue;
      expect(t.pitchDiameter / 25.4).toBeCloseTo(inches[size][0], 4);
      expect(t.minor / 25.4).toBeCloseTo(inches[size][1], 4);
    }
  });
  it('pipe: G 1/2 and R 1/2 differ by their taper, NPT has E0 at its small end', () => {
    expect(thread('G1/2')).toMatchObject({ angle: 55, taper: 0, major: 20.955 });
    expect(thread('G1/2').pitchDiameter).toBeCloseTo(19.793, 3);
    expect(thread('G 1/2').minor).toBeCloseTo(18.631, 2);
    // the gauge plane of R 1/2 lies 8.2 behind the front
    expect(thread('R1/2').major + 8.2 / 16).toBeCloseTo(20.955, 9);
    const n = thread('NPT 1/2');
    expect([n.pitchDiameter, n.taper]).toEqual([19.264, 1 / 16]);
    expect(n.minor).toBeCloseTo(19.772 - 0.8 * n.pitch, 9);
    for (const [size, , , e0] of NPT) expect(thread(`NPT${size}`).pitchDiameter).toBe(e0);
    expect((Math.atan(1 / 32) * 180) / Math.PI).toBeCloseTo(1.78991, 5);
  });
  it('trapezoidal: Tr20x4 is 2.25 deep on a pitch diameter of 18', () => {
    expect(thread('Tr20x4')).toMatchObject({ angle: 30, pitchDiameter: 18, minor: 16 });
    expect(thread('Tr20x4').outer.full).toBe(2.25);
    expect(threadDepth(thread('Tr20x4'), 'outer', { angle: 30, noseRadius: 0.2, profile: 'partial' })).toBe(2.25);
  });
  it.each(['', 'M', 'M5x4', 'G9/8', 'R7/8', 'NPT 5', '2/3-9', 'Tr4x4', 'hello'])('“%s” is no thread', (name) => {
    expect(threadByName(name)).toBeNull();
  });
});

describe('a coarse thread', () => {
  it('is a metric one of the pitch that its diameter has first', () => {
    expect(['M20', 'M20x2.5', 'M36x4'].map(isCoarse)).toEqual([true, true, true]);
    expect(['M20x2', 'Tr24x3', 'G1/2', '3/4-10', 'M19x2', ''].some(isCoarse)).toBe(false);
  });
});

describe('depth of a thread', () => {
  it('by a partial form goes deeper with a sharper nose: P 1.5, nose 0.05 gives 1.08666 outside and 0.92428 inside', () => {
    const edge = { angle: 60, noseRadius: 0.05, profile: 'partial' as const };
    expect(threadDepth(thread('M16x1.5'), 'outer', edge)).toBeCloseTo(1.08666, 5);
    expect(threadDepth(thread('M30x1.5'), 'inner', edge)).toBeCloseTo(0.92428, 5);
  });
  it('by a full form is that of the standard: 0.61343 P outside, 0.54127 P inside', () => {
    const edge = { angle: 60, noseRadius: 0.2, profile: 'full' as const };
    expect(threadDepth(thread('M16x1.5'), 'outer', edge)).toBeCloseTo(0.61343 * 1.5, 9);
    expect(threadDepth(thread('M30x1.5'), 'inner', edge)).toBeCloseTo(0.54127 * 1.5, 9);
  });
});

describe('infeed', () => {
  it('of equal area: h 0.92 in 6 passes, .3756 .5312 .6505 .7512 .8398 .9200', () => {
    const depths = infeedDepths({
      depth: 0.92,
      first: firstDepthFor(0.92, 6),
      least: 0.02,
      finish: 0,
      mode: 'equal-area',
    });
    expect(depths?.map((d) => Number(d.toFixed(4)))).toEqual([0.3756, 0.5312, 0.6505, 0.7512, 0.8398, 0.92]);
    expect(infeedShift('flank', 0.92, 0.92, 29, 6)).toBeCloseTo(0.50996, 5);
  });
  it('of M16×1.5, first 0.25, least 0.08, 0.05 for the last: worked by hand', () => {
    // √2·.25 = .3536; from then on .08 is more than the root gives; .8336 would leave .0366, which goes with the pass before
    const depths = infeedDepths({ depth: 0.9202, first: 0.25, least: 0.08, finish: 0.05, mode: 'equal-area' });
    const expected = [0.25, 0.3536, 0.4336, 0.5136, 0.5936, 0.6736, 0.7536, 0.8702, 0.9202];
    expect(depths?.map((d) => Number(d.toFixed(4)))).toEqual(expected);
  });
  it('of fixed depths takes the same each time and the rest at the end', () => {
    expect(
      infeedDepths({ depth: 1, first: 0.3, least: 0.05, finish: 0, mode: 'fixed' })?.map((d) => +d.toFixed(3)),
    ).toEqual([0.3, 0.6, 0.9, 1]);
  });
  it('ends at the depth, grows with every pass and never takes less than the least, for any numbers', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 4, noNaN: true }),
        fc.double({ min: 0.02, max: 1, noNaN: true }),
        fc.double({ min: 0.01, max: 0.2, noNaN: true }),
        fc.double({ min: 0, max: 0.09, noNaN: true }),
        fc.constantFrom('equal-area' as const, 'fixed' as const),
        (depth, first, least, finish, mode) => {
          const depths = infeedDepths({ depth, first, least, finish, mode });
          if (!depths) throw new Error('too many passes');
          expect(depths[depths.length - 1]).toBeCloseTo(depth, 9);
          const steps = depths.map((d, i) => d - (depths[i - 1] ?? 0));
          for (const s of steps) expect(s).toBeGreaterThan(0);
          const rough = finish > 1e-9 ? steps.slice(0, -1) : steps;
          for (const s of rough.slice(0, -1)) expect(s).toBeGreaterThanOrEqual(least - 1e-9);
        },
      ),
      { numRuns: 200 },
    );
  });
  it('shifts by turns to either side of the middle, and not at all at the end', () => {
    const middle = 0.9 * Math.tan((29 * Math.PI) / 180);
    const at = (d: number, pass: number): number => infeedShift('alternating', d, 0.9, 29, pass) - middle;
    expect(at(0.3, 1)).toBeCloseTo(0.6 * Math.tan((29 * Math.PI) / 180), 9);
    expect(at(0.3, 2)).toBeCloseTo(-at(0.3, 1), 9);
    expect(at(0.9, 5)).toBeCloseTo(0, 9);
    expect(infeedShift('straight', 0.5, 0.9, 29, 3)).toBe(0);
  });
  it('wants a run-in of v²/2a: n 1500, lead 2, 3 m/s² give 0.41667', () => {
    expect(runInLength(1500, 2, 3000)).toBeCloseTo(0.41667, 5);
  });
});
