/** LM-140 as far as it is turned: a slender shaft with a thread behind a centre hole, journals and a crowned middle. */
import { FIRST_HOLDING, usualHolding } from '../src/core/holding';
import { JOB_FORMAT, JOB_VERSION } from '../src/core/plan';
import { inStations } from '../src/core/tooling';

const STATIONS = {
  '1': 'face-rough-80',
  '3': 'finish-35',
  '4': 'finish-35-left',
  '5': 'centre-2.5',
  '9': 'thread-60-fine',
  '12': 'cutoff-3',
};
const surface = (value: number, feed: number) => ({ speed: { mode: 'surface', value }, feed, coolant: true });
const fixed = (value: number, feed: number) => ({ speed: { mode: 'fixed', value }, feed, coolant: true });
const corner = (kind: string, size: number) => ({ kind, size });
const line = (id: string, diameter: number, z: number, c: ReturnType<typeof corner> | null = null) => ({
  id,
  kind: 'line',
  diameter,
  z,
  corner: c,
});
/** Crown of 2 mm over 490: half the chord squared and the rise make the radius. */
const CROWN = (245 ** 2 + 2 ** 2) / (2 * 2);

export const lm140 = (machine: unknown, tools: { id: string }[], material: unknown) => {
  const used = new Set(Object.values(STATIONS));
  const list: Record<string, unknown>[] = [
    {
      id: 'op1',
      kind: 'face',
      name: 'Face the front',
      tool: 'face-rough-80',
      cutting: surface(180, 0.2),
      params: { depth: 1 },
    },
    {
      id: 'op2',
      kind: 'centre',
      name: 'Centre hole A2.5',
      tool: 'centre-2.5',
      cutting: fixed(1500, 0.05),
      params: {},
    },
    { id: 'op9', kind: 'support', name: 'Centre forward', params: { device: 'tailstock', action: 'on' } },
    {
      id: 'op3',
      kind: 'outer-rough',
      name: 'Rough the outside',
      tool: 'face-rough-80',
      cutting: surface(180, 0.25),
      span: { from: 'o1', to: 'o6' },
      params: { depth: 2, allowanceX: 0.6, allowanceZ: 0.1, undercuts: 'bridge' },
    },
    {
      id: 'op4',
      kind: 'outer-rough',
      name: 'Rough the rear journal',
      tool: 'finish-35-left',
      cutting: surface(180, 0.15),
      span: { from: 'o7', to: 'o8/corner' },
      params: { depth: 1, allowanceX: 0.6, allowanceZ: 0.1, undercuts: 'enter', extendBehind: 8 },
    },
    {
      id: 'op11',
      kind: 'support',
      name: 'Rest on the roughed middle',
      params: { device: 'steady', action: 'on', z: -305 },
    },
    {
      id: 'op5',
      kind: 'outer-finish',
      name: 'Finish the front',
      tool: 'finish-35',
      cutting: surface(220, 0.12),
      span: { from: 'o1', to: 'o5' },
      params: { undercuts: 'enter', compensation: 'control' },
    },
    {
      id: 'op7',
      kind: 'outer-thread',
      name: 'Thread M16x1.5',
      tool: 'thread-60-fine',
      cutting: fixed(900, 1.5),
      span: { from: 'o2', to: 'o2' },
      params: { thread: 'M16x1.5', passes: 8, output: 'cycle' },
    },
    { id: 'op12', kind: 'support', name: 'Rest open', params: { device: 'steady', action: 'off', z: -305 } },
    {
      id: 'op13',
      kind: 'outer-finish',
      name: 'Finish the crowned middle',
      tool: 'finish-35',
      cutting: surface(220, 0.1),
      span: { from: 'o6', to: 'o6' },
      params: { undercuts: 'enter', compensation: 'control' },
    },
    {
      id: 'op6',
      kind: 'outer-finish',
      name: 'Finish the rear journal',
      tool: 'finish-35-left',
      cutting: surface(220, 0.1),
      span: { from: 'o7', to: 'o8/corner' },
      params: { undercuts: 'enter', extendBehind: 8 },
    },
    { id: 'op10', kind: 'support', name: 'Centre back', params: { device: 'tailstock', action: 'off' } },
    {
      id: 'op8',
      kind: 'cutoff',
      name: 'Cut off',
      tool: 'cutoff-3',
      cutting: surface(110, 0.08),
      params: { slowFrom: 8, slowBy: 60, pastCentre: 0.3 },
    },
  ];
  return {
    format: JOB_FORMAT,
    version: JOB_VERSION,
    header: {
      number: 'LM-140',
      name: 'Flyer shaft',
      revision: 'A',
      batch: 12,
      programNumber: 140,
      author: 'Ottilie Marsh',
      note: 'Turned features; the cross hole comes later.',
    },
    units: 'mm',
    material,
    machine,
    part: {
      outer: {
        start: { diameter: 5.3, z: 0 },
        rows: [
          line('o1', 16, 0, corner('chamfer', 1.5)),
          line('o2', 16, -24, corner('relief', 1.5)),
          line('o3', 20, -24, corner('chamfer', 0.5)),
          line('o4', 20, -60, corner('fillet', 1)),
          line('o5', 24, -60),
          { id: 'o6', kind: 'arc', diameter: 24, z: -550, radius: CROWN, clockwise: false, long: false, corner: null },
          line('o7', 20, -550, corner('fillet', 1)),
          line('o8', 20, -610, corner('chamfer', 0.5)),
          line('o9', 0, -610),
        ],
      },
      // DIN 332 A2.5, as deep as its drill makes it
      inner: {
        start: { diameter: 5.3, z: 0 },
        rows: [line('i1', 2.5, -2.4249), line('i2', 2.5, -4.7738), line('i3', 0, -5.5249)],
      },
    },
    holdings: {
      [FIRST_HOLDING]: usualHolding({
        spindle: 'main',
        stock: { form: 'bar', diameter: 30, bore: 0, frontAllowance: 1, stickOut: 640 },
        maxSpeed: 2500,
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
