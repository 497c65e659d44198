import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, it } from 'vitest';
import { runCli } from '../../src/cli/program';
import { barOf } from '../fixtures/holding';
import { DEMO_JOBS, demoJob, demoPath } from '../fixtures/jobs';
import { demoFile } from '../fixtures/parts';

const lively = fileURLToPath(new URL('../../bin/lively', import.meta.url));
const run = (...args: string[]) => runCli(args);
const json = async (...args: string[]) => JSON.parse((await run(...args)).out);
const made: string[] = [];
const scratch = (): string => {
  const folder = mkdtempSync(join(tmpdir(), 'lively-'));
  made.push(folder);
  return folder;
};
afterAll(() => {
  for (const folder of made) rmSync(folder, { recursive: true, force: true });
});
const written = (change: (text: string) => string, name = 'job.spindle.json'): string => {
  const path = join(scratch(), name);
  writeFileSync(path, change(readFileSync(demoPath('LM-101'), 'utf8')));
  return path;
};

describe('bin/lively', () => {
  it('runs from the shell with exit code and output', () => {
    const r = spawnSync('bash', [lively, 'time', demoPath('LM-155'), '--json'], { encoding: 'utf8' });
    expect(r.status).toBe(0);
    expect(JSON.parse(r.stdout).total).toBeGreaterThan(10);
    expect(spawnSync('bash', [lively, 'check', '/nowhere'], { encoding: 'utf8' }).status).toBe(2);
    // what takes too long is stopped from outside
    const late = spawnSync('bash', [lively, 'import', 'demo/solids/LM-101.step'], {
      encoding: 'utf8',
      env: { ...process.env, LIVELY_IMPORT_SECONDS: '0.2' },
    });
    expect(late.status).toBe(2);
    expect(late.stderr).toContain('more than 0.2 s');
  });
  it('holds programs from elsewhere against the plan, and reads them without one', async () => {
    const dir = scratch();
    await run('post', demoPath('LM-101'), '--out', dir, '--date', '2026-01-02');
    expect(await json('prove', demoPath('LM-101'), '--programs', dir, '--json')).toMatchObject({
      ok: true,
      blocked: 0,
    });
    const path = join(dir, 'LM-101-ch1.nc');
    const text = readFileSync(path, 'utf8');
    writeFileSync(path, text.replace('F0.04', 'F0.4').replace(/^M8$/m, ''));
    const edited = await run('prove', demoPath('LM-101'), '--programs', dir, '--json');
    expect(edited.code).toBe(1);
    const whats = JSON.parse(edited.out).channels[0].differences.map((d: { what: string }) => d.what);
    expect(whats).toEqual(expect.arrayContaining(['feed', 'coolant']));
    // one word of a pass: where, and on which way
    writeFileSync(path, text.replace(/^X-1\.64$/m, 'X-1.44'));
    const moved = await run('prove', demoPath('LM-101'), '--programs', dir);
    expect(moved.out).toMatch(/channel 1: the path differs most in “Face the front” on the way to X-1\.640 Z/);
    expect(moved.out).not.toContain('Infinity');
    const read = await json('read', dir, '--machine', 'fellgate-t2', '--tools', demoPath('LM-101'), '--json');
    expect(read.channels[0].problems).toEqual([]);
    expect(read.channels[0].moves).toBeGreaterThan(100);
    expect(read.deadlock).toBe(false);
    writeFileSync(path, text.replace('M30', ''));
    const torn = await run('read', dir, '--machine', 'fellgate-t2', '--json');
    expect(torn.code).toBe(1);
    expect((await run('read', dir, '--machine', 'nowhere')).err).toContain('fellgate-t2');
    expect((await run('read', scratch(), '--machine', 'fellgate-t2')).code).toBe(2);
  });
  it('says when check has blocked what prove finds faithful', async () => {
    const job = demoJob('LM-101');
    barOf(job).stickOut = 25;
    const r = await run(
      'prove',
      written(() => JSON.stringify(job)),
    );
    expect(r.code).toBe(1);
    expect(r.out).toContain('block the plan itself');
  });
  it('checks, with the agreed shape and exit codes', async () => {
    const fine = await json('check', demoPath('LM-101'), '--json');
    expect(fine.findings.every((f: { severity: string }) => f.severity === 'info')).toBe(true);
    const job = demoJob('LM-101');
    barOf(job).stickOut = 25;
    const blocked = await run(
      'check',
      written(() => JSON.stringify(job)),
      '--json',
    );
    expect(blocked.code).toBe(1);
    const f = JSON.parse(blocked.out).findings.find((k: { code: string }) => k.code === 'cutoff-meets-jaws');
    expect(f).toMatchObject({ severity: 'blocking', operation: 'op7' });
    expect(f.message).toContain('stick-out');
  });
  it('times channels and operations', async () => {
    const t = await json('time', demoPath('LM-118'), '--json');
    expect(t.channels).toEqual([{ id: '1', total: t.total }]);
    const sum = t.operations.reduce(
      (s: number, o: { cutting: number; rapid: number; other: number }) => s + o.cutting + o.rapid + o.other,
      0,
    );
    expect(sum).toBeCloseTo(t.total, 6);
    expect(t.operations.map((o: { id: string }) => o.id)).toEqual(['op1', 'op2', 'op3', 'op4', 'op5', 'op6', 'op7']);
  });
  it('posts one file for each channel, the same bytes for the same date', async () => {
    const [a, b] = [scratch(), scratch()];
    expect((await run('post', demoPath('LM-155'), '--out', a, '--date', '2026-01-02')).code).toBe(0);
    await run('post', demoPath('LM-155'), '--out', b, '--date', '2026-01-02');
    expect(readdirSync(a)).toEqual(['LM-155-ch1.nc']);
    expect(readFileSync(join(a, 'LM-155-ch1.nc'), 'utf8')).toBe(readFileSync(join(b, 'LM-155-ch1.nc'), 'utf8'));
  });
  it('proves every demo job', async () => {
    for (const name of DEMO_JOBS) {
      const p = await json('prove', demoPath(name), '--json');
      expect(p).toMatchObject({ ok: true });
      expect(p.maxDeviation).toBeLessThanOrEqual(0.001);
      expect(p.moves).toBeGreaterThan(50);
      expect(p.channels[0].id).toBe('1');
    }
  });
  it('finds the order of fewest tool changes, and writes the job in it', async () => {
    const file = join(scratch(), 'ordered.spindle.json');
    const best = await json('order', demoPath('LM-118'), '--json', '--out', file);
    expect([best.before.changes, best.after.changes]).toEqual([7, 5]);
    expect((await json('time', file, '--json')).total).toBeLessThan(
      (await json('time', demoPath('LM-118'), '--json')).total,
    );
    expect(await json('prove', file, '--json')).toMatchObject({ ok: true });
    const again = await run('order', file);
    expect(again.out).toContain('5 tool changes; no order with fewer keeps what must come first.');
  });
  it('gives sections before, between and after, as json, svg and dxf', async () => {
    const raw = await json('section', demoPath('LM-101'));
    const faced = await json('section', demoPath('LM-101'), '--after', 'op1', '--format', 'json');
    expect(raw.volume - faced.volume).toBeCloseTo(Math.PI * 31 * 31, 0);
    const part = await json('section', demoPath('LM-101'), '--after', 'op7');
    expect(part.volume).toBeCloseTo(44378.36, 0);
    expect(part.remnant.volume).toBeGreaterThan(1e5);
    for (const ring of part.polygons) for (const p of ring) expect(p.length).toBe(2);
    expect((await run('section', demoPath('LM-101'), '--after', 'op3', '--format', 'svg')).out).toContain('<svg');
    const dxf = (await run('section', demoPath('LM-101'), '--after', 'op3', '--format', 'dxf')).out;
    const vertices = [...dxf.matchAll(/VERTEX\n8\nSTOCK\n10\n(.+)\n20\n(.+)\n/g)].map((m) => [
      Number(m[1]),
      Number(m[2]),
    ]);
    const rough = await json('section', demoPath('LM-101'), '--after', 'op3', '--format', 'json');
    expect(vertices.length).toBe(rough.polygons.flat().length);
    rough.polygons.flat().forEach((p: number[], i: number) => {
      expect(vertices[i][0]).toBeCloseTo(p[0], 4);
      expect(vertices[i][1]).toBeCloseTo(p[1], 4);
    });
    const wrong = await run('section', demoPath('LM-101'), '--after', 'ghost');
    expect(wrong.code).toBe(2);
    expect(wrong.err).toContain('op1, op2');
  });
  it('imports a drawing', async () => {
    const d = await json('import', fileURLToPath(new URL('../../demo/drawings/LM-155.dxf', import.meta.url)), '--json');
    expect(d.problems).toEqual([]);
    expect(d.outer.map((e: { kind: string }) => e.kind)).toEqual([
      'line',
      'line',
      'line',
      'arc',
      'arc',
      'line',
      'line',
      'line',
    ]);
    expect(d.inner).toEqual([{ kind: 'line', from: [0, 4], to: [-7.2, 4] }]);
    expect(d.outer[3]).toMatchObject({ clockwise: true, centre: [-2.1, 8] });
  });
  it('imports a solid, with features and axis', async () => {
    const d = await json('import', demoFile('solids/LM-212.step'), '--json');
    expect(d.axis).toEqual({ point: [0, 0, expect.closeTo(0, 9)], direction: [0, 0, 1] });
    expect(d.features.map((f: { kind: string }) => f.kind)).toEqual(
      expect.arrayContaining(['polygon', 'radial-hole', 'inner-groove', 'inner-thread', 'bore']),
    );
    expect(d.features.find((f: { kind: string }) => f.kind === 'radial-hole')).toMatchObject({
      access: 'radial',
      through: true,
      sizes: { diameter: 5, count: 6 },
    });
    const cut = await json('import', demoFile('solids/LM-212.step'), '--section', 'cut', '--angle', '30', '--json');
    expect(cut.outer.length).toBeGreaterThan(5);
    const turned = await json('import', demoFile('solids/LM-155.step'), '--flip', '--json');
    expect(turned.outer[0].from[0]).toBe(0);
    expect(turned.axis.direction).toEqual([0, 0, -1].map((v) => v + 0));
  });
  it('exports a part and reads it back: solid, mesh and drawing', async () => {
    const there = scratch();
    const own = await json('import', demoFile('drawings/LM-155.dxf'), '--json');
    for (const [ending, digits] of [
      ['step', 6],
      ['dxf', 6],
      ['stl', 1],
    ] as const) {
      const out = join(there, `part.${ending}`);
      expect((await run('export', demoPath('LM-155'), '--out', out)).code).toBe(0);
      const back = await json('import', out, '--json');
      expect(back.outer.map((e: { kind: string }) => e.kind)).toEqual(own.outer.map((e: { kind: string }) => e.kind));
      back.outer.forEach((e: { to: number[] }, i: number) => {
        expect(e.to[0]).toBeCloseTo(own.outer[i].to[0], digits);
        expect(e.to[1]).toBeCloseTo(own.outer[i].to[1], digits);
      });
    }
    expect((await run('export', demoPath('LM-155'), '--out', join(there, 'part.svg'))).code).toBe(0);
    expect((await run('export', demoPath('LM-155'), '--out', join(there, 'part.doc'))).code).toBe(2);
  });
  it('answers sensibly for a solid that is no lathe part', async () => {
    const box = scratch();
    const path = join(box, 'surfaces.step');
    writeFileSync(
      path,
      "ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=SHELL_BASED_SURFACE_MODEL('',());\nENDSEC;\nEND-ISO-10303-21;\n",
    );
    const r = await run('import', path, '--json');
    expect(r.code).toBe(2);
    expect(JSON.parse(r.out)).toMatchObject({
      outer: [],
      inner: [],
      features: [],
      axis: null,
      problems: [{ code: 'surfaces-only' }],
    });
  });
  it.each<[string, string[], string]>([
    ['a missing file', ['check', '/nowhere/job.spindle.json'], 'cannot be read'],
    ['a cut-off file', ['check', written((t) => t.slice(0, 500))], 'not readable JSON'],
    ['a newer version', ['time', written((t) => t.replace('"version": 5', '"version": 9'))], 'newer program'],
    ['a wrong value', ['prove', written((t) => t.replace('"diameter": 62', '"diameter": "wide"'))], 'stock.diameter'],
    ['an unknown drawing', ['import', written((t) => t, 'part.doc')], 'only STEP'],
    ['a STEP that is none', ['import', written((t) => t, 'part.step')], 'not a STEP file'],
    ['an option that is no number', ['import', written((t) => t, 'part.step'), '--angle', 'wide'], 'no number'],
    ['a torn drawing', ['import', written(() => '0\nSECTION\n2\nENT', 'torn.dxf')], ''],
    ['an unknown command', ['fly'], 'unknown command'],
  ])('leaves with 2 on %s', async (_name, args, words) => {
    const r = await run(...args);
    expect(r.code).toBe(2);
    expect(r.err + r.out).toContain(words);
  });
  it.each([
    [['schema'], 'job'],
    [['schema', '--machine'], 'machine'],
  ])('publishes by %j the schema that stands in docs/formats', async (args, name) => {
    expect((await run(...args)).out).toBe(
      readFileSync(fileURLToPath(new URL(`../../docs/formats/${name}.schema.json`, import.meta.url)), 'utf8'),
    );
  });
  it('lists how the tools of a machine come to the work, and refuses a broken machine with its place', async () => {
    const said = await run('machine', 'fellgate-slide');
    expect(said.code).toBe(0);
    expect(said.out).toContain('Z  Z by headstock (moves the work) -260 to -50, rapid 32000/min, 8000/s²');
    expect(said.out).toContain('gang to sub: does not come there');
    const text = readFileSync(fileURLToPath(new URL('../../demo/machines/fellgate-tt.json', import.meta.url)), 'utf8');
    const torn = written(() => text.replace('"parent": "upper-z"', '"parent": "uper-z"'), 'torn.json');
    const refused = await run('machine', torn);
    expect(refused.code).toBe(2);
    expect(refused.err).toContain('links.2.parent: Link “upper-x” stands on “uper-z”');
  });
});
