/** Something that stays together when an order is changed: one operation, or a group that is repeated. */
export interface Block {
  /** Tool with which it begins and ends; null where it takes none. */
  readonly first: string | null;
  readonly last: string | null;
}

export interface SearchJob {
  /** In the order in which they stand now. */
  readonly blocks: readonly Block[];
  /** For every block the blocks (by place in the list) that must stand before it. */
  readonly after: readonly ReadonlySet<number>[];
  /** Tool that is at work before the first. */
  readonly entry: string | null;
  /** s from one tool to another. */
  readonly change: (from: string | null, to: string) => number;
}

/** States that are kept at each step; with fewer the order found is the best there is. */
const WIDTH = 4000;
/** Blocks up to which all of that width is kept: beyond, it falls with the square of their number. */
const FULL = 40;

interface State {
  /** Blocks that are placed, a bit for each. */
  readonly set: bigint;
  readonly tool: string | null;
  readonly changes: number;
  /** Changes that it will have come to at the least. */
  readonly least: number;
  readonly seconds: number;
  /** Pairs that stand the other way round than now. */
  readonly turned: number;
  readonly before: State | null;
  readonly block: number;
}

/** Fewest changes in the end, then the shortest way of the carrier, then least turned round. */
const better = (a: State, b: State): number =>
  a.least - b.least || (Math.abs(a.seconds - b.seconds) > 1e-9 ? a.seconds - b.seconds : a.turned - b.turned);

/**
 * The order of blocks with the fewest tool changes that keeps what must stand before what: step by step, the best way to
 * every set of blocks and last tool. Gives the blocks by their place in the list now.
 */
export const fewestChanges = ({ blocks, after, entry, change }: SearchJob): number[] => {
  const n = blocks.length;
  const width = Math.max(40, Math.floor(n <= FULL ? WIDTH : (WIDTH * FULL * FULL) / (n * n)));
  const masks = after.map((s) => [...s].reduce((m, k) => m | (1n << BigInt(k)), 0n));
  const tools = [...new Set(blocks.flatMap((b) => (b.first === null ? [] : [b.first])))];
  const uses = tools.map((t) => blocks.reduce((m, b, k) => (b.first === t ? m | (1n << BigInt(k)) : m), 0n));
  /** Tools that are still to be turned in, the one at work left out. */
  const waiting = (set: bigint, tool: string | null): number =>
    tools.reduce((count, t, i) => (t !== tool && (uses[i] & ~set) !== 0n ? count + 1 : count), 0);
  const start = { set: 0n, tool: entry, changes: 0, least: 0, seconds: 0, turned: 0, before: null, block: -1 };
  let states: State[] = [start];
  for (let step = 0; step < n; step++) {
    const next = new Map<string, State>();
    for (const s of states) {
      const free = blocks.flatMap((_, k) => (s.set & (1n << BigInt(k)) ? [] : [k]));
      const may = (k: number): boolean => (masks[k] & s.set) === masks[k];
      // what the tool at work can do now costs nothing, and is never better done later
      const now = free.find(
        (k) => s.tool !== null && blocks[k].first === s.tool && blocks[k].last === s.tool && may(k),
      );
      for (const [overtaken, k] of free.entries()) {
        if (now === undefined ? !may(k) : k !== now) continue;
        const turned = s.turned + overtaken;
        const { first, last } = blocks[k];
        const turns = first !== null && first !== s.tool;
        const set = s.set | (1n << BigInt(k));
        const tool = last ?? s.tool;
        const changes = s.changes + (turns ? 1 : 0);
        const to: State = {
          set,
          tool,
          changes,
          least: changes + waiting(set, tool),
          seconds: s.seconds + (turns && first !== null ? change(s.tool, first) : 0),
          turned,
          before: s,
          block: k,
        };
        const key = `${to.set.toString(36)} ${to.tool}`;
        const known = next.get(key);
        if (!known || better(to, known) < 0) next.set(key, to);
      }
    }
    states = [...next.values()];
    if (states.length > width) states = states.sort(better).slice(0, width);
  }
  const found = states.reduce((a, b) => (better(b, a) < 0 ? b : a));
  const order: number[] = [];
  for (let s: State | null = found; s && s.block >= 0; s = s.before) order.unshift(s.block);
  return order;
};
