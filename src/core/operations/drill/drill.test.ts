import { describe, expect, it } from 'vitest';
import { lineRow, shopTools } from '../../../../tests/fixtures/jobs';
import { turnedJob } from '../../../../tests/fixtures/turned';
import { candidatesFor, DeriveCache, type Job } from '../../plan';
import { drillPointLength } from '../../tooling';

/** A block of ⌀30 × 30 with a bore, through or so deep to where its cone begins. */
const bored = (diameter: number, deep: number | null): Job =>
  turnedJob({
    start: diameter,
    outer: [lineRow('a', 30, 0), lineRow('b', 30, -30), lineRow('c', deep === null ? diameter : 0, -30)],
    inner: [
      lineRow('i', diameter, -(deep ?? 30)),
      ...(deep === null ? [] : [lineRow('k', 0, -deep - drillPointLength(diameter, 140))]),
    ],
    bar: 32,
    length: 30,
    tools: [],
    operations: [],
  });
const offered = (job: Job, tool: string) =>
  candidatesFor(job, { from: 'i', to: 'i' }, 'inner', 'h1', new DeriveCache(), shopTools()).find(
    (c) => c.kind === 'drill' && c.tool === tool,
  );

describe('a drill of the size that the bore has', () => {
  it.each([
    [8.5, 'drill-8.5'],
    [11, 'drill-11'],
    [14, 'drill-14'],
  ])('⌀%d goes through it', (diameter, tool) => {
    const found = offered(bored(diameter, null), tool);
    expect(found?.operation.params).toMatchObject({ depth: null, depthTo: 'full-diameter' });
    expect(found?.reach).toBeGreaterThan(0.9);
  });
  it('goes down to the cone that it leaves itself', () => {
    const found = offered(bored(11, 20), 'drill-11');
    // 20 and the cone: 5.5 / tan 70°
    expect(found?.operation.params).toMatchObject({ depth: 22.002, depthTo: 'point' });
  });
  it('is pecked where its hole is deep, point and break-through counted', () => {
    // 20 of the part, its point, 3 behind it and a face of 1 are more than three times 8
    const job = turnedJob({
      start: 8,
      outer: [lineRow('a', 40, -5), lineRow('b', 40, -20), lineRow('c', 8, -20)],
      inner: [lineRow('i', 8, -20)],
      bar: 42,
      length: 20,
      tools: [],
      operations: [],
    });
    const found = offered(job, 'drill-8');
    expect(found?.operation.params).toMatchObject({ peck: 8 });
    expect(found?.doubtful).toBe(false);
  });
  it('that is larger only breaks the edge of the mouth, if anything', () => {
    const found = offered(bored(11, null), 'drill-12');
    expect(found?.reach ?? 0).toBeLessThan(0.05);
  });
});
