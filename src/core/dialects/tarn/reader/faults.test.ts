import { describe, expect, it } from 'vitest';
import { DEMO_JOBS, demoJob } from '../../../../../tests/fixtures/jobs';
import { ONE_SPINDLE } from '../../../../../tests/fixtures/reader';
import { point } from '../../../geometry';
import { postJob, programText, proveJob } from '../../../nc/release';
import { derive } from '../../../plan';
import { readProgram } from './reader';

const job = demoJob('LM-101');
const derived = derive(job);
const [text] = postJob(job, derived, '2026-01-02').map(programText);
const lines = text.split('\n');

/** The nth line that matches, changed; the text must have it. */
const at = (pattern: RegExp, change: (line: string) => string | string[], nth = 0): string => {
  const hits = lines.flatMap((l, i) => (pattern.test(l) ? [i] : []));
  const i = hits[nth];
  if (i === undefined) throw new Error(`the program has no line like ${pattern}`);
  const to = change(lines[i]);
  return [...lines.slice(0, i), ...(Array.isArray(to) ? to : [to]), ...lines.slice(i + 1)].join('\n');
};
const drop = (pattern: RegExp, nth = 0): string => at(pattern, () => [], nth);
const before = (pattern: RegExp, line: string, nth = 0): string => at(pattern, (l) => [line, l], nth);
const after = (pattern: RegExp, line: string, nth = 0): string => at(pattern, (l) => [l, line], nth);

/** Every way in which a text may come to lie: what is done to it, and the faulty text. */
const FAULTS: [string, () => string][] = [
  [
    'a diameter off by 0.02',
    () => at(/^N103 /, (l) => l.replace(/X([\d.]+)/, (_, v) => `X${(Number(v) + 0.02).toFixed(2)}`)),
  ],
  [
    'a length off by 0.02',
    () => at(/^N104 .*Z/, (l) => l.replace(/Z(-?[\d.]+)/, (_, v) => `Z${(Number(v) - 0.02).toFixed(2)}`)),
  ],
  ['a sign lost', () => at(/^N104 .*Z-/, (l) => l.replace('Z-', 'Z'))],
  ['a decimal point lost in X', () => at(/^X66\. /, (l) => l.replace('X66.', 'X66'))],
  ['a decimal point lost in F', () => at(/F0\.12/, (l) => l.replace('F0.12', 'F1'))],
  ['another feed', () => at(/F0\.12/, (l) => l.replace('F0.12', 'F0.13'))],
  ['a feed in the cutoff', () => at(/F0\.04/, (l) => l.replace('F0.04', 'F0.1'))],
  ['a roughing feed', () => at(/^G71 P/, (l) => l.replace('F0.3', 'F0.4'))],
  ['a finishing feed in G70', () => at(/^G70/, (l) => l.replace(/F[\d.]+/, 'F0.3'))],
  ['a feed inside the contour', () => at(/^N103 /, (l) => `${l} F0.4`)],
  ['a roughing depth', () => at(/^G71 U/, (l) => l.replace(/U[\d.]+/, 'U3.'))],
  ['a roughing retract', () => at(/^G71 U/, (l) => l.replace(/R[\d.]+/, 'R1.'))],
  ['an allowance in X', () => at(/^G71 P/, (l) => l.replace('U0.4', 'U0.5'))],
  ['an allowance with the wrong sign', () => at(/^G71 P/, (l) => l.replace('U0.4', 'U-0.4'))],
  ['an allowance in Z', () => at(/^G71 P/, (l) => l.replace('W0.1', 'W0.2'))],
  ['the first block of the contour misnamed', () => at(/^G71 P/, (l) => l.replace('P100', 'P101'))],
  ['the last block of the contour misnamed', () => at(/^G71 P/, (l) => l.replace(/Q\d+/, 'Q104'))],
  ['a contour that is not there', () => at(/^G71 P/, (l) => l.replace(/Q\d+/, 'Q999'))],
  ['the first block of the cycle lost', () => drop(/^G71 U/)],
  ['a block of the contour lost', () => drop(/^N104 /)],
  [
    'two blocks of the contour exchanged',
    () =>
      at(/^N104 /, () => [
        lines.find((l) => l.startsWith('N105 ')) as string,
        lines.find((l) => l.startsWith('N104 ')) as string,
      ]),
  ],
  ['a block number twice', () => at(/^N104 /, (l) => l.replace('N104', 'N100'))],
  ['a contour that turns back', () => after(/^N104 /, 'G1 X20.')],
  ['a contour whose first block moves in Z', () => at(/^N100 /, (l) => `${l} Z1.`)],
  ['compensation to the wrong side', () => at(/^N100 /, (l) => l.replace('G42', 'G41'))],
  ['compensation lost before G70', () => at(/^N100 /, (l) => l.replace('G42 ', ''))],
  ['compensation lost in moves', () => at(/G1 G41 /, (l) => l.replace('G41 ', ''))],
  ['compensation that is never cancelled', () => at(/^G40 G1|^G40 X|^G40 U/, (l) => l.replace('G40 ', ''))],
  ['compensation switched on twice', () => after(/G1 G41 /, 'G41 X12.')],
  ['a tool changed under compensation', () => after(/G1 G41 /, 'T0303')],
  ['another tool', () => at(/^T0303/, () => 'T0404')],
  ['another offset', () => at(/^T0303/, () => 'T0301')],
  ['a tool call lost', () => drop(/^T0505/)],
  ['an offset that the table lacks', () => at(/^T0303/, () => 'T0388')],
  ['the work offset lost', () => text.replace(/^G54\n/gm, '')],
  ['another work offset', () => at(/^G54/, () => 'G55', 2)],
  ['another surface speed', () => at(/^G96 S700/, (l) => l.replace('S700', 'S600'))],
  ['another spindle speed', () => at(/^G97 S/, (l) => l.replace(/S\d+/, 'S900'))],
  ['surface speed for one speed', () => at(/^G97 S/, (l) => l.replace('G97', 'G96'))],
  ['another limit of the spindle', () => at(/^G50 S/, (l) => l.replace(/S\d+/, 'S3000'))],
  ['the spindle the other way round', () => at(/^G96 S.* M3/, (l) => l.replace('M3', 'M4'))],
  ['a spindle that is never started', () => text.replace(/ M3$/gm, '')],
  ['a spindle stopped in the cut', () => before(/^G83/, 'M5')],
  ['a speed changed without M3', () => before(/^G83/, 'G97 S500')],
  ['feed per minute', () => before(/^X-1\.64/, 'G98')],
  ['the coolant lost', () => drop(/^M8/, 1)],
  ['the coolant off in the cut', () => before(/^G83/, 'M9')],
  ['a stop in the program', () => before(/^G83/, 'M0')],
  ['a dwell in the program', () => before(/^G83/, 'G4 P500')],
  ['another peck', () => at(/^G83/, (l) => l.replace('Q8000', 'Q4000'))],
  ['a hole that is too deep', () => at(/^G83/, (l) => l.replace(/Z-[\d.]+/, 'Z-30.'))],
  ['a drilling level on the wrong side', () => at(/^G83/, (l) => l.replace('R0.', 'R5.'))],
  ['pecks without end', () => at(/^G83/, (l) => l.replace(/Z-[\d.]+/, 'Z-99999.').replace('Q8000', 'Q1'))],
  ['a cycle that is not cancelled', () => at(/^G80/, () => 'Z-40.')],
  ['a rapid for a feed', () => at(/^G1 .*F0\.12/, (l) => l.replace('G1', 'G0'))],
  ['a feed for a rapid', () => at(/^G0 X/, (l) => l.replace('G0', 'G1'), 1)],
  ['an arc the other way', () => at(/ G3 /, (l) => l.replace('G3', 'G2'))],
  [
    'an arc off its circle',
    () => at(/ G3 .*I/, (l) => l.replace(/I(-?[\d.]+)/, (_, v) => `I${(Number(v) + 0.5).toFixed(3)}`)),
  ],
  ['an arc whose R is too small', () => at(/ G3 .*I/, (l) => l.replace(/I.*$/, 'R0.1'))],
  ['an arc without centre', () => at(/ G3 .*I/, (l) => l.replace(/ I.*$/, ''))],
  ['a word twice', () => at(/^X66\. /, (l) => `${l} X60.`)],
  ['X and U in one block', () => at(/^X66\. /, (l) => `${l} U1.`)],
  ['an unknown code', () => before(/^G83/, 'G123')],
  ['an unknown M code', () => before(/^G83/, 'M77')],
  ['an unknown word', () => before(/^G83/, 'V3.')],
  ['a comment that is not closed', () => before(/^G83/, '(drill here')],
  ['an operation after the end', () => text.replace(/^M30$/m, 'M30\nG0 X10.')],
  ['no end', () => text.replace(/^M30$/m, '')],
  ['a program cut in the middle', () => lines.slice(0, Math.floor(lines.length / 2)).join('\n')],
  ['an operation lost', () => text.replace(/N7 \(CUT OFF\)[\s\S]*?(?=\nM9 M5)/, '')],
  ['a wait for nobody', () => before(/^G83/, 'M101 P3')],
];

describe('faults in the text', () => {
  it.each(FAULTS)('%s is found', (_name, make) => {
    const faulty = make();
    expect(faulty).not.toBe(text);
    const proof = proveJob(job, derived, [faulty]);
    expect(proof.agrees).toBe(false);
    for (const p of proof.channels[0].problems) {
      expect(p.line).toBeGreaterThan(0);
      expect(p.message).toMatch(/\.$/);
    }
  });
  it('are at least 60 kinds, and the demo programs have none', () => {
    expect(FAULTS.length).toBeGreaterThanOrEqual(60);
    for (const name of DEMO_JOBS) {
      const j = demoJob(name);
      const d = derive(j);
      const proof = proveJob(j, d, postJob(j, d, '').map(programText));
      expect([proof.ok, proof.channels[0].problems, proof.channels[0].differences]).toEqual([true, [], []]);
    }
  });
});

describe('reading like a control', () => {
  const settings = {
    toolTable: new Map([[1, { noseRadius: 0.8, tip: point(-1, -1) }]]),
    channels: ['1', '2'],
    carrier: 'upper',
    spindle: 'main',
    peckClearance: 0.5,
    ...ONE_SPINDLE,
    waitBase: 100,
    roughing: { head: 'two-block' } as const,
  };
  const read = (body: string) => readProgram(`T0101\nG54\nG0 X40. Z5.\nG97 S1000 M3\nG99 F0.2\n${body}\nM30`, settings);
  const moves = (body: string) =>
    read(body).events.flatMap((e) =>
      e.kind === 'feed' || e.kind === 'arc' || e.kind === 'rapid' ? [[e.kind, e.to.X, e.to.Z]] : [],
    );

  it('changes the speed of a running spindle without M3', () => {
    const spindles = read('G1 X38.\nS1200\nG96 S150\nG50 S2500\nG1 X30.').events.filter((e) => e.kind === 'spindle');
    expect(spindles.map((e) => e.kind === 'spindle' && e.speed)).toEqual([
      { mode: 'fixed', value: 1000 },
      { mode: 'fixed', value: 1200 },
      { mode: 'surface', value: 150, clamp: Number.POSITIVE_INFINITY },
      { mode: 'surface', value: 150, clamp: 2500 },
    ]);
  });
  it('ends compensation at the last contour point in the axis that G40 does not name', () => {
    const list = moves('G1 G42 X20. Z2.\nZ-10.\nG40 X44.');
    expect(list[list.length - 1]).toEqual(['feed', 22, -10]);
  });
  it('drills again in the block after G83, with the level that R says', () => {
    const list = moves('G0 X0. Z5.\nG83 Z-6. R-4. Q3000\nZ-9.\nG80');
    expect(list.filter(([k]) => k === 'feed').map(([, , z]) => z)).toEqual([-2, -5, -6, -2, -5, -8, -9]);
    expect(list.filter(([k]) => k === 'rapid').map(([, , z]) => z)).toContain(1);
  });
  it('runs a level above the end of the contour to its end', () => {
    const list = moves(
      'G0 X50. Z2.\nG71 U1. R0.5\nG71 P10 Q12 U0. W0. F0.2\nN10 G0 X44.\nN11 G1 Z-5.\nN12 X46.\nG0 X60.',
    );
    // start X50, bottom X44: passes at X48 and X46 as diameters
    expect(list.filter(([k, , z]) => k === 'feed' && z === -5).map(([, x]) => x)).toEqual([24, 23, 22, 23]);
  });
  it('uses the feed of the contour blocks in G70 only', () => {
    const r = read(
      'G0 X50. Z2.\nG71 U1. R0.5\nG71 P10 Q12 U0. W0. F0.3\nN10 G0 X44.\nN11 G1 Z-5. F0.1\nN12 X46.\nG70 P10 Q12 F0.2',
    );
    const feeds = r.events.flatMap((e) => (e.kind === 'feed' ? [e.feed.value] : []));
    expect(new Set(feeds.slice(0, -2))).toEqual(new Set([0.3]));
    expect(feeds.slice(-2)).toEqual([0.1, 0.1]);
  });
  it('takes no torn or hostile text to heart', () => {
    const hostile = [
      '('.repeat(200_000),
      'G71 P1 Q1 U0. W0.\nN1 G0 G42 X5.\nG70 P1 Q1',
      'N1 G0 X5.\nN2 Z0.\nG71 U1. R1.\nG71 P1 Q2 U0. W0. F0.1',
      'G83 Z-99999. Q1 F0.1',
      'G2 X40. Z5. R1.',
      'G2 X40. Z5. I0. K0.',
      'X9999999999999999999999.',
      'G1 G42 X20.\nG40',
      '%'.repeat(5000),
      'G71 U0.0000001 R0.\nG71 P1 Q2 U0. W0. F0.1\nN1 G0 X0.\nN2 G1 Z-5.',
    ];
    for (const h of hostile) {
      const r = read(h);
      expect(r.problems.length).toBeGreaterThan(0);
      for (const e of r.events) if ('to' in e) for (const v of Object.values(e.to)) expect(Number.isNaN(v)).toBe(false);
    }
  });
});
