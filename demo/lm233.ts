/** LM-233 as far as a fixed tool can: the pear-shaped outside with its waist, and the socket. */
import { FIRST_HOLDING, usualHolding } from '../src/core/holding';
import { JOB_FORMAT, JOB_VERSION } from '../src/core/plan';
import { inStations } from '../src/core/tooling';

/** The outside as it comes from the solid: diameter and Z of each end, and for arcs the radius and whether they run clockwise. */
const OUTSIDE: readonly (readonly number[])[] = [
  [26, 0],
  [25.162986, -1.630725, 23.88533252, 1],
  [24.218962, -4.080396, 47.21052448, 1],
  [23.131248, -7.936247, 80.44512707, 1],
  [22.230658, -12.856477, 93.02382383, 1],
  [22.01947, -15.198422, 58.89477917, 1],
  [22.0049, -15.610392],
  [22, -16],
  [22.204346, -17.772712, 16.27442785, 1],
  [22.791016, -19.658598, 22.406971, 1],
  [23.720458, -21.645953, 30.75118552, 1],
  [25.42456, -24.433361, 44.08400631, 1],
  [27.573974, -27.35259, 66.19309852, 1],
  [30.74414, -31.144722, 106.30522074, 1],
  [34.280518, -35.04526, 200.42804226, 1],
  [38, -39, 638.92999486, 1],
  [41.719482, -42.95474, 638.92999498, 0],
  [45.25586, -46.855278, 200.42804201, 0],
  [48.426026, -50.64741, 106.30522074, 0],
  [50.57544, -53.566639, 66.19309839, 0],
  [52.279542, -56.354047, 44.084006, 0],
  [53.208984, -58.341402, 30.75118631, 0],
  [53.795654, -60.227288, 22.40697085, 0],
  [54, -62, 16.27442772, 0],
  [53.826432, -63.500949, 13.92625891, 0],
  [53.32701, -65.133785, 20.24249965, 0],
  [52.293142, -67.328081, 29.31430451, 0],
  [50.534082, -70.131488, 42.98027639, 0],
  [47.903246, -73.546673, 61.68802066, 0],
  [43.868556, -77.991899, 84.85711674, 0],
  [34.971932, -86.155607, 103.8297942, 0],
  [31.269122, -89.072, 77.47611792, 0],
  [30, -90, 53.62686404, 0],
  [0, -90],
];

const STATIONS = { '1': 'face-rough-80', '3': 'finish-35', '5': 'drill-18-118', '12': 'cutoff-3' };
const surface = (value: number, feed: number) => ({ speed: { mode: 'surface', value }, feed, coolant: false });

export const lm233 = (machine: unknown, tools: { id: string }[], material: unknown) => {
  const used = new Set(Object.values(STATIONS));
  const list: Record<string, unknown>[] = [
    {
      id: 'op1',
      kind: 'face',
      name: 'Face the front',
      tool: 'face-rough-80',
      cutting: surface(250, 0.2),
      params: { depth: 1 },
    },
    {
      id: 'op2',
      kind: 'drill',
      name: 'Drill the socket',
      tool: 'drill-18-118',
      cutting: { speed: { mode: 'fixed', value: 1200 }, feed: 0.15, coolant: false },
      params: { depth: 40, depthTo: 'full-diameter', peck: 10, chips: 'clear', keep: 85, output: 'moves' },
    },
    {
      id: 'op3',
      kind: 'outer-rough',
      name: 'Rough the pear',
      tool: 'finish-35',
      cutting: surface(250, 0.2),
      params: { depth: 2, allowanceX: 0.5, allowanceZ: 0.25, undercuts: 'enter', passes: 'falling' },
    },
    {
      id: 'op4',
      kind: 'outer-finish',
      name: 'Finish the pear',
      tool: 'finish-35',
      cutting: surface(300, 0.1),
      params: { undercuts: 'enter' },
    },
    {
      id: 'op5',
      kind: 'cutoff',
      name: 'Cut off',
      tool: 'cutoff-3',
      cutting: surface(150, 0.08),
      params: { slowFrom: 8, slowBy: 60, pastCentre: 0.3, catcher: true },
    },
  ];
  const [first] = OUTSIDE;
  return {
    format: JOB_FORMAT,
    version: JOB_VERSION,
    header: {
      number: 'LM-233',
      name: 'Distaff ferrule',
      revision: 'A',
      batch: 20,
      programNumber: 233,
      author: 'Ottilie Marsh',
      note: 'Outside and socket by fixed tools; the three angled holes come later.',
    },
    units: 'mm',
    material,
    machine,
    part: {
      outer: {
        start: { diameter: 18, z: first[1] },
        rows: OUTSIDE.map(([diameter, z, radius, clockwise], i) =>
          radius === undefined
            ? { id: `o${i + 1}`, kind: 'line', diameter, z, corner: null }
            : {
                id: `o${i + 1}`,
                kind: 'arc',
                diameter,
                z,
                radius,
                clockwise: clockwise === 1,
                long: false,
                corner: null,
              },
        ),
      },
      inner: {
        start: { diameter: 18, z: 0 },
        rows: [
          { id: 'i1', diameter: 18, z: -40, corner: null, kind: 'line' },
          { id: 'i2', diameter: 0, z: -45.4077, corner: null, kind: 'line' },
        ],
      },
    },
    holdings: {
      [FIRST_HOLDING]: usualHolding({
        spindle: 'main',
        stock: { form: 'bar', diameter: 56, bore: 0, frontAllowance: 1, stickOut: 112 },
        maxSpeed: 3500,
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
