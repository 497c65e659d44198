/** Writes demo/jobs/*.spindle.json from the shop's machines, tools and materials. Run: npx tsx demo/make.ts */
import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { type Purpose, startingData } from '../src/core/cutting';
import { FIRST_HOLDING, usualHolding } from '../src/core/holding';
import { JOB_FORMAT, JOB_VERSION, readJob } from '../src/core/plan';
import { inStations } from '../src/core/tooling';
import { lm101b } from './lm101b';
import { lm104 } from './lm104';
import { lm140 } from './lm140';
import { lm212 } from './lm212';
import { lm212b } from './lm212b';
import { lm233 } from './lm233';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const load = (path: string) => JSON.parse(readFileSync(here(path), 'utf8'));
const machine = load('machines/fellgate-t2.json');
const tools: { id: string; cutter: { diameter?: number } }[] = load('tools/tools.json');
const materials: { id: string; group: 'N' | 'P' | 'M' }[] = load('materials/materials.json');

type Corner = ['chamfer' | 'fillet', number] | null;
type RowSpec =
  | [kind: 'line', diameter: number, z: number, corner?: Corner]
  | [kind: 'arc', diameter: number, z: number, radius: number, clockwise: boolean];
const profile = (prefix: string, start: [number, number], rows: RowSpec[]) => ({
  start: { diameter: start[0], z: start[1] },
  rows: rows.map((r, i) =>
    r[0] === 'line'
      ? {
          id: `${prefix}${i + 1}`,
          kind: 'line',
          diameter: r[1],
          z: r[2],
          corner: r[3] ? { kind: r[3][0], size: r[3][1] } : null,
        }
      : {
          id: `${prefix}${i + 1}`,
          kind: 'arc',
          diameter: r[1],
          z: r[2],
          radius: r[3],
          clockwise: r[4],
          long: false,
          corner: null,
        },
  ),
});

interface OpSpec {
  id: string;
  kind: string;
  name: string;
  tool: string;
  purpose: Purpose;
  params: Record<string, unknown>;
  cutting?: Record<string, unknown>;
  span?: { from: string; to: string };
}

interface JobSpec {
  number: string;
  name: string;
  material: string;
  programNumber: number;
  part: { outer: ReturnType<typeof profile>; inner: ReturnType<typeof profile> | null };
  bar: number;
  frontAllowance: number;
  stickOut: number;
  /** Parts from one stick-out, where more than one. */
  parts?: number;
  grip: number;
  stations: Record<string, string>;
  operations: OpSpec[];
  note: string;
}

const build = (s: JobSpec) => {
  const material = materials.find((m) => m.id === s.material);
  if (!material) throw new Error(`no material ${s.material}`);
  const used = new Set(Object.values(s.stations));
  const cutting = (o: OpSpec) => {
    const d = startingData(material, o.purpose);
    if (o.purpose === 'drill') {
      const diameter = tools.find((t) => t.id === o.tool)?.cutter.diameter ?? 10;
      return {
        speed: { mode: 'fixed', value: Math.min(4000, Math.round((1000 * d.surfaceSpeed) / (Math.PI * diameter))) },
        feed: Math.round(d.feed * diameter * 1000) / 1000,
        coolant: true,
        ...o.cutting,
      };
    }
    return { speed: { mode: 'surface', value: d.surfaceSpeed }, feed: d.feed, coolant: true, ...o.cutting };
  };
  return {
    format: JOB_FORMAT,
    version: JOB_VERSION,
    header: {
      number: s.number,
      name: s.name,
      revision: 'A',
      batch: 40,
      programNumber: s.programNumber,
      author: 'Ottilie Marsh',
      note: s.note,
    },
    units: 'mm',
    material,
    machine,
    part: s.part,
    holdings: {
      [FIRST_HOLDING]: usualHolding({
        spindle: 'main',
        stock: { form: 'bar', diameter: s.bar, bore: 0, frontAllowance: s.frontAllowance, stickOut: s.stickOut },
        maxSpeed: 4000,
      }),
    },
    holdingOrder: [FIRST_HOLDING],
    programs: 'each',
    tools: Object.fromEntries(tools.filter((t) => used.has(t.id)).map((t) => [t.id, t])),
    mounts: { upper: inStations(s.stations) },
    operations: Object.fromEntries(
      s.operations.map((o) => [
        o.id,
        {
          id: o.id,
          kind: o.kind,
          name: o.name,
          channel: '1',
          tool: o.tool,
          on: true,
          cutting: cutting(o),
          span: o.span ?? null,
          note: '',
          params: o.params,
        },
      ]),
    ),
    order: { '1': s.operations.map((o) => o.id) },
    repeats: s.parts
      ? { r1: { id: 'r1', name: 'Parts', operations: s.operations.map((o) => o.id), count: s.parts } }
      : {},
  };
};

const jobs: JobSpec[] = [
  {
    number: 'LM-101',
    name: 'Whorl pulley',
    material: 'alu-6082',
    programNumber: 101,
    note: 'Grooves and face recess follow later.',
    part: {
      outer: profile(
        'o',
        [12, 0],
        [
          ['line', 26, 0, ['chamfer', 0.5]],
          ['line', 26, -4, ['fillet', 1]],
          ['line', 50, -4, ['chamfer', 0.5]],
          ['line', 50, -11, ['fillet', 0.8]],
          ['line', 60, -11, ['fillet', 1.5]],
          ['line', 60, -22, ['chamfer', 0.5]],
          ['line', 12, -22],
        ],
      ),
      inner: profile('i', [12, 0], [['line', 12, -22]]),
    },
    bar: 62,
    frontAllowance: 1,
    stickOut: 44,
    grip: 30,
    stations: {
      '1': 'face-rough-80',
      '3': 'finish-55',
      '5': 'drill-11',
      '7': 'bore-8',
      '12': 'cutoff-3',
      '2': 'rough-trigon',
      '4': 'finish-35',
    },
    operations: [
      {
        id: 'op1',
        kind: 'face',
        name: 'Face the front',
        tool: 'face-rough-80',
        purpose: 'rough',
        params: { depth: 1, finishDepth: 0.3, finishFeed: 0.12 },
      },
      {
        id: 'op2',
        kind: 'drill',
        name: 'Drill ⌀11 through',
        tool: 'drill-11',
        purpose: 'drill',
        params: { depth: null, breakThrough: 3, peck: 8, output: 'cycle' },
      },
      {
        id: 'op3',
        kind: 'outer-rough',
        name: 'Rough the rim',
        tool: 'face-rough-80',
        purpose: 'rough',
        params: { depth: 2.5, allowanceX: 0.4, allowanceZ: 0.1, undercuts: 'bridge', output: 'cycle' },
      },
      {
        id: 'op4',
        kind: 'outer-finish',
        name: 'Finish the rim',
        tool: 'finish-55',
        purpose: 'finish',
        params: { undercuts: 'enter', compensation: 'control', output: 'cycle' },
      },
      {
        id: 'op5',
        kind: 'inner-rough',
        name: 'Rough the bore',
        tool: 'bore-8',
        purpose: 'rough',
        params: { depth: 0.8, allowanceX: 0.3, allowanceZ: 0.1, output: 'moves' },
        cutting: { feed: 0.15, speed: { mode: 'surface', value: 300 } },
      },
      {
        id: 'op6',
        kind: 'inner-finish',
        name: 'Finish the bore',
        tool: 'bore-8',
        purpose: 'finish',
        params: { compensation: 'control' },
        cutting: { feed: 0.08, speed: { mode: 'surface', value: 300 } },
      },
      {
        id: 'op7',
        kind: 'cutoff',
        name: 'Cut off',
        tool: 'cutoff-3',
        purpose: 'cutoff',
        params: { slowFrom: 8, slowBy: 60, pastCentre: 0.3 },
      },
    ],
  },
  {
    number: 'LM-155',
    name: 'Bobbin collar',
    material: 'brass-cw614',
    programNumber: 155,
    note: 'One collar from the bar.',
    part: {
      outer: profile(
        'o',
        [8, 0],
        [
          ['line', 15, 0, ['chamfer', 0.3]],
          ['line', 15, -2.6, ['fillet', 0.5]],
          ['line', 18, -2.6, ['fillet', 1]],
          ['line', 18, -7.2, ['chamfer', 0.3]],
          ['line', 8, -7.2],
        ],
      ),
      inner: profile('i', [8, 0], [['line', 8, -7.2]]),
    },
    bar: 18.5,
    frontAllowance: 0.5,
    stickOut: 20,
    grip: 30,
    stations: { '1': 'face-rough-80', '4': 'finish-35', '5': 'drill-7', '7': 'bore-6', '12': 'cutoff-2' },
    operations: [
      {
        id: 'op1',
        kind: 'face',
        name: 'Face the front',
        tool: 'face-rough-80',
        purpose: 'rough',
        params: { depth: 0.6, finishDepth: 0.2, finishFeed: 0.1 },
      },
      {
        id: 'op2',
        kind: 'drill',
        name: 'Drill ⌀7 through',
        tool: 'drill-7',
        purpose: 'drill',
        params: { depth: null, breakThrough: 3, peck: 0, output: 'moves' },
      },
      {
        id: 'op3',
        kind: 'outer-rough',
        name: 'Rough the outside',
        tool: 'face-rough-80',
        purpose: 'rough',
        params: { depth: 1, allowanceX: 0.3, allowanceZ: 0.15, undercuts: 'enter' },
      },
      {
        id: 'op4',
        kind: 'outer-finish',
        name: 'Finish with the bead',
        tool: 'finish-35',
        purpose: 'finish',
        params: { undercuts: 'enter', compensation: 'control' },
      },
      {
        id: 'op5',
        kind: 'inner-finish',
        name: 'Finish the bore',
        tool: 'bore-6',
        purpose: 'finish',
        params: { compensation: 'computed' },
        cutting: { feed: 0.06, speed: { mode: 'surface', value: 150 } },
      },
      {
        id: 'op6',
        kind: 'cutoff',
        name: 'Cut off',
        tool: 'cutoff-2',
        purpose: 'cutoff',
        params: { slowFrom: 6, slowBy: 50, pastCentre: 0.3 },
      },
    ],
  },
  {
    number: 'LM-118',
    name: 'Maiden socket',
    material: 'steel-c45',
    programNumber: 118,
    note: 'Blind stepped bore, tapered outside with a round shoulder.',
    part: {
      outer: profile(
        'o',
        [24, 0],
        [
          ['line', 34, 0, ['chamfer', 1]],
          ['line', 34, -8],
          ['line', 40, -26, ['fillet', 1.6]],
          ['line', 46, -26, ['chamfer', 1]],
          ['line', 46, -36, ['chamfer', 0.8]],
          ['line', 0, -36],
        ],
      ),
      inner: profile(
        'i',
        [24, 0],
        [
          ['line', 24, -12, ['fillet', 0.8]],
          ['line', 18, -12, ['chamfer', 0.5]],
          ['line', 18, -20, ['fillet', 0.6]],
          ['line', 16, -20],
          ['line', 0, -22.9118],
        ],
      ),
    },
    bar: 50,
    frontAllowance: 1,
    stickOut: 54,
    grip: 30,
    stations: {
      '1': 'face-rough-80',
      '3': 'finish-55',
      '5': 'drill-16',
      '7': 'bore-12',
      '8': 'bore-8',
      '12': 'cutoff-3',
    },
    operations: [
      {
        id: 'op1',
        kind: 'face',
        name: 'Face the front',
        tool: 'face-rough-80',
        purpose: 'rough',
        params: { depth: 1, finishDepth: 0.3, finishFeed: 0.12 },
      },
      {
        id: 'op2',
        kind: 'drill',
        name: 'Drill ⌀16',
        tool: 'drill-16',
        purpose: 'drill',
        params: { depth: 20, depthTo: 'full-diameter', peck: 10, output: 'cycle' },
      },
      {
        id: 'op3',
        kind: 'outer-rough',
        name: 'Rough the outside',
        tool: 'face-rough-80',
        purpose: 'rough',
        params: { depth: 2.5, allowanceX: 0.6, allowanceZ: 0.2, output: 'moves' },
      },
      {
        id: 'op4',
        kind: 'inner-rough',
        name: 'Rough the socket',
        tool: 'bore-12',
        purpose: 'rough',
        params: { depth: 1.5, allowanceX: 0.4, allowanceZ: 0.15, output: 'cycle' },
        cutting: { feed: 0.18, speed: { mode: 'surface', value: 160 } },
        span: { from: 'i1', to: 'i4' },
      },
      {
        id: 'op5',
        kind: 'outer-finish',
        name: 'Finish the outside',
        tool: 'finish-55',
        purpose: 'finish',
        params: { compensation: 'control' },
      },
      {
        id: 'op6',
        kind: 'inner-finish',
        name: 'Finish the socket',
        tool: 'bore-12',
        purpose: 'finish',
        params: { compensation: 'computed' },
        cutting: { feed: 0.1, speed: { mode: 'surface', value: 200 } },
        span: { from: 'i1', to: 'i4' },
      },
      {
        id: 'op7',
        kind: 'cutoff',
        name: 'Cut off',
        tool: 'cutoff-3',
        purpose: 'cutoff',
        params: { slowFrom: 8, slowBy: 60, pastCentre: 0.3 },
      },
    ],
  },
];

const write = (number: string, value: unknown): void => {
  const read = readJob(value);
  if (!read.ok) throw new Error(`${number}: ${read.problems.map((p) => p.message).join(' ')}`);
  writeFileSync(here(`jobs/${number}.spindle.json`), `${JSON.stringify(read.job, null, 2)}\n`);
};

for (const spec of jobs) write(spec.number, build(spec));
// the collar again, eight from one stick-out
for (const spec of jobs)
  if (spec.number === 'LM-155')
    write(
      'LM-155-8',
      build({
        ...spec,
        name: 'Bobbin collars',
        programNumber: 158,
        stickOut: 81.3,
        parts: 8,
        note: 'Eight collars from one stick-out.',
      }),
    );
write(
  'LM-101B',
  lm101b(
    machine,
    tools,
    materials.find((m) => m.id === 'alu-6082'),
  ),
);
write(
  'LM-104',
  lm104(
    machine,
    tools,
    materials.find((m) => m.id === 'alu-6082'),
  ),
);
write(
  'LM-140',
  lm140(
    load('machines/fellgate-long.json'),
    tools,
    materials.find((m) => m.id === 'steel-c45'),
  ),
);
const bushing = [load('machines/fellgate-tt.json'), tools, materials.find((m) => m.id === 'bronze-cc493')] as const;
write('LM-212', lm212(...bushing));
write('LM-212B', lm212b(...bushing));
write(
  'LM-233',
  lm233(
    machine,
    tools,
    materials.find((m) => m.id === 'phenolic-brown'),
  ),
);
