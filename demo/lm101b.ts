/** LM-101 revision B: the whorl pulley with both round-belt grooves, the V groove and the face recess. */
import { FIRST_HOLDING, usualHolding } from '../src/core/holding';
import { JOB_FORMAT, JOB_VERSION } from '../src/core/plan';
import { inStations } from '../src/core/tooling';

type Corner = [string, number] | null;
const line = (id: string, diameter: number, z: number, corner: Corner = null, cuts: unknown[] = []) => ({
  id,
  kind: 'line',
  diameter,
  z,
  corner: corner && { kind: corner[0], size: corner[1] },
  ...(cuts.length > 0 ? { cuts } : {}),
});

const STATIONS = {
  '1': 'face-rough-80',
  '2': 'groove-round-3',
  '3': 'finish-55',
  '4': 'form-v-60',
  '5': 'drill-11',
  '6': 'groove-face-3-a',
  '7': 'bore-8-long',
  '12': 'cutoff-3',
};
const surface = (value: number, feed: number) => ({ speed: { mode: 'surface', value }, feed, coolant: true });

export const lm101b = (machine: unknown, tools: { id: string }[], material: unknown) => {
  const used = new Set(Object.values(STATIONS));
  const list: Record<string, unknown>[] = [
    {
      id: 'op1',
      kind: 'face',
      name: 'Face the front',
      tool: 'face-rough-80',
      cutting: surface(400, 0.25),
      params: { depth: 1 },
    },
    {
      id: 'op2',
      kind: 'drill',
      name: 'Drill ⌀11 through',
      tool: 'drill-11',
      cutting: { speed: { mode: 'fixed', value: 3500 }, feed: 0.25, coolant: true },
      params: { depth: null, breakThrough: 3, peck: 11, output: 'cycle' },
    },
    {
      id: 'op3',
      kind: 'outer-rough',
      name: 'Rough hub and rim',
      tool: 'face-rough-80',
      cutting: surface(450, 0.3),
      params: { depth: 2.5, allowanceX: 0.4, allowanceZ: 0.1, undercuts: 'bridge', output: 'cycle' },
    },
    {
      id: 'op4',
      kind: 'inner-rough',
      name: 'Rough the bore',
      tool: 'bore-8-long',
      cutting: surface(300, 0.15),
      params: { depth: 0.8, allowanceX: 0.3, allowanceZ: 0.1 },
    },
    {
      id: 'op5',
      kind: 'outer-finish',
      name: 'Finish hub and rim',
      tool: 'finish-55',
      cutting: surface(600, 0.12),
      params: { undercuts: 'bridge', compensation: 'control' },
    },
    {
      id: 'op6',
      kind: 'inner-finish',
      name: 'Finish the bore',
      tool: 'bore-8-long',
      cutting: surface(300, 0.08),
      params: { compensation: 'control' },
    },
    {
      id: 'op7',
      kind: 'face-groove',
      name: 'Recess in the face',
      tool: 'groove-face-3-a',
      span: { from: 'o4', to: 'o6' },
      cutting: surface(250, 0.08),
      params: { peck: 2 },
    },
    {
      id: 'op8',
      kind: 'outer-groove',
      name: 'Round-belt groove r 2.5',
      tool: 'groove-round-3',
      span: { from: 'o8/b1.1', to: 'o8/b1.1' },
      cutting: surface(300, 0.1),
      params: { allowance: 0.2 },
    },
    {
      id: 'op9',
      kind: 'form',
      name: 'V groove',
      tool: 'form-v-60',
      span: { from: 'o8/v.1', to: 'o8/v.3' },
      cutting: surface(250, 0.06),
      params: { allowance: 0.2, dwell: 0.2 },
    },
    {
      id: 'op10',
      kind: 'outer-groove',
      name: 'Round-belt groove r 3.5',
      tool: 'groove-round-3',
      span: { from: 'o8/b2.1', to: 'o8/b2.1' },
      cutting: surface(300, 0.1),
      params: { allowance: 0.2 },
    },
    {
      id: 'op11',
      kind: 'cutoff',
      name: 'Cut off',
      tool: 'cutoff-3',
      cutting: surface(250, 0.1),
      params: { slowFrom: 8, slowBy: 60, pastCentre: 0.3 },
    },
  ];
  return {
    format: JOB_FORMAT,
    version: JOB_VERSION,
    header: {
      number: 'LM-101',
      name: 'Whorl pulley, grooved',
      revision: 'B',
      batch: 40,
      programNumber: 102,
      author: 'Ottilie Marsh',
      note: 'Both round-belt grooves, the V groove and the face recess.',
    },
    units: 'mm',
    material,
    machine,
    part: {
      outer: {
        start: { diameter: 12, z: 0 },
        rows: [
          line('o1', 26, 0, ['chamfer', 0.5]),
          line('o2', 26, -3, ['fillet', 0.5]),
          line('o3', 34, -3, ['sharp', 0]),
          line('o4', 34, -10, ['fillet', 0.2]),
          line('o5', 46, -10, ['fillet', 0.2]),
          line('o6', 46, -3, ['sharp', 0]),
          line('o7', 60, -3, ['chamfer', 0.4]),
          line(
            'o8',
            60,
            -22,
            ['chamfer', 0.4],
            [
              { id: 'b1', kind: 'belt', z: -3.9, radius: 2.5, depth: 2.5 },
              { id: 'v', kind: 'v', z: -9.7, depth: 3, angle: 60, radius: 0.2 },
              { id: 'b2', kind: 'belt', z: -14.1, radius: 3.5, depth: 3.5 },
            ],
          ),
          line('o9', 12, -22),
        ],
      },
      inner: { start: { diameter: 12, z: 0 }, rows: [line('i1', 12, -22)] },
      edges: { kind: 'chamfer', size: 0.2 },
    },
    holdings: {
      [FIRST_HOLDING]: usualHolding({
        spindle: 'main',
        stock: { form: 'bar', diameter: 62, bore: 0, frontAllowance: 1, stickOut: 44 },
        maxSpeed: 4000,
      }),
    },
    holdingOrder: [FIRST_HOLDING],
    programs: 'each',
    tools: Object.fromEntries(tools.filter((t) => used.has(t.id)).map((t) => [t.id, t])),
    mounts: { upper: inStations(STATIONS) },
    operations: Object.fromEntries(list.map((o) => [o.id as string, { channel: '1', ...o }])),
    order: { '1': list.map((o) => o.id) },
  };
};
