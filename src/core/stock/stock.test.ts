import { describe, expect, it } from 'vitest';
import { barOf, holdingOf } from '../../../tests/fixtures/holding';
import { demoJob } from '../../../tests/fixtures/jobs';
import { greatestHalfThickness, rectangle, regionArea, regionBounds, regionVolume, subtractRegion } from '../geometry';
import { barRegion, barSeat, chuckRegion, jawLength, jawRegion, zeroFromFace } from '../holding';
import { movesOf } from '../motion';
import { derive } from '../plan';
import { turnedBody } from './body';
import { feedRuns, separate, stockAfter } from './removal';

describe('holding', () => {
  const job = demoJob('LM-101');
  const spindle = job.machine.spindles[0];
  const holding = holdingOf(job);
  const seat = barSeat(barOf(job));
  it('stands the jaws on the bar, the grip behind their front', () => {
    const front = seat.jawFront;
    expect(front).toBe(1 - 44);
    const b = regionBounds(jawRegion(seat, holding));
    expect(b.maxX).toBe(front);
    expect(b.minY).toBe(31);
    expect(b.maxY).toBe(31 + 26);
    expect(b.minX).toBe(front - jawLength(holding));
  });
  it('relieves a jaw that is longer than its grip', () => {
    const short = { ...holding, grip: 18 };
    const jaw = jawRegion(seat, short);
    expect(regionArea(jaw)).toBeCloseTo(regionArea(jawRegion(seat, holding)) - 12 * 2, 6);
  });
  it('puts chuck, bar and zero behind each other', () => {
    const chuck = regionBounds(chuckRegion(seat, holding, spindle));
    expect(chuck.maxX).toBe(seat.jawFront - 30);
    expect(regionVolume(barRegion(barOf(job), holding, spindle))).toBeCloseTo(Math.PI * 31 * 31 * (44 + 30 + 80), 3);
    expect(zeroFromFace(seat, holding)).toBe(0 + 30 + 43);
    const tube = barRegion({ ...barOf(job), bore: 20 }, holding, spindle);
    expect(regionBounds(tube).minY).toBe(10);
  });
});

describe('removal', () => {
  it('done by the events alone gives the derived stock', () => {
    const d = derive(demoJob('LM-118'));
    for (const o of d.operations) {
      if (!o.section) continue;
      const again = stockAfter(o.before, o.events, o.section);
      // two ways of taking metal off: polygons swept run by run, and the top of the metal lowered move by move
      expect(Math.abs(regionVolume(again.turnedOutline) - regionVolume(o.after.turnedOutline))).toBeLessThan(0.03);
      const apart = [
        ...subtractRegion(again.turnedOutline, o.after.turnedOutline),
        ...subtractRegion(o.after.turnedOutline, again.turnedOutline),
      ];
      expect(greatestHalfThickness(apart)).toBeLessThan(1e-3);
    }
  });
  it('tells runs of feed apart at rapids', () => {
    const o = derive(demoJob('LM-101')).operations[0];
    const runs = o.section ? feedRuns(movesOf(o.events), o.section) : [];
    expect(runs.length).toBe(2);
    for (const r of runs) for (let i = r.first; i <= r.last; i++) expect(o.events[i].kind).not.toBe('rapid');
  });
  it('tells the piece that came off from what is held', () => {
    const bar = subtractRegion(rectangle(-60, 0, 0, 20), rectangle(-23, -1, -20, 30));
    const { held, off } = separate(turnedBody(bar), -40);
    expect(regionBounds(off.turnedOutline).minX).toBeCloseTo(-20, 6);
    expect(regionBounds(held.turnedOutline).maxX).toBeCloseTo(-23, 6);
    expect(separate(turnedBody(rectangle(-60, 0, 0, 20)), -40).off.isEmpty).toBe(true);
  });
});
