import { describe, expect, it } from 'vitest';
import { lineRow, shopTool } from '../../../tests/fixtures/jobs';
import { operation, turnedJob } from '../../../tests/fixtures/turned';
import type { Operation } from '../operations';
import { type Candidate, candidatesFor } from './candidates';
import type { Job } from './document';

/** A stepped part of ⌀40 with a neck 6 wide and 4 deep, from a bar of ⌀50 with 1 mm in front of it. */
const stepped = (operations: Operation[] = []): Job =>
  turnedJob({
    outer: [
      lineRow('a', 32, 0),
      lineRow('b', 32, -20),
      lineRow('c', 40, -20),
      lineRow('d', 40, -26),
      lineRow('e', 32, -26),
      lineRow('f', 32, -32),
      lineRow('g', 40, -32),
      lineRow('h', 40, -40),
      lineRow('i', 0, -40),
    ],
    bar: 50,
    length: 40,
    frontAllowance: 1,
    tools: ['face-rough-80', 'finish-35', 'finish-55', 'groove-3', 'cutoff-3'].map(shopTool),
    operations,
  });

const ask = (job: Job, from: string, to = from): Candidate[] => candidatesFor(job, { from, to }, 'outer', 'h1');

/** Kinds in the order of their best candidate, of those that can. */
const kinds = (found: readonly Candidate[]): string[] => [
  ...new Set(found.filter((c) => c.reach > 0).map((c) => c.kind)),
];

const facing = operation({ id: 'f', kind: 'face', tool: 'face-rough-80', params: { depth: 1 } });
const roughing = operation({ id: 'r', kind: 'outer-rough', tool: 'face-rough-80', params: { depth: 2 } });
const finishing = operation({ id: 'e', kind: 'outer-finish', tool: 'finish-55', params: {} });

describe('the order in which candidates are offered', () => {
  it('is that of a shop: face, rough, finish, and the cutoff last', () => {
    const raw = kinds(ask(stepped(), 'a', 'i'));
    expect(raw.slice(0, 2)).toEqual(['face', 'outer-rough']);
    expect(raw.indexOf('outer-finish')).toBeGreaterThan(1);
    expect(raw.at(-1)).toBe('cutoff');
    expect(kinds(ask(stepped([facing]), 'a', 'i'))[0]).toBe('outer-rough');
    const roughed = ask(stepped([facing, roughing]), 'a', 'i').filter((c) => c.reach > 0 && !c.doubtful);
    expect(roughed[0].kind).not.toBe('face');
    expect(roughed.some((c) => c.kind === 'face')).toBe(false);
  });

  it('begins with a groove where only the groove is picked', () => {
    const [first] = ask(stepped([facing, roughing]), 'f');
    expect(first).toMatchObject({ kind: 'outer-groove', doubtful: false });
    expect(first.reach).toBeGreaterThan(0.95);
  });

  it('puts a tool of the turret before a slightly better one that is still to be set up', () => {
    const job = stepped([facing, roughing]);
    const shelf = [shopTool('finish-35-small')];
    const of = (found: readonly Candidate[], tool: string) =>
      found.findIndex((c) => c.kind === 'outer-finish' && c.tool === tool);
    const found = candidatesFor(job, { from: 'b', to: 'b' }, 'outer', 'h1', undefined, shelf);
    expect(found[of(found, 'finish-35-small')].reach).toBeGreaterThanOrEqual(found[of(found, 'finish-55')].reach);
    expect(of(found, 'finish-55')).toBeLessThan(of(found, 'finish-35-small'));
  });

  it('says of roughing that finishing takes its metal anyway', () => {
    const later = ask(stepped([facing, finishing]), 'b').find((c) => c.kind === 'outer-rough' && c.reach > 0);
    expect(later).toMatchObject({ doubtful: true, reason: 'Operations that stand behind it take this metal already.' });
    // what the finishing leaves in the neck is no such metal
    const over = operation({ ...finishing, id: 'e', params: { undercuts: 'bridge' } });
    const neck = ask(stepped([facing, over]), 'f').find((c) => c.kind === 'outer-rough' && c.tool === 'finish-35');
    expect(neck?.reach).toBeGreaterThan(0.05);
    expect(neck?.doubtful).toBe(false);
  });
});
