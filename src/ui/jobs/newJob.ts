'use client';
import type { Material } from '@/core/cutting';
import { boundsOfCurves } from '@/core/geometry';
import { FIRST_HOLDING, usualHolding } from '@/core/holding';
import type { Machine } from '@/core/machine';
import { buildPart, type PartDocument } from '@/core/part';
import { JOB_FORMAT, JOB_VERSION, type Job } from '@/core/plan';
import { inStations, type Tool, type ToolOf } from '@/core/tooling';

/** A profile to begin with when none is brought: a plain stepped pin. */
export const firstPart = (): PartDocument => ({
  outer: {
    start: { diameter: 0, z: 0 },
    rows: [
      { id: 'o1', kind: 'line', diameter: 20, z: 0, corner: { kind: 'chamfer', size: 1 } },
      { id: 'o2', kind: 'line', diameter: 20, z: -15, corner: null },
      { id: 'o3', kind: 'line', diameter: 30, z: -15, corner: { kind: 'chamfer', size: 0.5 } },
      { id: 'o4', kind: 'line', diameter: 30, z: -25, corner: { kind: 'chamfer', size: 0.5 } },
      { id: 'o5', kind: 'line', diameter: 0, z: -25, corner: null },
    ],
  },
  inner: null,
});

const BARS = [
  6, 8, 10, 12, 14, 16, 18, 20, 22, 25, 28, 30, 32, 35, 38, 40, 42, 45, 48, 50, 55, 60, 62, 65, 70, 75, 80, 90, 100,
  120,
];

/** The usual stations where the carrier has them, else the next free one; what finds no room stays in the library. */
const standing = (set: readonly (readonly [number, Tool])[], stations: number): [number, Tool][] => {
  const used = new Set(set.flatMap(([n]) => (n <= stations ? [n] : [])));
  return set.flatMap(([n, tool]): [number, Tool][] => {
    if (n <= stations) return [[n, tool]];
    const free = Array.from({ length: stations }, (_, i) => i + 1).find((k) => !used.has(k));
    if (free === undefined) return [];
    used.add(free);
    return [[free, tool]];
  });
};

/** Job for a part: next standard bar, enough stick-out for a cutoff, a usual set of tools in the turret. */
export const makeJob = (p: {
  number: string;
  name: string;
  machine: Machine;
  material: Material;
  part: PartDocument;
  tools: readonly Tool[];
  author: string;
}): Job => {
  const built = buildPart(p.part);
  const box = boundsOfCurves(built.outer.map((e) => e.curve));
  const greatest = Math.max(box.maxY * 2, 1);
  const back = Math.min(box.minX, 0);
  const bar = BARS.find((d) => d >= greatest + 0.5) ?? Math.ceil(greatest + 2);
  const radii = built.inner.flatMap((e) => [e.curve.from.y, e.curve.to.y]).filter((r) => r > 0);
  const bore = radii.length > 0 ? 2 * Math.min(...radii) : 0;
  const byKind = <K extends Tool['kind']>(kind: K): ToolOf<K>[] =>
    p.tools.filter((t): t is ToolOf<K> => t.kind === kind);
  const drill = byKind('drill')
    .filter((t) => t.cutter.diameter <= bore - 0.4)
    .sort((a, b) => b.cutter.diameter - a.cutter.diameter)[0];
  const boring = byKind('boring')
    .filter((t) => drill && t.holder.diameter / 2 + t.holder.noseToAxis < drill.cutter.diameter - 0.5)
    .sort((a, b) => b.holder.diameter - a.holder.diameter)[0];
  const blades = byKind('cutoff').sort((a, b) => a.cutter.reach - b.cutter.reach);
  const blade = blades.find((t) => t.cutter.reach > bar / 2 + 1) ?? blades[blades.length - 1];
  const pick = (id: string): Tool | undefined => p.tools.find((t) => t.id === id);
  const set: [number, Tool | undefined][] = [
    [1, pick('face-rough-80') ?? byKind('turning')[0]],
    [3, pick('finish-55') ?? byKind('turning')[1]],
    [4, pick('finish-35')],
    [5, drill],
    [7, boring],
    [12, blade],
  ];
  const { stations } = p.machine.carriers[0];
  const taken = standing(
    set.filter((s): s is [number, Tool] => s[1] !== undefined),
    stations,
  );
  const bladeWidth = blade?.cutter.width ?? 3;
  return {
    format: JOB_FORMAT,
    version: JOB_VERSION,
    header: {
      number: p.number.slice(0, 60),
      name: p.name.slice(0, 200),
      revision: 'A',
      batch: 1,
      programNumber: 1,
      author: p.author,
      note: '',
    },
    units: 'mm',
    material: p.material,
    machine: p.machine,
    part: p.part,
    holdings: {
      [FIRST_HOLDING]: usualHolding({
        spindle: p.machine.spindles[0].id,
        stock: {
          form: 'bar',
          diameter: bar,
          bore: 0,
          frontAllowance: 1,
          stickOut: Math.ceil(-back + 1 + bladeWidth + 10),
        },
        toolChange: { diameter: Math.max(120, Math.ceil(bar / 10) * 10 + 100), z: 100 },
        maxSpeed: Math.min(4000, p.machine.spindles[0].maxSpeed),
      }),
    },
    holdingOrder: [FIRST_HOLDING],
    programs: 'each',
    tools: Object.fromEntries(taken.map(([, t]) => [t.id, t])),
    mounts: { [p.machine.carriers[0].id]: inStations(Object.fromEntries(taken.map(([n, t]) => [String(n), t.id]))) },
    operations: {},
    order: Object.fromEntries(p.machine.channels.map((c) => [c.id, []])),
    repeats: {},
  };
};
