import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import type { Job } from './document';
import { differencesInWords } from './inWords';

const changed = (change: (job: Job) => void, number = 'LM-101'): string[] => {
  const before = demoJob(number);
  const after = structuredClone(before);
  change(after);
  return differencesInWords(before, after).map((d) => `${d.about}: ${d.words}`);
};

describe('differences of two versions in words', () => {
  it('are none between a job and itself', () => expect(changed(() => undefined)).toEqual([]));
  it('name the row and the number', () => {
    expect(
      changed((j) => {
        j.part.outer.rows[1].diameter = 27.5;
        j.part.outer.rows[1].corner = null;
      }),
    ).toEqual(['Outer contour row 2: ⌀ 26 → 27.5', 'Outer contour row 2: corner kind fillet, size 1 → none']);
  });
  it('tell a row that came and one that went from one that changed', () => {
    expect(
      changed((j) => {
        j.part.outer.rows.splice(2, 1);
        j.part.outer.rows.push({ ...j.part.outer.rows[0], id: 'new', diameter: 8, z: -30 });
      }),
    ).toEqual(['Outer contour row 7: added: ⌀8 Z-30', 'Outer contour row 3: taken away: ⌀50 Z-4']);
  });
  it('name operations, fields with their labels and units, tools by their names', () => {
    const words = changed((j) => {
      const op = j.operations.op3;
      if (op.kind !== 'outer-rough') throw new Error('another demo');
      op.params.depth = 2;
      op.params.along = 'x';
      op.cutting.feed = 0.25;
      op.tool = 'rough-trigon';
      op.on = false;
    });
    expect(words).toContain('Rough the rim: feed 0.3 → 0.25 mm/rev');
    expect(words).toContain('Rough the rim: switched off');
    expect(words.some((w) => /^Rough the rim: depth per pass 2\.5 → 2$/i.test(w))).toBe(true);
    expect(words.some((w) => w.startsWith('Rough the rim: tool Facing and roughing 80° → '))).toBe(true);
    expect(words.length).toBe(5);
  });
  it('say what came, went and moved in the order', () => {
    expect(
      changed((j) => {
        delete j.operations.op2;
        j.order['1'] = ['op1', 'op4', 'op3', 'op5', 'op6', 'op7'];
      }),
    ).toEqual(['Drill ⌀11 through: taken away', expect.stringMatching(/^Order in channel 1: .*Rough the rim/)]);
  });
  it('speak of header, stock, stations and machine', () => {
    const words = changed((j) => {
      j.header.revision = 'B';
      const { stock } = j.holdings.h1;
      if (stock.form === 'bar') stock.diameter = 65;
      j.mounts.upper['3']['1'] = { ...j.mounts.upper['3']['1'], tool: 'finish-35' };
      j.machine.id = 'other';
      j.machine.name = 'Another lathe';
    });
    expect(words).toContain('Job: revision A → B');
    expect(words).toContain('Holding “First side”: stock diameter 62 → 65');
    expect(words.some((w) => w.startsWith('Station 3 of upper: ') && w.includes('→'))).toBe(true);
    expect(words).toContain('Machine: Fellgate T2 → Another lathe');
  });
});
