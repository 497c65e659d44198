import { arc, type Curve, distance, line, type Point, point } from '../../geometry';
import type { Feed, MotionEvent, SpindleSpeed } from '../../motion';
import { compensate } from './compensation';
import { type Block, type ReadProblem, readBlocks } from './words';

/** What the control's tool table holds for an offset: nose radius and where the programmed tip lies from its centre, in radii. */
export interface ToolTableEntry {
  readonly noseRadius: number;
  readonly tip: Point;
}

export interface ReaderSettings {
  readonly toolTable: ReadonlyMap<number, ToolTableEntry>;
  readonly channels: readonly string[];
  readonly carrier: string;
  readonly spindle: string;
  /** The control's own setting for pecks, mm. */
  readonly peckClearance: number;
  /** Base number of wait codes. */
  readonly waitBase: number;
}

export interface ReadProgram {
  readonly events: readonly MotionEvent[];
  /** Line of the text that made each event. */
  readonly lines: readonly number[];
  readonly problems: readonly ReadProblem[];
}

interface ContourStep {
  readonly curve: Curve;
  readonly line: number;
}

/** Interprets a program of the Tarn family: X as diameter, U/W, G96/G97, G70/G71 in two blocks, G83, G41/G42. */
export const readProgram = (text: string, settings: ReaderSettings): ReadProgram =>
  new Interpreter(text, settings).run();

const known = new Set([
  0, 1, 2, 3, 4, 18, 21, 32, 40, 41, 42, 50, 54, 55, 56, 57, 58, 59, 70, 71, 80, 83, 96, 97, 98, 99,
]);

class Interpreter {
  private readonly blocks: Block[];
  private readonly problems: ReadProblem[];
  private readonly events: MotionEvent[] = [];
  private readonly lines: number[] = [];
  /** Programmed tip: x = Z, y = radius. */
  private at: Point = point(0, 0);
  private placed = false;
  private motion = 0;
  private feedMode: 'perRev' | 'perMin' = 'perRev';
  private feed = 0;
  private surface = false;
  private speed = 0;
  private clamp = Infinity;
  private offset = 0;
  private side: 0 | 1 | -1 = 0;
  private pending: ContourStep[] = [];
  private pendingStart: { from: Point; line: number; rapid: boolean } | null = null;
  private roughing: { depth: number; retract: number } | null = null;
  private contourPoint: Point = point(0, 0);

  constructor(
    text: string,
    private readonly settings: ReaderSettings,
  ) {
    const read = readBlocks(text);
    this.blocks = read.blocks;
    this.problems = read.problems;
  }

  run(): ReadProgram {
    let i = 0;
    while (i < this.blocks.length) i = this.block(i);
    if (this.side !== 0)
      this.complain(
        this.blocks[this.blocks.length - 1]?.line ?? 0,
        'The compensation is never cancelled. Add G40 to the block that leaves the contour.',
      );
    return { events: this.events, lines: this.lines, problems: this.problems };
  }

  private complain(at: number, message: string): void {
    this.problems.push({ line: at, message });
  }

  private emit(event: Record<string, unknown>, at: number): void {
    this.events.push({ op: String(at), purpose: 'cut', ...event } as unknown as MotionEvent);
    this.lines.push(at);
  }

  private tip(): ToolTableEntry {
    return this.settings.toolTable.get(this.offset) ?? { noseRadius: 0, tip: point(0, 0) };
  }

  private feedValue(): Feed {
    return { mode: this.feedMode, value: this.feed };
  }

  private rapidTo(to: Point, at: number): void {
    this.emit({ kind: 'rapid', to: { X: to.y, Z: to.x } }, at);
    this.at = to;
    this.placed = true;
  }

  private cut(c: Curve, at: number): void {
    if (c.kind === 'line') this.emit({ kind: 'feed', to: { X: c.to.y, Z: c.to.x }, feed: this.feedValue() }, at);
    else
      this.emit(
        {
          kind: 'arc',
          to: { X: c.to.y, Z: c.to.x },
          centre: { X: c.centre.y, Z: c.centre.x },
          clockwise: c.clockwise,
          plane: 'ZX',
          feed: this.feedValue(),
        },
        at,
      );
    this.at = c.to;
  }

  /** A centre path as tip moves. */
  private cutCentrePath(path: readonly Curve[], lines: readonly number[]): void {
    const t = this.tip();
    const dx = t.tip.x * t.noseRadius;
    const dy = t.tip.y * t.noseRadius;
    const move = (p: Point): Point => point(p.x + dx, p.y + dy);
    path.forEach((c, i) => {
      const at = lines[Math.min(i, lines.length - 1)];
      this.cut(
        c.kind === 'line' ? line(move(c.from), move(c.to)) : arc(move(c.from), move(c.to), move(c.centre), c.clockwise),
        at,
      );
    });
  }

  private block(i: number): number {
    const b = this.blocks[i];
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const codes = b.words.filter((w) => w.letter === 'G').map((w) => w.value);
    for (const g of codes)
      if (!known.has(g))
        this.complain(b.line, `G${g} is not known to this reader. Remove it or read the program with another dialect.`);
    for (const w of b.words)
      if (!'GXZUWIKRFSTMNOPQ'.includes(w.letter))
        this.complain(b.line, `The word ${w.letter} is not known to this reader.`);

    if (codes.includes(71)) {
      if (get('P') === undefined) {
        this.roughing = { depth: get('U') ?? 0, retract: get('R') ?? 0 };
        return i + 1;
      }
      return this.roughingCycle(i);
    }
    if (codes.includes(70)) return this.finishingCycle(i);
    if (codes.includes(83)) {
      this.peckCycle(b);
      return i + 1;
    }
    if (codes.includes(50)) {
      this.clamp = get('S') ?? this.clamp;
      return i + 1;
    }
    if (codes.includes(4)) {
      const p = get('P');
      this.emit({ kind: 'dwell', seconds: p !== undefined ? p / 1000 : (get('X') ?? get('U') ?? 0) }, b.line);
      return i + 1;
    }
    for (const g of codes) {
      if (g === 0 || g === 1 || g === 2 || g === 3 || g === 32) this.motion = g;
      if (g === 96) this.surface = true;
      if (g === 97) this.surface = false;
      if (g === 98) this.feedMode = 'perMin';
      if (g === 99) this.feedMode = 'perRev';
      if (g >= 54 && g <= 59) this.emit({ kind: 'work-offset', code: `G${g}` }, b.line);
    }
    if (get('F') !== undefined) this.feed = get('F') as number;
    if (get('S') !== undefined) this.speed = get('S') as number;
    const T = get('T');
    if (T !== undefined) {
      if (this.side !== 0) this.complain(b.line, 'The tool is changed while compensation is on. Put G40 before it.');
      this.offset = T % 100;
      this.emit(
        {
          kind: 'tool',
          carrier: this.settings.carrier,
          station: Math.floor(T / 100),
          offset: this.offset,
          tool: `T${Math.floor(T / 100)}`,
        },
        b.line,
      );
      if (!this.settings.toolTable.has(this.offset))
        this.complain(b.line, `Offset ${this.offset} is not in the tool table. Enter its nose radius and tip number.`);
    }
    for (const w of b.words.filter((k) => k.letter === 'M')) this.miscellaneous(w.value, b, get('P'));
    this.move(b, codes);
    return i + 1;
  }

  private miscellaneous(code: number, b: Block, p: number | undefined): void {
    const speed: SpindleSpeed = this.surface
      ? { mode: 'surface', value: this.speed, clamp: this.clamp }
      : { mode: 'fixed', value: this.speed };
    if (code === 3 || code === 4 || code === 5)
      this.emit(
        {
          kind: 'spindle',
          spindle: this.settings.spindle,
          direction: code === 3 ? 'forward' : code === 4 ? 'reverse' : 'stop',
          speed,
        },
        b.line,
      );
    else if (code === 8 || code === 9) this.emit({ kind: 'coolant', on: code === 8 }, b.line);
    else if (code > this.settings.waitBase && code < this.settings.waitBase + 900) {
      const channels = this.settings.channels.filter((_, k) => ((p ?? 0) & (1 << k)) !== 0);
      this.emit({ kind: 'wait', mark: code - this.settings.waitBase, channels: [...channels].sort() }, b.line);
    } else if (code !== 30 && code !== 2 && code !== 0 && code !== 1)
      this.complain(b.line, `M${code} is not known to this reader.`);
  }

  /** Target of a block from a given place: X and U on diameter, Z and W. */
  private target(b: Block, from: Point): Point | null {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const X = get('X');
    const U = get('U');
    const Z = get('Z');
    const W = get('W');
    if (X === undefined && U === undefined && Z === undefined && W === undefined) return null;
    return point(Z ?? from.x + (W ?? 0), X !== undefined ? X / 2 : from.y + (U ?? 0) / 2);
  }

  private curveOf(b: Block, motion: number, from: Point, to: Point): Curve {
    if (motion !== 2 && motion !== 3) return line(from, to);
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const R = get('R');
    const clockwise = motion === 2;
    if (R !== undefined) {
      const d = distance(from, to);
      const h = Math.sqrt(Math.max(0, R * R - (d * d) / 4)) * (R < 0 ? -1 : 1) * (clockwise ? -1 : 1);
      const ux = (to.x - from.x) / d;
      const uy = (to.y - from.y) / d;
      return arc(from, to, point((from.x + to.x) / 2 - uy * h, (from.y + to.y) / 2 + ux * h), clockwise);
    }
    const centre = point(from.x + (get('K') ?? 0), from.y + (get('I') ?? 0));
    const mismatch = Math.abs(distance(from, centre) - distance(to, centre));
    if (mismatch > 0.005)
      this.complain(b.line, `The arc’s end is ${mismatch.toFixed(4)} mm off its circle. Check I and K.`);
    // like a control, keep both ends and let the centre give way by the rounding of the words
    const l2 = (to.x - from.x) ** 2 + (to.y - from.y) ** 2;
    const t =
      ((centre.x - (from.x + to.x) / 2) * (to.x - from.x) + (centre.y - (from.y + to.y) / 2) * (to.y - from.y)) / l2;
    return arc(from, to, point(centre.x - (to.x - from.x) * t, centre.y - (to.y - from.y) * t), clockwise);
  }

  private move(b: Block, codes: readonly number[]): void {
    const starts = codes.includes(41) ? 1 : codes.includes(42) ? -1 : 0;
    const cancels = codes.includes(40);
    if (starts !== 0) {
      const to = this.target(b, this.at);
      if (!to || (this.motion !== 0 && this.motion !== 1)) {
        this.complain(
          b.line,
          'Compensation is switched on in a block without straight movement. Put it in the approach.',
        );
        return;
      }
      this.side = starts;
      this.pendingStart = { from: this.at, line: b.line, rapid: this.motion === 0 };
      this.contourPoint = to;
      this.pending = [];
      return;
    }
    if (cancels && this.side !== 0) {
      this.flush();
      this.side = 0;
    }
    if (this.side !== 0) {
      const to = this.target(b, this.contourPoint);
      if (!to) return;
      if (this.motion === 0) {
        this.complain(b.line, 'A rapid stands between G41/G42 and G40. End the contour before it.');
        return;
      }
      this.pending.push({ curve: this.curveOf(b, this.motion, this.contourPoint, to), line: b.line });
      this.contourPoint = to;
      return;
    }
    const to = this.target(b, this.at);
    if (!to) return;
    if (this.motion === 0) {
      if (!this.placed || distance(to, this.at) > 1e-9) this.rapidTo(to, b.line);
      return;
    }
    if (this.motion === 32) {
      const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
      this.emit({ kind: 'thread', to: { X: to.y, Z: to.x }, lead: get('F') ?? 0, startAngle: 0 }, b.line);
      this.at = to;
      return;
    }
    if (this.feed <= 0) this.complain(b.line, 'There is no feed. Add F.');
    this.cut(this.curveOf(b, this.motion, this.at, to), b.line);
  }

  /** Runs the contour collected since G41/G42. */
  private flush(): void {
    if (!this.pendingStart || this.side === 0) return;
    const start = this.pendingStart;
    this.pendingStart = null;
    if (this.pending.length === 0) {
      this.complain(start.line, 'Nothing lies between G41/G42 and G40.');
      return;
    }
    const t = this.tip();
    const made = compensate(
      this.pending.map((p) => p.curve),
      t.noseRadius,
      this.side,
    );
    if (!made.ok) {
      this.complain(this.pending[made.index].line, `Compensation fails: ${made.message}.`);
      return;
    }
    const first = made.path[0].from;
    const entry = point(first.x + t.tip.x * t.noseRadius, first.y + t.tip.y * t.noseRadius);
    if (start.rapid) this.rapidTo(entry, start.line);
    else this.cut(line(this.at, entry), start.line);
    this.cutCentrePath(
      made.path,
      this.pending.map((p) => p.line),
    );
    this.pending = [];
  }

  /** Blocks named by P and Q as curves from a start; the first block only approaches. */
  private contour(
    b: Block,
    start: Point,
  ): { steps: ContourStep[]; first: Point; side: 0 | 1 | -1; end: number } | null {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const from = this.blocks.findIndex((k) => k.number === get('P'));
    const to = this.blocks.findIndex((k) => k.number === get('Q'));
    if (from < 0 || to < from) {
      this.complain(
        b.line,
        `The blocks N${get('P')} to N${get('Q')} are not there. Number the contour’s first and last block.`,
      );
      return null;
    }
    let motion = 0;
    let at = start;
    let side: 0 | 1 | -1 = 0;
    const steps: ContourStep[] = [];
    let first = start;
    for (let i = from; i <= to; i++) {
      const k = this.blocks[i];
      for (const w of k.words) {
        if (w.letter !== 'G') continue;
        if (w.value <= 3) motion = w.value;
        if (w.value === 41) side = 1;
        if (w.value === 42) side = -1;
      }
      const next = this.target(k, at);
      if (!next) continue;
      if (i === from) first = next;
      else steps.push({ curve: this.curveOf(k, motion, at, next), line: k.line });
      at = next;
    }
    return { steps, first, side, end: to };
  }

  private roughingCycle(i: number): number {
    const b = this.blocks[i];
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const made = this.contour(b, this.at);
    if (!made || !this.roughing || this.roughing.depth <= 0) {
      if (!this.roughing) this.complain(b.line, 'The first G71 block with depth and retract is missing.');
      return i + 1;
    }
    if (get('F') !== undefined) this.feed = get('F') as number;
    const start = this.at;
    const u = (get('U') ?? 0) / 2;
    const w = get('W') ?? 0;
    const inside = u < 0 || made.steps[made.steps.length - 1].curve.to.y < made.first.y;
    const sign = inside ? -1 : 1;
    const shift = (p: Point): Point => point(p.x + w, p.y + u);
    const moved = made.steps.map((s) => ({
      line: s.line,
      curve:
        s.curve.kind === 'line'
          ? line(shift(s.curve.from), shift(s.curve.to))
          : arc(shift(s.curve.from), shift(s.curve.to), shift(s.curve.centre), s.curve.clockwise),
    }));
    const bottom = made.first.y + u;
    const { depth, retract } = this.roughing;
    for (let k = 1; k < 10_000; k++) {
      const x = start.y - sign * k * depth;
      if (sign * (x - bottom) <= 1e-9) break;
      const z = this.levelMeets(moved, x, sign);
      if (z === null) break;
      this.rapidTo(point(start.x, x), b.line);
      this.cut(line(this.at, point(z, x)), b.line);
      this.cut(line(this.at, point(z + retract, x + sign * retract)), b.line);
      this.rapidTo(point(start.x, this.at.y), b.line);
    }
    this.rapidTo(point(start.x, bottom), b.line);
    for (const s of moved)
      this.cut(s.curve.kind === 'line' ? line(this.at, s.curve.to) : { ...s.curve, from: this.at }, s.line);
    this.rapidTo(point(this.at.x, start.y), b.line);
    this.rapidTo(start, b.line);
    // the contour's blocks are not run again
    return made.end + 1;
  }

  /** Z at which a level cut coming from the front meets the steady contour. */
  private levelMeets(steps: readonly ContourStep[], x: number, sign: number): number | null {
    for (const { curve } of steps) {
      const a = sign * (curve.from.y - x);
      const c = sign * (curve.to.y - x);
      if (a <= 1e-9 && c >= -1e-9 && c - a > 1e-12) {
        if (curve.kind === 'line')
          return curve.from.x + ((curve.to.x - curve.from.x) * (x - curve.from.y)) / (curve.to.y - curve.from.y);
        const r = distance(curve.from, curve.centre);
        const dx = Math.sqrt(Math.max(0, r * r - (x - curve.centre.y) ** 2));
        const low = Math.min(curve.from.x, curve.to.x) - 1e-6;
        const high = Math.max(curve.from.x, curve.to.x) + 1e-6;
        const found = [curve.centre.x + dx, curve.centre.x - dx].find((z) => z >= low && z <= high);
        if (found !== undefined) return found;
      }
    }
    return null;
  }

  private finishingCycle(i: number): number {
    const b = this.blocks[i];
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const made = this.contour(b, this.at);
    if (!made) return i + 1;
    if (get('F') !== undefined) this.feed = get('F') as number;
    const start = this.at;
    if (made.side === 0) {
      this.rapidTo(made.first, b.line);
      for (const s of made.steps) this.cut(s.curve, s.line);
    } else {
      const t = this.tip();
      const comp = compensate(
        made.steps.map((s) => s.curve),
        t.noseRadius,
        made.side,
      );
      if (!comp.ok) {
        this.complain(made.steps[comp.index].line, `Compensation fails: ${comp.message}.`);
        return i + 1;
      }
      const first = comp.path[0].from;
      this.rapidTo(point(first.x + t.tip.x * t.noseRadius, first.y + t.tip.y * t.noseRadius), b.line);
      this.cutCentrePath(
        comp.path,
        made.steps.map((s) => s.line),
      );
    }
    this.rapidTo(point(this.at.x, start.y), b.line);
    this.rapidTo(start, b.line);
    return i + 1;
  }

  private peckCycle(b: Block): void {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const bottom = get('Z');
    if (bottom === undefined) {
      this.complain(b.line, 'G83 names no depth. Add Z.');
      return;
    }
    if (get('F') !== undefined) this.feed = get('F') as number;
    const level = this.at.x - (get('R') ?? 0);
    if (level !== this.at.x) this.rapidTo(point(level, this.at.y), b.line);
    const peck = (get('Q') ?? 0) / 1000;
    let z = level;
    while (z > bottom + 1e-9) {
      const next = peck > 0 ? Math.max(bottom, z - peck) : bottom;
      if (z < level) this.rapidTo(point(z + this.settings.peckClearance, this.at.y), b.line);
      this.cut(line(this.at, point(next, this.at.y)), b.line);
      if (next <= bottom + 1e-9 && get('P')) this.emit({ kind: 'dwell', seconds: (get('P') as number) / 1000 }, b.line);
      this.rapidTo(point(level, this.at.y), b.line);
      z = next;
    }
  }
}
