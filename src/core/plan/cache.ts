import type { Finding } from '../findings';
import { type MotionEvent, TimingMemory } from '../motion';
import type { Planned } from '../operations';
import { aimedAtMiddle, buildPart, listFeatures, type Part } from '../part';
import type { Body } from '../stock';
import type { Tool } from '../tooling';
import type { Job } from './document';
import type { End } from './end';
import { dimensionNames } from './formulas';
import type { Held } from './held';
import type { OperationLoad } from './load';

/** Results by a hash of all that they were made from; what the last derives did not use is forgotten once there is much. */
export class Shelf<T> {
  private entries = new Map<string, T>();
  private touched = new Set<string>();
  hits = 0;
  misses = 0;

  get(key: string, make: () => T): T {
    this.touched.add(key);
    const found = this.entries.get(key);
    if (found !== undefined) {
      this.hits++;
      return found;
    }
    this.misses++;
    const made = make();
    this.entries.set(key, made);
    return made;
  }

  sweep(keep: number): void {
    if (this.entries.size <= keep) return;
    for (const key of this.entries.keys()) if (!this.touched.has(key)) this.entries.delete(key);
    this.touched.clear();
  }
}

export interface Checked {
  readonly findings: readonly Finding[];
  readonly after: Body;
  readonly removed: number;
}

export interface Loaded {
  readonly load: OperationLoad | null;
  readonly findings: readonly Finding[];
}

/** A part with what is read from its document beside its shape. */
export interface SeenPart {
  readonly part: Part;
  /** Named dimensions, mm. */
  readonly names: ReadonlyMap<string, number>;
  /** Ra asked for on elements, µm. */
  readonly roughness: ReadonlyMap<string, number>;
}

/** What is kept from derive to derive: a shelf for each stage, each keyed by what that stage reads. */
export class DeriveCache {
  readonly parts = new Shelf<SeenPart>();
  readonly tools = new Shelf<Tool>();
  readonly holdings = new Shelf<Held>();
  /** Pieces that pass from one holding to another, by what they were. */
  readonly pieces = new Shelf<Body>();
  readonly waits = new Shelf<readonly MotionEvent[]>();
  readonly homings = new Shelf<readonly MotionEvent[]>();
  /** Stock and holdings as repeated operations see them, and their events where they work. */
  readonly moved = new Shelf<Body>();
  readonly movedHoldings = new Shelf<Held>();
  readonly movedEvents = new Shelf<readonly MotionEvent[]>();
  readonly plans = new Shelf<Planned>();
  /** Paths of operations with two tools, meeting before each cut, and what of them is the second tool's. */
  readonly seconds = new Shelf<readonly MotionEvent[]>();
  readonly checks = new Shelf<Checked>();
  readonly loads = new Shelf<Loaded>();
  readonly ends = new Shelf<End>();

  private timings: { machine: string; memory: TimingMemory } = { machine: '', memory: new TimingMemory() };

  /** What is remembered of the last timing on a machine. */
  timing(machine: string): TimingMemory {
    if (this.timings.machine !== machine) this.timings = { machine, memory: new TimingMemory() };
    return this.timings.memory;
  }

  sweep(): void {
    this.waits.sweep(3000);
    this.homings.sweep(100);
    this.parts.sweep(20);
    this.tools.sweep(200);
    this.holdings.sweep(20);
    this.pieces.sweep(20);
    this.moved.sweep(3000);
    this.movedHoldings.sweep(400);
    this.movedEvents.sweep(3000);
    this.plans.sweep(3000);
    this.seconds.sweep(200);
    this.checks.sweep(3000);
    this.loads.sweep(3000);
    this.ends.sweep(50);
  }
}

/** A part made from its document, with all that is read from it. */
export const seenPart = (document: Job['part'], units: Job['units']): SeenPart => {
  const drawn = buildPart(document, units);
  const part = document.aim === 'middle' ? buildPart(aimedAtMiddle(document, drawn), units) : drawn;
  return { part, names: dimensionNames(document.dimensions, units), roughness: roughnessOf(document, drawn) };
};

const roughnessOf = (document: Job['part'], part: Part): ReadonlyMap<string, number> => {
  const result = new Map<string, number>();
  if (!Object.values(document.notes ?? {}).some((n) => n.roughness !== null)) return result;
  for (const f of listFeatures(document, part)) {
    if (f.note.roughness === null) continue;
    for (const e of f.elements) result.set(e, Math.min(result.get(e) ?? Number.POSITIVE_INFINITY, f.note.roughness));
  }
  return result;
};
