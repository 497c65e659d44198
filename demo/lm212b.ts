import { inStations } from '../src/core/tooling';
import { lm212 } from './lm212';

type Json = Record<string, unknown>;

/** LM-212 revision B: with its inside groove and inside thread, cut by the lower turret while the upper one waits. */
export const lm212b = (machine: unknown, tools: readonly { id: string }[], material: unknown): unknown => {
  const job = structuredClone(lm212(machine, tools, material)) as Json & {
    header: Json;
    part: { outer: { rows: { id: string; diameter: number }[]; start: { diameter: number } }; inner: Json };
    operations: Record<string, Json>;
    order: Record<string, string[]>;
    tools: Json;
    mounts: Json & { lower: Json };
  };
  Object.assign(job.header, {
    name: 'Orifice bushing, threaded',
    revision: 'B',
    programNumber: 213,
    note: 'With inside groove and inside thread; hexagon and ports come later.',
  });
  const minor = 28.376;
  job.part.outer.start.diameter = minor;
  for (const r of job.part.outer.rows)
    if (r.id === 'o1' || r.id === 'o2') r.diameter = 38;
    else if (r.id === 'o3' || r.id === 'o4') r.diameter = 42;
  const row = (id: string, diameter: number, z: number, fillet = 0): Json => ({
    id,
    kind: 'line',
    diameter,
    z,
    corner: fillet > 0 ? { kind: 'fillet', size: fillet } : null,
  });
  job.part.inner = {
    start: { diameter: minor, z: 0 },
    rows: [
      row('i1', minor, -14),
      row('i2', 31, -14, 0.2),
      row('i3', 31, -18, 0.2),
      row('i4', 25, -18),
      row('i5', 25, -64),
    ],
  };
  const mark = (id: string, channel: string): Json => ({
    id,
    kind: 'wait',
    name: 'mark 5',
    channel,
    holding: 'h1',
    params: { mark: 5, channels: ['1', '2'] },
  });
  const bore = (id: string, kind: string, name: string, tool: string, more: Json): Json => ({
    id,
    kind,
    name,
    channel: '2',
    holding: 'h1',
    tool,
    ...more,
  });
  const fixed = (value: number, feed: number): Json => ({ speed: { mode: 'fixed', value }, feed, coolant: true });
  for (const op of [
    mark('m5a', '1'),
    mark('m5b', '2'),
    bore('op11', 'inner-groove', 'Groove behind the thread', 'groove-bar-3', {
      span: { from: 'i2', to: 'i4' },
      cutting: fixed(1200, 0.07),
      params: {},
    }),
    bore('op12', 'inner-thread', 'Thread M30x1.5 inside', 'thread-bar-60-16', {
      span: { from: 'i1', to: 'i1' },
      cutting: fixed(800, 1),
      params: { thread: 'M30x1.5', passes: 9, output: 'cycle', finish: 0.05 },
    }),
  ])
    job.operations[op.id as string] = op;
  const before = (list: string[], at: string, ...ids: string[]): string[] =>
    list.flatMap((id) => (id === at ? [...ids, id] : [id]));
  job.order['1'] = before(job.order['1'], 'm3a', 'm5a');
  job.order['2'] = before(job.order['2'], 'm3b', 'm5b', 'op11', 'op12');
  Object.assign(job.operations.op4, { params: { depth: 1.2, allowanceX: 0.3, allowanceZ: 0.1, undercuts: 'bridge' } });
  Object.assign(job.operations.op6, { params: { compensation: 'control', undercuts: 'bridge' } });
  for (const t of tools) if (t.id === 'groove-bar-3' || t.id === 'thread-bar-60-16') job.tools[t.id] = t;
  Object.assign(job.mounts.lower, inStations({ '5': 'groove-bar-3', '6': 'thread-bar-60-16' }));
  return job;
};
