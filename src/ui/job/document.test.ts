import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { barOf, withBar } from '../../../tests/fixtures/holding';
import { demoJob } from '../../../tests/fixtures/jobs';
import { edited, type History, redone, replaced, undone } from './document';

const start = (): History => ({ job: demoJob('LM-118'), past: [], future: [] });
const stickOut = (h: History, value: number): History =>
  edited(h, `stick-out ${value}`, (j) => withBar(j, { stickOut: value })) ?? h;

describe('history of a document', () => {
  it('takes no step for a change that changes nothing', () => {
    const h = start();
    expect(edited(h, 'nothing', (j) => j)).toBeNull();
    expect(replaced(h, 'nothing', structuredClone(h.job))).toBeNull();
    expect(undone(h)).toBeNull();
    expect(redone(h)).toBeNull();
  });
  it('does not touch the document that a change was made from', () => {
    const h = start();
    const before = structuredClone(h.job);
    edited(h, 'in place', (j) => {
      barOf(j).diameter = 99;
      return j;
    });
    expect(h.job).toEqual(before);
  });
  it('leaves everything else the same object, so that only what was edited is drawn again', () => {
    const h = start();
    const next = stickOut(h, 77);
    const back = undone(next)?.history.job;
    for (const key of ['part', 'tools', 'mounts', 'machine', 'operations', 'order'] as const) {
      expect(next.job[key]).toBe(h.job[key]);
      expect(back?.[key]).toBe(h.job[key]);
    }
  });
  it('goes back and on through any run of edits, undos and redos to the same documents', () => {
    const step = fc.oneof(fc.integer({ min: 30, max: 200 }), fc.constant('undo'), fc.constant('redo'));
    fc.assert(
      fc.property(fc.array(step, { maxLength: 25 }), (steps) => {
        let h = start();
        // the same kept by hand: every document that there was, and where we are in it
        let docs = [h.job];
        let at = 0;
        for (const s of steps) {
          if (typeof s === 'number') {
            const next = stickOut(h, s);
            if (next !== h) {
              docs = [...docs.slice(0, at + 1), next.job];
              at++;
            }
            h = next;
          } else if (s === 'undo') {
            const back = undone(h);
            expect(back === null).toBe(at === 0);
            if (back) {
              at--;
              h = back.history;
            }
          } else {
            const on = redone(h);
            expect(on === null).toBe(at === docs.length - 1);
            if (on) {
              at++;
              h = on.history;
            }
          }
          expect(h.job).toEqual(docs[at]);
        }
      }),
      { numRuns: 40 },
    );
  });
  it('a new edit after an undo forgets what was undone', () => {
    const back = undone(stickOut(start(), 60));
    if (!back) throw new Error('nothing to undo');
    expect(back.label).toBe('stick-out 60');
    expect(redone(stickOut(back.history, 70))).toBeNull();
  });
  it('another version is one step: undo gives mine back, and my steps below it still undo', () => {
    const mine = stickOut(start(), 61);
    const theirs = { ...demoJob('LM-118'), header: { ...mine.job.header, note: 'theirs' } };
    const taken = replaced(mine, 'take the other version', theirs);
    if (!taken) throw new Error('no difference');
    const back = undone(taken);
    expect(back?.history.job).toEqual(mine.job);
    expect(back && undone(back.history)?.history.job).toEqual(start().job);
  });
});
