import { FIRST_HOLDING } from '../holding';
import { linkedMachine } from '../machine';
import { mountsFromStations, upgradedTool } from '../tooling';

/** Steps that turn a document of one version into the next; older files are read for ever. */

type Json = Record<string, unknown>;

const isObject = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v);

/** Version 1 wrote a speed as a number with a mode beside it; version 2 has one value that is either. */
const speedsAsUnion = (job: Json): Json => {
  if (!isObject(job.operations)) return job;
  const operations = Object.fromEntries(
    Object.entries(job.operations).map(([id, op]) => {
      if (!isObject(op) || !isObject(op.cutting)) return [id, op];
      const { speedMode, speed, ...rest } = op.cutting;
      if (typeof speed !== 'number') return [id, op];
      const made =
        speedMode === 'fixed' ? { mode: 'fixed', value: speed } : { mode: 'surface', value: speed, clamp: null };
      return [id, { ...op, cutting: { ...rest, speed: made } }];
    }),
  );
  return { ...job, operations };
};

/** Version 2 had one flat record for a tool, with its way up and offset; version 3 has cutter, holder and mount apart. */
const toolsApart = ({ stations, ...job }: Json): Json => ({
  ...job,
  tools: isObject(job.tools)
    ? Object.fromEntries(Object.entries(job.tools).map(([id, t]) => [id, upgradedTool(t)]))
    : job.tools,
  mounts: mountsFromStations(stations, job.tools),
});

/** Version 3 had one bar and one holding; version 4 has holdings in their order, each with what it holds. */
const severalHoldings = ({ stock, holding, ...job }: Json): Json => {
  const bar = isObject(stock) && isObject(holding) ? { ...stock, stickOut: holding.stickOut } : stock;
  const { stickOut: _, ...rest } = isObject(holding) ? holding : {};
  const operations = isObject(job.operations)
    ? Object.fromEntries(
        Object.entries(job.operations).map(([id, op]) => [id, isObject(op) ? { ...op, holding: FIRST_HOLDING } : op]),
      )
    : job.operations;
  return {
    ...job,
    operations,
    holdings: { [FIRST_HOLDING]: { name: 'First side', ...rest, stock: bar } },
    holdingOrder: [FIRST_HOLDING],
  };
};

/** The step that leads on from each version. */
export const UPGRADES: Readonly<Record<number, (job: Json) => Json>> = {
  1: (job) => ({ ...speedsAsUnion(job), version: 2 }),
  2: (job) => ({ ...toolsApart(job), version: 3 }),
  3: (job) => ({ ...severalHoldings(job), version: 4 }),
  // version 4 had a flat machine; version 5 has it as a tree of links
  4: (job) => ({ ...job, machine: linkedMachine(job.machine), version: 5 }),
};

/** A document brought up to `version`, step by step; documents that are no object, or newer, stay as they are. */
export const upgraded = (value: unknown, version: number): unknown => {
  let job = value;
  for (let guard = 0; guard < 100; guard++) {
    if (!isObject(job) || typeof job.version !== 'number' || job.version >= version) return job;
    const step = UPGRADES[job.version];
    if (!step) return job;
    job = step(job);
  }
  return job;
};
