import { usualHolding } from '../src/core/holding';
import { JOB_FORMAT, JOB_VERSION } from '../src/core/plan';
import { inStations } from '../src/core/tooling';

type Corner = { kind: 'chamfer' | 'fillet'; size: number } | null;
const row = (id: string, diameter: number, z: number, corner: Corner = null) => ({
  id,
  kind: 'line',
  diameter,
  z,
  corner,
  angle: null,
  length: null,
});
const chamfer = (size: number): Corner => ({ kind: 'chamfer', size });
const fillet = (size: number): Corner => ({ kind: 'fillet', size });

const fixed = (value: number, feed: number) => ({ speed: { mode: 'fixed', value }, feed, coolant: true });
const surface = (value: number, feed: number) => ({
  speed: { mode: 'surface', value, clamp: null },
  feed,
  coolant: true,
});
const MAIN = { channel: '1', holding: 'h1' };
const BORE = { channel: '2', holding: 'h1' };
const BACK = { channel: '2', holding: 'h2' };
const mark = (id: string, n: number, at: { channel: string; holding: string }) => ({
  id,
  kind: 'wait',
  name: `mark ${n}`,
  ...at,
  params: { mark: n, channels: ['1', '2'] },
});

/**
 * LM-212 as far as it is turned: outside and bore side by side in the main spindle, handed over, the back in the
 * sub-spindle. Inside groove, thread, hexagon and ports come later.
 */
export const lm212 = (machine: unknown, tools: readonly { id: string }[], material: unknown): unknown => {
  const used = [
    'face-rough-80',
    'finish-55',
    'cutoff-3',
    'drill-20',
    'bore-16',
    'face-rough-80-left',
    'finish-55-left',
  ];
  const operations = [
    {
      id: 'op1',
      kind: 'face',
      name: 'Face the front',
      ...MAIN,
      tool: 'face-rough-80',
      cutting: surface(220, 0.25),
      params: { depth: 1, finishDepth: 0.3, finishFeed: 0.12 },
    },
    mark('m1a', 1, MAIN),
    {
      id: 'op3',
      kind: 'outer-rough',
      name: 'Rough the outside',
      ...MAIN,
      tool: 'face-rough-80',
      cutting: fixed(1300, 0.25),
      params: { depth: 2, allowanceX: 0.5, allowanceZ: 0.15, undercuts: 'bridge' },
    },
    mark('m2a', 2, MAIN),
    {
      id: 'op5',
      kind: 'outer-finish',
      name: 'Finish the outside',
      ...MAIN,
      tool: 'finish-55',
      cutting: fixed(2000, 0.12),
      params: { undercuts: 'enter', compensation: 'control' },
    },
    mark('m3a', 3, MAIN),
    {
      id: 'op7',
      kind: 'handover',
      name: 'Hand over',
      ...MAIN,
      params: { to: 'h2', clearance: 5, feed: 600, limited: true, speed: 800, delay: 0.5 },
    },
    {
      id: 'op8',
      kind: 'cutoff',
      name: 'Cut off',
      ...MAIN,
      tool: 'cutoff-3',
      cutting: fixed(800, 0.08),
      params: { slowFrom: 8, slowBy: 50, pastCentre: 0.3, leave: 0.5, edgeBreakFirst: false },
    },
    { id: 'op9', kind: 'withdraw', name: 'Withdraw', ...MAIN, params: { to: 'h2' } },
    mark('m4a', 4, MAIN),
    { id: 'op10', kind: 'bar-feed', name: 'Feed the bar', ...MAIN, params: { time: 2, delay: 0.5 } },
    mark('m1b', 1, BORE),
    {
      id: 'op2',
      kind: 'drill',
      name: 'Drill ⌀20 through',
      ...BORE,
      tool: 'drill-20',
      cutting: fixed(1300, 0.2),
      params: { depth: null, breakThrough: 1.5, peck: 25, output: 'moves' },
    },
    mark('m2b', 2, BORE),
    {
      id: 'op4',
      kind: 'inner-rough',
      name: 'Rough the bore',
      ...BORE,
      tool: 'bore-16',
      cutting: fixed(2000, 0.18),
      params: { depth: 1.2, allowanceX: 0.3, allowanceZ: 0.1 },
    },
    {
      id: 'op6',
      kind: 'inner-finish',
      name: 'Finish the bore',
      ...BORE,
      tool: 'bore-16',
      cutting: fixed(2000, 0.1),
      params: { compensation: 'control' },
    },
    mark('m3b', 3, BORE),
    mark('m4b', 4, BACK),
    {
      id: 'b1',
      kind: 'face',
      name: 'Face the back',
      ...BACK,
      tool: 'face-rough-80-left',
      cutting: surface(220, 0.2),
      params: { depth: 1, finishDepth: 0.2, finishFeed: 0.12 },
    },
    {
      id: 'b2',
      kind: 'outer-finish',
      name: 'Break the back edge',
      ...BACK,
      tool: 'finish-55-left',
      cutting: surface(260, 0.1),
      params: { undercuts: 'enter', backLimit: -6, compensation: 'control' },
    },
    { id: 'b3', kind: 'eject', name: 'Eject', ...BACK, params: { time: 1 } },
  ];
  return {
    format: JOB_FORMAT,
    version: JOB_VERSION,
    header: {
      number: 'LM-212',
      name: 'Orifice bushing',
      revision: 'A',
      batch: 60,
      programNumber: 212,
      author: 'Ottilie Marsh',
      note: 'Turned features; inside groove, thread, hexagon and ports come later.',
    },
    units: 'mm',
    material,
    machine,
    part: {
      outer: {
        start: { diameter: 25, z: 0 },
        rows: [
          row('o1', 34, 0, chamfer(1)),
          row('o2', 34, -20, fillet(1)),
          row('o3', 40, -20, chamfer(0.5)),
          row('o4', 40, -42, fillet(1)),
          row('o5', 48, -42, chamfer(0.5)),
          row('o6', 48, -64, chamfer(1)),
          row('o7', 25, -64),
        ],
      },
      inner: { start: { diameter: 25, z: 0 }, rows: [row('i1', 25, -64)] },
    },
    holdings: {
      h1: usualHolding({
        name: 'Main spindle',
        spindle: 'main',
        stock: { form: 'bar', diameter: 50, bore: 0, frontAllowance: 1, stickOut: 82 },
        // clear of the sub-spindle’s chuck, which passes there
        toolChange: { diameter: 200, z: 100 },
        maxSpeed: 4000,
      }),
      h2: usualHolding({
        name: 'Sub-spindle',
        spindle: 'sub',
        turned: true,
        stock: { form: 'from', holding: 'h1', by: 'handover' },
        grip: 18,
        gripForce: 24_000,
        workOffset: 'G55',
        maxSpeed: 3500,
      }),
    },
    holdingOrder: ['h1', 'h2'],
    programs: 'each',
    tools: Object.fromEntries(tools.filter((t) => used.includes(t.id)).map((t) => [t.id, t])),
    mounts: {
      upper: inStations({ '1': 'face-rough-80', '3': 'finish-55', '12': 'cutoff-3' }),
      lower: inStations({ '2': 'drill-20', '4': 'bore-16', '7': 'face-rough-80-left', '9': 'finish-55-left' }),
    },
    operations: Object.fromEntries(operations.map((o) => [o.id, o])),
    order: {
      '1': operations.filter((o) => o.channel === '1').map((o) => o.id),
      '2': operations.filter((o) => o.channel === '2').map((o) => o.id),
    },
  };
};
