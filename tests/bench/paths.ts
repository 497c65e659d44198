import { isCutting, kindOf, planOperation, see } from '../../src/core/operations';
import type { Row } from '../../src/core/part';
import { derive, type Job } from '../../src/core/plan';
import { heldIn } from '../../src/core/plan/derive';
import { resolveOperation } from '../../src/core/plan/references';
import { ToolSchema } from '../../src/core/tooling';
import { lineRow } from '../fixtures/jobs';
import { operation, tool, turnedJob } from '../fixtures/turned';
import { wavyRows } from './contours';

const ELEMENTS = 63;

/** A long bore whose wall has the wavy contour, each place as far outside of its mouth as the contour lies below its crests. */
const wavyBore = (): { rows: Row[]; length: number } => {
  const rows: Row[] = [];
  for (const r of wavyRows(ELEMENTS, false).slice(0, -1))
    rows.push({ ...r, id: `i${r.id}`, diameter: 40 + (40 - (r.diameter as number)) } as Row);
  return { rows: rows.slice(1), length: -(rows[rows.length - 1].z as number) };
};

/** One wide groove: its walls, and a floor that goes up and down. */
const wavyFloor = (): { rows: Row[]; length: number } => {
  const rows: Row[] = [lineRow('o', 44, 0), lineRow('front', 44, -5), lineRow('wall', 36, -5)];
  let z = -5;
  for (let i = 0; i < ELEMENTS - 5; i++) {
    z -= 1.5;
    rows.push(lineRow(`f${i}`, i % 2 === 0 ? 36 : 35.6, z));
  }
  rows.push(lineRow('rear', 44, z), lineRow('back', 44, z - 5), lineRow('end', 0, z - 5));
  return { rows, length: 5 - z };
};

const cutter = tool({ id: 't', kind: 'turning', insert: 'DCMT11T304', approachAngle: 93, overhang: 60 });
const bar = tool({
  id: 't',
  kind: 'boring',
  bar: 'carbide',
  insert: 'DCMT11T304',
  approachAngle: 93,
  barDiameter: 25,
  noseToAxis: 17,
  overhang: 140,
});
const blade = ToolSchema.parse({
  id: 't',
  name: 'blade',
  kind: 'grooving',
  stickOut: 40,
  cutter: { kind: 'groove-insert', width: 2, cornerRadius: 0.2, reach: 12, material: 'carbide' },
  holder: { kind: 'shank', hand: 'right', side: 20 },
});

interface Way {
  readonly what: string;
  readonly job: Job;
}

const outside = (arcs: boolean, kind: 'outer-rough' | 'outer-finish', along: string): Way => {
  const rows = wavyRows(ELEMENTS, arcs);
  const length = -(rows[rows.length - 1].z as number);
  const params = kind === 'outer-rough' ? { depth: 1, undercuts: 'enter', along } : { undercuts: 'enter', along };
  return {
    what: `${kind === 'outer-rough' ? 'roughing' : 'finishing'} outside along ${along}${arcs ? ', arcs' : ''}`,
    job: turnedJob({
      outer: rows,
      bar: 44,
      length,
      frontAllowance: 0.5,
      tools: [cutter],
      operations: [operation({ id: 'x', kind, tool: 't', params })],
    }),
  };
};

const inside = (kind: 'inner-rough' | 'inner-finish', along: string): Way => {
  const { rows, length } = wavyBore();
  const drill = tool({ id: 'd', kind: 'drill', diameter: 38, pointAngle: 118, fluteLength: 180, overhang: 200 });
  return {
    what: `${kind === 'inner-rough' ? 'roughing' : 'finishing'} a bore along ${along}`,
    job: turnedJob({
      start: 40,
      outer: [lineRow('o1', 70, 0), lineRow('o2', 70, -length), lineRow('o3', 40, -length)],
      inner: rows,
      bar: 70,
      length,
      tools: [drill, bar],
      operations: [
        operation({ id: 'd', kind: 'drill', tool: 'd', params: { depth: null, breakThrough: 2, peck: 5 } }),
        operation({
          id: 'x',
          kind,
          tool: 't',
          params: kind === 'inner-rough' ? { depth: 1, undercuts: 'enter', along } : { undercuts: 'enter', along },
        }),
      ],
    }),
  };
};

const groove = (method: string): Way => {
  const { rows, length } = wavyFloor();
  return {
    what: `grooving by ${method === 'turn' ? 'levels' : 'plunges'}`,
    job: turnedJob({
      outer: rows,
      bar: 44,
      length,
      tools: [blade],
      operations: [
        operation({ id: 'x', kind: 'outer-groove', tool: 't', params: { method }, span: { from: 'wall', to: 'rear' } }),
      ],
    }),
  };
};

const ways = (): Way[] => [
  ...[false, true].flatMap((arcs) => [
    ...['z', 'x', 'contour'].map((along) => outside(arcs, 'outer-rough', along)),
    ...['z', 'corner'].map((along) => outside(arcs, 'outer-finish', along)),
  ]),
  ...['z', 'x', 'contour'].map((along) => inside('inner-rough', along)),
  inside('inner-finish', 'z'),
  groove('plunge'),
  groove('turn'),
];

/** The path alone of one operation over a contour of 63 elements, without the checks that follow: each way of each kind. */
export const pathRows = (least: (runs: number, work: () => void) => number, only = ''): (readonly [string, string])[] =>
  ways()
    .filter((w) => w.what.includes(only))
    .map(({ what, job }) => {
      const d = derive(job);
      const held = heldIn(d, job.holdingOrder[0]);
      const derived = d.operations.find((o) => o.id === 'x');
      const op = job.operations.x;
      if (!held || !derived || !isCutting(op)) throw new Error(what);
      const { resolved } = resolveOperation(job, op, '1', held);
      if (!resolved) throw new Error(what);
      const time = least(30, () => {
        const seen = see(kindOf(op), op, {
          part: held.part,
          metal: structuredClone(derived.before.turnedOutline),
          fixtures: held.fixtures,
          section: resolved.section,
          tool: resolved.tool,
          place: resolved.place,
          cutoffWidth: 0,
          roughness: new Map(),
          cycleContours: [],
        });
        planOperation(op, seen);
      });
      return [
        `path of ${what}, ${ELEMENTS} elements`,
        `${time.toFixed(1)} ms, ${derived.events.length} moves`,
      ] as const;
    });
