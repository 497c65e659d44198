import { ONE_SPINDLE } from '../fixtures/reader';
/** npm run bench: the least of several runs each, for a busy machine only ever adds, and ratios. Nothing here fails; it tells. */

import { spawnSync } from 'node:child_process';
import { Clipper, FillRule } from 'clipper2-ts';
import { readProgram } from '../../src/core/dialects/tarn/reader/reader';
import { rectangle, subtractRegion, sweepAlong } from '../../src/core/geometry';
import { postJob, programText, proveJob } from '../../src/core/nc';
import { buildPart, listFeatures, type PartDocument, type Row } from '../../src/core/part';
import { candidateSteps, DeriveCache, derive, type Job } from '../../src/core/plan';
import { bringSolid } from '../../src/solid/bring';
import { revolveSection, stepText } from '../../src/solid/revolve';
import { withBar } from '../fixtures/holding';
import { shopTools } from '../fixtures/jobs';
import { testKernel } from '../fixtures/kernel';
import { wavyRows } from './contours';
import { grown, load } from './grown';
import { pathRows } from './paths';

const least = (runs: number, work: () => void): number => {
  let best = Number.POSITIVE_INFINITY;
  for (let i = 0; i < runs; i++) {
    const t = performance.now();
    work();
    best = Math.min(best, performance.now() - t);
  }
  return best;
};

const row = (what: string, value: string): void => console.log(what.padEnd(60), value);
const ms = (v: number): string => `${v.toFixed(1)} ms`;

const cold = least(1, () => derive(load('LM-101')));
for (let i = 0; i < 20; i++) derive(load('LM-101'));

const job = load('LM-101');
const full = least(7, () => derive(job));
row('full derive of LM-101 (7 operations)', `${ms(full)}  (the first one in the process ${ms(cold)})`);
const cache = new DeriveCache();
derive(job, cache);
let n = 0;
const edit = (id: string): number =>
  least(7, () => {
    const next = structuredClone(job);
    (next.operations[id] as unknown as { cutting: { feed: number } }).cutting.feed += 0.0001 * ++n;
    derive(next, cache);
  });
const last = edit('op7');
const first = edit('op3');
row('one edit, last operation', `${ms(last)}  (${(last / full).toFixed(2)} of full)`);
row('one edit of feed, roughing in the middle', `${ms(first)}  (${(first / full).toFixed(2)} of full)`);
const deep = least(5, () => {
  const next = structuredClone(job);
  (next.operations.op3 as unknown as { params: { allowanceX: number } }).params.allowanceX = 0.4 + 0.001 * ++n;
  derive(next, cache);
});
row('one edit that changes the stock of all that follows', `${ms(deep)}  (${(deep / full).toFixed(2)} of full)`);

const two = load('LM-212');
derive(two);
const both = least(7, () => derive(two));
row('full derive of LM-212 (two spindles, two channels)', `${ms(both)}  (${(both / full).toFixed(2)} × LM-101)`);

const times: number[] = [];
for (const size of [10, 100, 1000]) {
  const big = grown(size);
  const t = least(size > 500 ? 2 : 5, () => derive(big));
  times.push(t);
  const kept = new DeriveCache();
  const d = derive(big, kept);
  const one = structuredClone(big);
  const te = least(7, () => {
    (one.operations[`n${size - 2}`] as unknown as { cutting: { feed: number } }).cutting.feed = 0.123 + 0.0001 * ++n;
    derive(structuredClone(one), kept);
  });
  row(
    `${size} operations: full / one edit near the end`,
    `${ms(t)} / ${ms(te)}   ${d.operations.filter((o) => o.events.length > 0).length} cut`,
  );
}
row(
  'growth 10 → 100 → 1000 over linear',
  times
    .slice(1)
    .map((t, i) => (t / times[i] / 10).toFixed(2))
    .join(', '),
);

/** Roughing and finishing of one wavy outside contour. */
const wavy = (elements: number, arcs: boolean): Job => {
  const base = load('LM-118');
  const wave = wavyRows(elements, arcs);
  const length = -(wave[wave.length - 1].z ?? 0);
  const source = base.operations.op3;
  const rough = structuredClone({ ...source, id: 'r', tool: 'finish-55' }) as Job['operations'][string];
  Object.assign((rough as { params: object }).params, {
    depth: 1,
    undercuts: 'enter',
    output: 'moves',
    backLimit: null,
  });
  const finish = structuredClone({ ...base.operations.op5, id: 'f', tool: 'finish-55' }) as Job['operations'][string];
  return withBar(
    {
      ...base,
      part: { outer: { start: { diameter: 0, z: 0 }, rows: wave }, inner: null },
      operations: { r: rough, f: finish },
      order: { '1': ['r', 'f'] },
    },
    { diameter: 44, frontAllowance: 0.5, stickOut: length + 30 },
  );
};
for (const [elements, arcs] of [
  [63, false],
  [63, true],
  [303, false],
] as const) {
  const j = wavy(elements, arcs);
  derive(j);
  row(`rough and finish ${elements} elements${arcs ? ' with arcs' : ''}`, ms(least(7, () => derive(j))));
}
for (const [what, value] of pathRows(least)) row(what, value);
{
  const j = load('LM-101');
  const started = performance.now();
  let first = 0;
  const turret = new DeriveCache();
  derive(j, turret);
  const ready = performance.now();
  let count = 0;
  for (const _ of candidateSteps(j, null, 'outer', 'h1', turret)) {
    if (count++ === 0) first = performance.now() - ready;
  }
  row(
    `what can cut this: first of ${count} / all`,
    `${ms(first)} / ${ms(performance.now() - ready)}  (plan before it ${ms(ready - started)})`,
  );
}
{
  // a raw bar, and 120 tools of the library, or every one
  const library = shopTools();
  const j = load('LM-101');
  const keep = Object.values(j.operations).find((o) => o.kind === 'face')?.id ?? '';
  j.operations = { [keep]: j.operations[keep] };
  j.order = { '1': [keep] };
  const outside = derive(j).part.outer;
  const spans = [
    ['the whole outside', outside[0].id, outside[outside.length - 1].id],
    ['one element', outside[2].id, outside[2].id],
  ] as const;
  for (const shelf of [library.slice(0, 120), library])
    for (const [what, from, to] of spans) {
      let first = 0;
      const all = least(6, () => {
        const cache = new DeriveCache();
        derive(j, cache);
        const ready = performance.now();
        let found = false;
        for (const c of candidateSteps(j, { from, to }, 'outer', 'h1', cache, shelf))
          if (!found && c.reach > 0) {
            found = true;
            first = performance.now() - ready;
          }
      });
      row(`${shelf.length} tools for ${what}: first / all`, `${ms(first)} / ${ms(all)}`);
    }
}

const bar = rectangle(-100, 0, 0, 30);
const nose = {
  points: [
    { x: 0, y: 0 },
    { x: 3, y: 10 },
    { x: -1, y: 10 },
  ],
  radius: 0.8,
};
const cuts = 200;
const ours = least(5, () => {
  let stock = bar;
  for (let i = 0; i < cuts; i++)
    stock = subtractRegion(
      stock,
      sweepAlong(nose, [
        { x: 1, y: 30 - i * 0.1 },
        { x: -i * 0.4, y: 30 - i * 0.1 },
      ]),
    );
});
const swept = Array.from({ length: cuts }, (_, i) =>
  sweepAlong(nose, [
    { x: 1, y: 30 - i * 0.1 },
    { x: -i * 0.4, y: 30 - i * 0.1 },
  ]).map((r) => r.map((p) => ({ x: Math.round(p.x * 1e5), y: Math.round(p.y * 1e5) }))),
);
const raw = least(5, () => {
  let stock = bar.map((r) => r.map((p) => ({ x: p.x * 1e5, y: p.y * 1e5 })));
  for (const s of swept) stock = Clipper.difference(stock, s, FillRule.NonZero);
});
row(
  'stock cuts per second (sweep and subtract)',
  `${Math.round((cuts / ours) * 1000)}  (${(ours / raw).toFixed(2)} × the raw polygon library's subtraction)`,
);

const derived = derive(job);
const post = least(20, () => postJob(job, derived, ''));
const programs = postJob(job, derived, '');
const lines = programs[0].lines.length;
row('posted lines per second', `${Math.round((lines / post) * 1000)}`);
const text = programText(programs[0]);
const settings = {
  toolTable: new Map(
    Array.from({ length: 12 }, (_, i) => [i + 1, { noseRadius: 0.4, tip: { x: -1, y: -1 } }] as const),
  ),
  channels: ['1'],
  carrier: 'upper',
  spindle: 'main',
  peckClearance: 0.5,
  ...ONE_SPINDLE,
  waitBase: 100,
  roughing: { head: 'two-block' } as const,
};
const read = least(20, () => readProgram(text, settings));
row('read-back lines per second', `${Math.round((lines / read) * 1000)}`);
row('proof (read, compare, cut again)', ms(least(5, () => proveJob(job, derived, [text]))));
const memory = spawnSync(process.execPath, ['tests/bench/run.mjs', 'tests/bench/memory.ts'], { encoding: 'utf8' });
row('peak memory, 1000 operations and ten edits', `${memory.stdout.trim()} MB, a process of its own`);
row('peak memory of this bench without solids', `${(process.resourceUsage().maxRSS / 1024).toFixed(0)} MB`);

// import: the library's own read time against everything up to the section, a part with 100 faces and holes
const oc = await testKernel();
const grooves = 20;
const rows: Row[] = [{ id: 'o0', kind: 'line', diameter: 24, z: 0, corner: { kind: 'chamfer', size: 1 } }];
for (let i = 0; i < grooves; i++) {
  const z = -i * 8;
  rows.push(
    { id: `a${i}`, kind: 'line', diameter: 24, z: z - 4, corner: null },
    { id: `b${i}`, kind: 'line', diameter: 20, z: z - 4, corner: { kind: 'fillet', size: 0.5 } },
  );
  rows.push(
    { id: `c${i}`, kind: 'line', diameter: 20, z: z - 8, corner: null },
    { id: `d${i}`, kind: 'line', diameter: 24, z: z - 8, corner: null },
  );
}
rows.push(
  { id: 'e', kind: 'line', diameter: 24, z: -grooves * 8 - 4, corner: null },
  { id: 'f', kind: 'line', diameter: 0, z: -grooves * 8 - 4, corner: null },
);
const large: PartDocument = { outer: { start: { diameter: 0, z: 0 }, rows }, inner: null };
const largePart = buildPart(large);
const step = await stepText(revolveSection(largePart.boundary), 'bench', '2026-11-01T00:00:00');
bringSolid(oc, step);
const stages = Array.from({ length: 7 }, () => bringSolid(oc, step)).map((b) => ({
  faces: b.faces.length,
  read: b.times.read,
  section: b.times.check + b.times.faces + b.times.section,
  features: b.times.features,
}));
stages.sort((p, q) => (p.read + p.section) / p.read - (q.read + q.section) / q.read);
const middle = stages[3];
row(
  `import to section, ${middle.faces} faces`,
  `read ${ms(middle.read)}, rest ${ms(middle.section)}  (${((middle.read + middle.section) / middle.read).toFixed(2)} × the library's read)`,
);
const sixty: PartDocument = {
  outer: {
    start: { diameter: 0, z: 0 },
    rows: [
      ...rows.slice(0, 55),
      { id: 'e', kind: 'line', diameter: 24, z: -110, corner: null },
      { id: 'f', kind: 'line', diameter: 0, z: -110, corner: null },
    ],
  },
  inner: null,
};
row(
  `feature list after an edit, ${buildPart(sixty).outer.length} elements`,
  ms(least(20, () => listFeatures(sixty, buildPart(sixty)))),
);
row('peak memory with the solid kernel', `${(process.resourceUsage().maxRSS / 1024).toFixed(0)} MB`);
