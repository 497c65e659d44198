import { describe, expect, it } from 'vitest';
import { lineRow } from '../../../tests/fixtures/jobs';
import { turnedJob } from '../../../tests/fixtures/turned';
import type { Row } from '../part';
import { madeByCutoff } from './coverage';
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
