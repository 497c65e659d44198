import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { derive, type Job, readJobText } from '../plan';
import { mountsFromStations, upgradedTool } from './upgrade';

const read = (path: string): Job => {
  const r = readJobText(readFileSync(path, 'utf8'));
  if (!r.ok) throw new Error(r.problems.map((p) => p.message).join(' '));
  return r.job;
};

describe('tools of older documents', () => {
  it('come apart into cutter, holder and mount', () => {
    const flat = {
      id: 'b',
      name: 'Bar',
      kind: 'boring',
      insert: 'CCMT060204',
      hand: 'left',
      approachAngle: 95,
      barDiameter: 8,
      noseToAxis: 5,
      bar: 'carbide',
      overhang: 36,
      wayUp: 'usual',
      offset: 17,
      material: 'cermet',
    };
    expect(upgradedTool(flat)).toEqual({
      id: 'b',
      name: 'Bar',
      kind: 'boring',
      cutter: { kind: 'insert', designation: 'CCMT060204', material: 'cermet' },
      holder: { kind: 'bar', hand: 'left', approachAngle: 95, diameter: 8, noseToAxis: 5, material: 'carbide' },
      stickOut: 36,
    });
    expect(mountsFromStations({ upper: { '7': 'b' } }, { b: flat })).toEqual({
      upper: { '7': { 1: { tool: 'b', wayUp: 'usual', offset: 17 } } },
    });
  });
  it('are left alone when they are new already, or are no tools', () => {
    for (const v of [null, 3, 'x', [], {}, { kind: 'ghost' }, { kind: 'drill', cutter: {} }])
      expect(upgradedTool(v)).toEqual(v);
  });
  it.each(
    ['version-1', 'version-2', 'version-3', 'version-4'].flatMap((v) =>
      readdirSync(`tests/fixtures/${v}`).map((f) => [v, f] as const),
    ),
  )('%s/%s is read as a job that plans without a finding that blocks', (version, file) => {
    const job = read(`tests/fixtures/${version}/${file}`);
    expect(job.version).toBe(5);
    const blocking = derive(job).findings.filter((f) => f.severity === 'blocking');
    // when it was kept nobody looked whether a bar stands where the chuck of the sub-spindle comes
    expect(blocking.map((f) => f.code)).toEqual(file.startsWith('LM-212') ? ['tool-meets-spindle'] : []);
  });
  it.each(
    ['version-2', 'version-3', 'version-4'].flatMap((v) =>
      readdirSync(`tests/fixtures/${v}`).map((f) => [v, f] as const),
    ),
  )('%s/%s gives the motion of the same job made new', (version, file) => {
    const kept = read(`tests/fixtures/${version}/${file}`);
    if (file.startsWith('LM-212')) kept.holdings.h1.toolChange.diameter = 200;
    const old = derive(kept);
    const now = derive(read(`demo/jobs/${file}`));
    expect(old.program).toEqual(now.program);
    expect(old.timeline.total).toBe(now.timeline.total);
  });
});
