import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../tests/fixtures/jobs';
import { codeFindings, codeLines, withCode } from '../dialects';
import { wordFinding } from '../findings';
import { readMachine } from '../machine';
import { derive, type Job, JobSchema } from '../plan';
import { postJob, programText, proveJob } from './release';

/** LM-212 on a machine that calls its spindles and its catcher otherwise. */
const renamed = (): Job => {
  const job = demoJob('LM-212');
  const names: Record<string, string> = { main: 'left', sub: 'right' };
  const to = (id: string): string => names[id] ?? id;
  for (const s of job.machine.spindles) s.id = to(s.id);
  for (const c of job.machine.carriers) c.reaches = c.reaches.map(to);
  for (const c of job.machine.channels) {
    c.spindles = c.spindles.map(to);
    c.devices = c.devices.map((d) => (d === 'catcher' ? 'chute' : d));
  }
  for (const d of job.machine.devices) if (d.kind === 'catcher') d.id = 'chute';
  for (const h of Object.values(job.holdings)) h.spindle = to(h.spindle);
  return job;
};
const texts = (job: Job): string[] => postJob(job, derive(job), '').map(programText);
/** What is posted in thousandths lies no further off than half of one along Z and a quarter along the radius, mm. */
const ROUNDED = Math.hypot(5e-4, 2.5e-4) + 1e-9;
const proved = (job: Job): { ok: boolean; rounded: boolean; wrong: string[] } => {
  const d = derive(job);
  const proof = proveJob(job, d, postJob(job, d, '').map(programText));
  const wrong = d.findings.filter((f) => f.severity === 'blocking').map((f) => wordFinding(f).message);
  return { ok: proof.ok, rounded: proof.maxDeviation <= ROUNDED, wrong };
};
/** Codes M of a text, each once. */
const codesIn = (text: string): Set<string> => new Set(text.replace(/\([^)]*\)/g, '').match(/M\d+/g) ?? []);

describe('codes of a machine', () => {
  it('are those of its control, whatever its spindles and its catcher are called', () => {
    const job = renamed();
    expect(proved(job)).toEqual({ ok: true, rounded: true, wrong: [] });
    const bare = (t: string): string => t.replace(/\([^)]*\)/g, '');
    expect(texts(job).map(bare)).toEqual(texts(demoJob('LM-212')).map(bare));
  });
  it('are its own where its data says so, in the program and for the reader', () => {
    const job = renamed();
    job.machine.codes = {
      devices: { 'chuck right close': 'M41', 'chuck left open': 'M10', 'chuck left close': 'M11' },
      spindles: { right: { forward: 'M33', reverse: 'M34', stop: 'M35' } },
      second: { spindle: 'right', follow: 'M50', leave: 'M51', letter: 'B', limit: 'M52', unlimit: 'M53' },
      coolantOn: 'M7',
      coolantOff: 'M6',
    };
    expect(proved(job)).toEqual({ ok: true, rounded: true, wrong: [] });
    const all = new Set(texts(job).flatMap((t) => [...codesIn(t)]));
    for (const code of ['M41', 'M10', 'M11', 'M50', 'M51', 'M52', 'M53', 'M7', 'M6', 'M68'])
      expect(all.has(code), code).toBe(true);
    for (const code of ['M69', 'M63', 'M75', 'M76', 'M82', 'M83', 'M8', 'M9', 'M70', 'M71'])
      expect(all.has(code), code).toBe(false);
    expect(texts(job).join('\n')).toMatch(/^G0 B-?\d/m);
    // what is saved is read again
    expect(JobSchema.parse(JSON.parse(JSON.stringify(job))).machine.codes).toEqual(job.machine.codes);
    // a reader that knows only the control's codes does not understand it: the codes are in the text, not only in both programs
    const plain = renamed();
    const d = derive(plain);
    expect(proveJob(plain, d, texts(job)).agrees).toBe(false);
  });
  it.each<[string, Job['machine']['codes'], string, RegExp]>([
    [
      'one code twice',
      { devices: { 'chuck main open': 'M71' } },
      'code-twice',
      /M71 is chuck main open and chuck main close/,
    ],
    ['a code of every control', { coolantOn: 'M30' }, 'code-twice', /M30 is the end of the program and coolant on/],
    ['one with a nought before it', { devices: { 'chuck main open': 'M08' } }, 'code-twice', /M08 is coolant on/],
    [
      'a wait mark',
      { devices: { 'chuck sub open': 'M168' } },
      'code-marks',
      /M168 is given to chuck sub open, and M101 to M999/,
    ],
    [
      'a device that is not there',
      { devices: { 'chuck third open': 'M41' } },
      'code-for-nothing',
      /“chuck third open”/,
    ],
    [
      'a spindle that is not there',
      { spindles: { third: { forward: 'M33', reverse: 'M34', stop: 'M35' } } },
      'code-for-nothing',
      /“third”/,
    ],
    [
      'the letter of an axis',
      { second: { spindle: 'sub', follow: 'M50', leave: 'M51', letter: 'C', limit: 'M52', unlimit: 'M53' } },
      'code-letter',
      /C is the letter/,
    ],
  ])('%s: told, and it blocks', (_what, codes, code, words) => {
    const job = demoJob('LM-212');
    job.machine.codes = codes;
    const found = derive(job).findings.filter((f) => f.code === code);
    expect(found.length).toBeGreaterThan(0);
    expect(found[0].severity).toBe('blocking');
    expect(wordFinding(found[0]).message).toMatch(words);
    expect(wordFinding(found[0]).remedy.length).toBeGreaterThan(10);
  });
  it('of what a machine does not have are free for something else', () => {
    // the control knows a second spindle, this machine has none
    const { machine } = demoJob('LM-118');
    const one = { ...machine, dialect: 'tarn-5', codes: { devices: { 'catcher in': 'M68' } } };
    expect(codeFindings(one)).toEqual([]);
    expect(codeLines(one).some((l) => l.name.startsWith('chuck sub'))).toBe(false);
  });
  it('that are no codes are refused with their place', () => {
    const { machine } = demoJob('LM-212');
    const read = readMachine({ ...machine, codes: { devices: { 'chuck main open': 'G70' } } });
    expect(read.ok).toBe(false);
    if (!read.ok)
      expect(read.problems[0].message).toMatch(/codes\.devices\.chuck main open: it must be M and a number/);
  });
  it('are listed, given and left to the control again', () => {
    const { machine } = demoJob('LM-118');
    const line = (m: typeof machine, name: string) => codeLines(m).find((l) => l.name === name);
    expect(line(machine, 'catcher in')).toEqual({ name: 'catcher in', code: 'M78', own: false });
    const given = { ...machine, codes: withCode(machine, 'catcher in', 'M12') };
    expect(given.codes).toEqual({ devices: { 'catcher in': 'M12' } });
    expect(line(given, 'catcher in')).toEqual({ name: 'catcher in', code: 'M12', own: true });
    expect(line(given, 'catcher out')).toEqual({ name: 'catcher out', code: 'M77', own: false });
    expect(withCode(given, 'catcher in', null)).toEqual({});
    const turned = { ...machine, codes: withCode(given, 'spindle main reverse', 'M14') };
    expect(turned.codes).toEqual({ devices: { 'catcher in': 'M12' }, spindles: { main: { reverse: 'M14' } } });
    expect(line(turned, 'spindle main reverse')?.code).toBe('M14');
    expect(line(turned, 'spindle main forward')?.code).toBe('M3');
    expect(codeFindings(turned)).toEqual([]);
    // every line can be given and is then what it was given
    const { machine: two } = demoJob('LM-212');
    for (const { name } of codeLines(two))
      expect(line({ ...two, codes: withCode(two, name, 'M45') }, name)).toEqual({ name, code: 'M45', own: true });
  });
  it('cure what a control has no word for', () => {
    const on = (codes: Job['machine']['codes']): Job => {
      const job = demoJob('LM-212');
      job.machine = { ...job.machine, dialect: 'tarn-2', codes };
      return job;
    };
    const told = (job: Job): string[] =>
      derive(job)
        .findings.filter((f) => f.code === 'event-not-run')
        .map((f) => wordFinding(f).remedy);
    expect(told(on(undefined)).some((r) => r.startsWith('Give it a code under Codes of this machine'))).toBe(true);
    const job = on({
      devices: { 'chuck sub open': 'M68', 'chuck sub close': 'M69', 'ejector sub push': 'M74' },
      spindles: { sub: { forward: 'M63', reverse: 'M64', stop: 'M65' } },
      second: { spindle: 'sub', follow: 'M75', leave: 'M76', letter: 'A', limit: 'M82', unlimit: 'M83' },
    });
    expect(told(job)).toEqual([]);
    expect(proved(job).ok).toBe(true);
  });
});
