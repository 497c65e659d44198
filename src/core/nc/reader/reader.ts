import { arc, type Curve, distance, line, type Point, point } from '../../geometry';
import type { AxisName } from '../../machine';
import type { Feed, MotionEvent, SpindleSpeed } from '../../motion';
import { compensate } from './compensation';
import { type ContourStep, levelMeets, MOST_PASSES, movedContour, unsteadyAt } from './cycles';
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

/** Interprets a program of the Tarn family as docs/formats/nc-tarn.md describes it. */
export const readProgram = (text: string, settings: ReaderSettings): ReadProgram =>
  new Interpreter(text, settings).run();

const KNOWN_G = new Set([
  0, 1, 2, 3, 4, 18, 21, 28, 32, 40, 41, 42, 50, 54, 55, 56, 57, 58, 59, 70, 71, 80, 83, 96, 97, 98, 99,
]);
const LETTERS = 'GXZUWIKRFSTMNOPQYABC';
const LENGTHS = 'XZUWIKRF';
const TURNED: readonly AxisName[] = ['Y', 'A', 'B', 'C'];
/** Problems after which nothing more is told. */
const MOST_PROBLEMS = 200;

interface Canned {
  readonly depth: number;
  /** Z at which the feed begins. */
  readonly level: number;
  readonly peck: number;
  readonly dwell: number;
}

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
  private clamp = Number.POSITIVE_INFINITY;
  private turning: 'forward' | 'reverse' | 'stop' = 'stop';
  private workOffset: string | null = null;
  private offset = 0;
  private toolCalled = false;
  private side: 0 | 1 | -1 = 0;
  private pending: ContourStep[] = [];
  private pendingStart: { from: Point; line: number; rapid: boolean } | null = null;
  private roughing: { depth: number; retract: number } | null = null;
  private canned: Canned | null = null;
  private contourPoint: Point = point(0, 0);
  private ended = false;
  private standing = false;

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
    while (i < this.blocks.length && this.problems.length < MOST_PROBLEMS) {
      const next = this.block(i);
      if (next <= i) throw new Error('invariant: a program runs forward');
      i = next;
    }
    const last = this.blocks[this.blocks.length - 1]?.line ?? 0;
    if (this.side !== 0)
      this.complain(last, 'The compensation is never cancelled. Add G40 to the block that leaves the contour.');
    if (!this.ended && this.blocks.length > 0) this.complain(last, 'The program has no end. Add M30.');
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

  private rapidTo(to: Point, at: number, more: Record<string, number> = {}): void {
    this.emit({ kind: 'rapid', to: { X: to.y, Z: to.x, ...more } }, at);
    this.at = to;
    this.placed = true;
  }

  private cut(c: Curve, at: number, more: Record<string, number> = {}): void {
    if (this.feedMode === 'perRev' && this.turning === 'stop' && !this.standing) {
      this.standing = true;
      this.complain(at, 'The feed is per turn and the spindle stands. Put M3 or M4 before it.');
    }
    const feed = this.feedValue();
    const to = { X: c.to.y, Z: c.to.x, ...more };
    if (c.kind === 'line') this.emit({ kind: 'feed', to, feed }, at);
    else {
      const centre = { X: c.centre.y, Z: c.centre.x };
      this.emit({ kind: 'arc', to, centre, clockwise: c.clockwise, plane: 'ZX', feed }, at);
    }
    this.at = c.to;
    this.placed = true;
  }

  /** A nose centre path as tip moves, each with the line and feed of the contour block that made it. */
  private cutCentrePath(path: readonly Curve[], sources: readonly number[], steps: readonly ContourStep[]): void {
    const t = this.tip();
    const move = (p: Point): Point => point(p.x + t.tip.x * t.noseRadius, p.y + t.tip.y * t.noseRadius);
    path.forEach((c, i) => {
      const step = steps[sources[i]];
      if (step.feed !== null) this.feed = step.feed;
      const moved =
        c.kind === 'line' ? line(move(c.from), move(c.to)) : arc(move(c.from), move(c.to), move(c.centre), c.clockwise);
      this.cut(moved, step.line);
    });
  }

  /** Words that no control would take: told with their line; the block is still run as far as it makes sense. */
  private inspect(b: Block): void {
    const seen = new Set<string>();
    for (const w of b.words) {
      const { letter } = w;
      if (!LETTERS.includes(letter))
        this.complain(b.line, `The word ${letter} is not known to this reader. Remove it.`);
      if (seen.has(letter) && letter !== 'G' && letter !== 'M')
        this.complain(b.line, `The word ${letter} stands twice in one block. Keep one.`);
      seen.add(letter);
      if (Math.abs(w.value) > 99_999_999)
        this.complain(b.line, `The number behind ${letter} is too large for a control. Correct it.`);
      if (
        LENGTHS.includes(letter) &&
        !w.point &&
        w.value !== 0 &&
        !(letter === 'U' && b.words.some((k) => k.letter === 'G' && k.value === 4))
      )
        this.complain(
          b.line,
          `${letter}${w.value} has no decimal point: the control would read increments. Write ${letter}${w.value}.`,
        );
    }
    for (const [a, c] of [
      ['X', 'U'],
      ['Z', 'W'],
    ])
      if (seen.has(a) && seen.has(c) && !b.words.some((w) => w.letter === 'G' && w.value >= 70 && w.value <= 76))
        this.complain(b.line, `${a} and ${c} stand in one block. Name the place once.`);
  }

  /** Runs one block and gives the index of the next. */
  private block(i: number): number {
    const b = this.blocks[i];
    if (this.ended) {
      if (b.words.length > 0)
        this.complain(
          b.line,
          'This stands behind the end of the program and is never run. Remove it, or M30 before it.',
        );
      return i + 1;
    }
    this.inspect(b);
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const codes = b.words.filter((w) => w.letter === 'G').map((w) => w.value);
    for (const g of codes)
      if (!KNOWN_G.has(g))
        this.complain(b.line, `G${g} is not known to this reader. Remove it or read the program with another dialect.`);
    if (codes.includes(71)) {
      if (get('P') === undefined) {
        this.roughing = { depth: get('U') ?? 0, retract: get('R') ?? 0 };
        return i + 1;
      }
      return this.roughingCycle(i);
    }
    if (codes.includes(70)) {
      this.finishingCycle(b, i);
      return i + 1;
    }
    if (codes.includes(28)) {
      this.home(b);
      return i + 1;
    }
    if (codes.includes(4)) {
      const p = get('P');
      this.emit({ kind: 'dwell', seconds: p !== undefined ? p / 1000 : (get('X') ?? get('U') ?? 0) }, b.line);
      return i + 1;
    }
    if (get('F') !== undefined) this.feed = get('F') as number;
    this.modes(codes);
    this.spindleWords(b, codes);
    this.toolWord(b);
    for (const w of b.words) if (w.letter === 'M') this.miscellaneous(w.value, b, get('P'));
    if (codes.includes(83)) {
      this.peckCycle(b, null);
      return i + 1;
    }
    if (this.canned && (get('Z') !== undefined || get('X') !== undefined) && !codes.some((g) => g <= 3 || g === 32)) {
      this.peckCycle(b, this.canned);
      return i + 1;
    }
    for (const g of codes)
      if (g >= 54 && g <= 59) {
        this.workOffset = `G${g}`;
        this.emit({ kind: 'work-offset', code: `G${g}` }, b.line);
      }
    this.move(b, codes);
    return i + 1;
  }

  private modes(codes: readonly number[]): void {
    for (const g of codes) {
      if (g === 0 || g === 1 || g === 2 || g === 3 || g === 32) {
        this.motion = g;
        this.canned = null;
      }
      if (g === 80) this.canned = null;
      if (g === 98) this.feedMode = 'perMin';
      if (g === 99) this.feedMode = 'perRev';
    }
  }

  private home(b: Block): void {
    const axes: AxisName[] = [];
    if (b.words.some((w) => w.letter === 'U' || w.letter === 'X')) axes.push('X');
    if (b.words.some((w) => w.letter === 'W' || w.letter === 'Z')) axes.push('Z');
    if (axes.length === 0) this.complain(b.line, 'G28 names no axis. Write U0 or W0.');
    if (this.side !== 0) this.complain(b.line, 'The slides go home while compensation is on. Put G40 before it.');
    this.emit({ kind: 'home', axes }, b.line);
    this.placed = false;
  }

  /** Speed words act at once: on a running spindle each change is an event of its own. */
  private spindleWords(b: Block, codes: readonly number[]): void {
    const S = b.words.find((w) => w.letter === 'S')?.value;
    const before = this.speedKey();
    if (codes.includes(50)) {
      if (S !== undefined) this.clamp = S;
    } else if (S !== undefined) this.speed = S;
    if (codes.includes(96)) this.surface = true;
    if (codes.includes(97)) this.surface = false;
    const turn = b.words.find((w) => w.letter === 'M' && (w.value === 3 || w.value === 4 || w.value === 5))?.value;
    if (turn !== undefined) this.turning = turn === 3 ? 'forward' : turn === 4 ? 'reverse' : 'stop';
    if (turn === undefined && (this.turning === 'stop' || this.speedKey() === before)) return;
    if (this.turning !== 'stop' && this.speed <= 0) this.complain(b.line, 'The spindle has no speed. Add S.');
    this.emit(
      { kind: 'spindle', spindle: this.settings.spindle, direction: this.turning, speed: this.spindleSpeed() },
      b.line,
    );
  }

  private spindleSpeed(): SpindleSpeed {
    return this.surface
      ? { mode: 'surface', value: this.speed, clamp: this.clamp }
      : { mode: 'fixed', value: this.speed };
  }

  private speedKey(): string {
    return this.surface ? `s${this.speed}/${this.clamp}` : `n${this.speed}`;
  }

  private toolWord(b: Block): void {
    const T = b.words.find((w) => w.letter === 'T')?.value;
    if (T === undefined) return;
    if (this.side !== 0) this.complain(b.line, 'The tool is changed while compensation is on. Put G40 before it.');
    this.offset = T % 100;
    this.toolCalled = true;
    const station = Math.floor(T / 100);
    this.emit(
      { kind: 'tool', carrier: this.settings.carrier, station, offset: this.offset, tool: `T${station}` },
      b.line,
    );
    if (!this.settings.toolTable.has(this.offset))
      this.complain(b.line, `Offset ${this.offset} is not in the tool table. Enter its nose radius and tip number.`);
  }

  private miscellaneous(code: number, b: Block, p: number | undefined): void {
    if (code === 3 || code === 4 || code === 5) return;
    const { waitBase } = this.settings;
    if (code === 8 || code === 9) this.emit({ kind: 'coolant', on: code === 8 }, b.line);
    else if (code === 0 || code === 1) this.emit({ kind: 'stop', optional: code === 1 }, b.line);
    else if (code === 30 || code === 2) this.ended = true;
    else if (code > waitBase && code < waitBase + 900) {
      const channels = this.settings.channels.filter((_, k) => ((p ?? 0) & (1 << k)) !== 0);
      if (channels.length < 2)
        this.complain(b.line, `M${code} names fewer than two channels of this machine. Check P.`);
      this.emit({ kind: 'wait', mark: code - waitBase, channels: [...channels].sort() }, b.line);
    } else
      this.complain(
        b.line,
        `M${code} is not known to this reader. Remove it, or read the program with another dialect.`,
      );
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

  private others(b: Block): Record<string, number> {
    const result: Record<string, number> = {};
    for (const w of b.words) if ((TURNED as readonly string[]).includes(w.letter)) result[w.letter] = w.value;
    return result;
  }

  private curveOf(b: Block, motion: number, from: Point, to: Point): Curve {
    if (motion !== 2 && motion !== 3) return line(from, to);
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const R = get('R');
    const clockwise = motion === 2;
    const d = distance(from, to);
    if (d < 1e-9) {
      this.complain(b.line, 'The arc ends where it begins. Write a full circle as two arcs.');
      return line(from, to);
    }
    if (R !== undefined) {
      if (Math.abs(R) < d / 2 - 5e-4) {
        this.complain(
          b.line,
          `R${R} is too small for ends ${d.toFixed(3)} mm apart; it must be at least ${(d / 2).toFixed(3)}.`,
        );
        return line(from, to);
      }
      const h = Math.sqrt(Math.max(0, R * R - (d * d) / 4)) * (R < 0 ? -1 : 1) * (clockwise ? -1 : 1);
      const ux = (to.x - from.x) / d;
      const uy = (to.y - from.y) / d;
      return arc(from, to, point((from.x + to.x) / 2 - uy * h, (from.y + to.y) / 2 + ux * h), clockwise);
    }
    if (get('I') === undefined && get('K') === undefined) {
      this.complain(b.line, 'The arc has neither R nor I and K. Add its centre.');
      return line(from, to);
    }
    const centre = point(from.x + (get('K') ?? 0), from.y + (get('I') ?? 0));
    const mismatch = Math.abs(distance(from, centre) - distance(to, centre));
    if (mismatch > 0.005)
      this.complain(b.line, `The arc’s end is ${mismatch.toFixed(4)} mm off its circle. Check I and K.`);
    // like a control, keep both ends and let the centre give way by the rounding of the words
    const l2 = d * d;
    const t =
      ((centre.x - (from.x + to.x) / 2) * (to.x - from.x) + (centre.y - (from.y + to.y) / 2) * (to.y - from.y)) / l2;
    return arc(from, to, point(centre.x - (to.x - from.x) * t, centre.y - (to.y - from.y) * t), clockwise);
  }

  /** A place means nothing before tool and work offset are named, and a distance nothing before a place. */
  private known(b: Block): boolean {
    if (!this.toolCalled) this.complain(b.line, 'A place is named before any tool. Call the tool with T first.');
    else if (this.workOffset === null)
      this.complain(b.line, 'A place is named before its work offset. Put G54 (to G59) before it.');
    else if (!this.placed && b.words.some((w) => w.letter === 'U' || w.letter === 'W'))
      this.complain(b.line, 'U or W is named where the tool’s place is not known. Name X and Z first.');
    else return true;
    this.toolCalled = true;
    this.workOffset ??= '';
    return false;
  }

  private move(b: Block, codes: readonly number[]): void {
    const starts = codes.includes(41) ? 1 : codes.includes(42) ? -1 : 0;
    const cancels = codes.includes(40);
    const to = this.target(b, this.side !== 0 ? this.contourPoint : this.at);
    const others = this.others(b);
    if (to || Object.keys(others).length > 0) this.known(b);
    if (starts !== 0) {
      if (!to || (this.motion !== 0 && this.motion !== 1)) {
        this.complain(
          b.line,
          'Compensation is switched on in a block without straight movement. Put it in the approach.',
        );
        return;
      }
      if (this.side !== 0) this.complain(b.line, 'Compensation is switched on while it is on. Put G40 before it.');
      this.side = starts;
      this.pendingStart = { from: this.at, line: b.line, rapid: this.motion === 0 };
      this.contourPoint = to;
      this.pending = [];
      return;
    }
    if (cancels && this.side !== 0) {
      // the block that cancels ends uncompensated: `to` counts from the last contour point in both axes
      this.flush();
      this.side = 0;
    }
    if (this.side !== 0) {
      if (!to) return;
      if (this.motion === 0) {
        this.complain(b.line, 'A rapid stands between G41/G42 and G40. End the contour before it.');
        return;
      }
      if (this.feed <= 0) this.complain(b.line, 'There is no feed. Add F.');
      this.pending.push({ curve: this.curveOf(b, this.motion, this.contourPoint, to), line: b.line, feed: this.feed });
      this.contourPoint = to;
      return;
    }
    if (!to && Object.keys(others).length === 0) return;
    const end = to ?? this.at;
    if (this.motion === 0) {
      if (!this.placed || distance(end, this.at) > 1e-9 || Object.keys(others).length > 0)
        this.rapidTo(end, b.line, others);
      return;
    }
    if (this.motion === 32) {
      const lead = b.words.find((w) => w.letter === 'F')?.value ?? this.feed;
      if (lead <= 0) this.complain(b.line, 'The thread has no lead. Add F.');
      const startAngle = (b.words.find((w) => w.letter === 'Q')?.value ?? 0) / 1000;
      this.emit({ kind: 'thread', to: { X: end.y, Z: end.x }, lead, startAngle }, b.line);
      this.at = end;
      return;
    }
    if (this.feed <= 0) this.complain(b.line, 'There is no feed. Add F.');
    this.cut(this.curveOf(b, this.motion, this.at, end), b.line, others);
  }

  /** Runs the contour collected since G41/G42. */
  private flush(): void {
    if (!this.pendingStart || this.side === 0) return;
    const start = this.pendingStart;
    this.pendingStart = null;
    const steps = this.pending;
    this.pending = [];
    if (steps.length === 0) {
      this.complain(start.line, 'Nothing lies between G41/G42 and G40. Put the contour between them.');
      return;
    }
    const t = this.tip();
    const made = compensate(
      steps.map((p) => p.curve),
      t.noseRadius,
      this.side,
    );
    if (!made.ok) {
      this.complain(
        steps[made.index].line,
        `Compensation fails: ${made.message}. Take a smaller nose, or program the tip.`,
      );
      this.at = this.contourPoint;
      return;
    }
    const first = made.path[0].from;
    const entry = point(first.x + t.tip.x * t.noseRadius, first.y + t.tip.y * t.noseRadius);
    if (steps[0].feed !== null) this.feed = steps[0].feed;
    if (start.rapid) this.rapidTo(entry, start.line);
    else this.cut(line(this.at, entry), start.line);
    this.cutCentrePath(made.path, made.sources, steps);
  }

  /** Blocks named by P and Q as curves from a start; the first block only approaches. */
  private contour(
    b: Block,
    i: number,
    start: Point,
    behind: boolean,
  ): { steps: ContourStep[]; first: Point; side: 0 | 1 | -1; end: number } | null {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const P = get('P');
    const Q = get('Q');
    const named = (n: number | undefined): number[] =>
      this.blocks.flatMap((k, index) => (k.number === n && n !== undefined ? [index] : []));
    const [from, ...moreFrom] = named(P);
    const [to, ...moreTo] = named(Q);
    if (from === undefined || to === undefined || to < from) {
      this.complain(b.line, `The blocks N${P} to N${Q} are not there. Number the contour’s first and last block.`);
      return null;
    }
    if (moreFrom.length > 0 || moreTo.length > 0) {
      this.complain(b.line, `Two blocks are numbered N${moreFrom.length > 0 ? P : Q}. Number them apart.`);
      return null;
    }
    if (behind && from <= i) {
      this.complain(b.line, 'The contour stands before its cycle. Put its blocks behind.');
      return null;
    }
    let motion = 0;
    let at = start;
    let side: 0 | 1 | -1 = 0;
    let feed: number | null = null;
    const steps: ContourStep[] = [];
    let first = start;
    for (let n = from; n <= to; n++) {
      const k = this.blocks[n];
      if (behind) this.inspect(k);
      for (const w of k.words) {
        if (w.letter === 'F') feed = w.value;
        if (w.letter !== 'G') continue;
        if (w.value <= 3) motion = w.value;
        if (w.value === 41) side = 1;
        if (w.value === 42) side = -1;
        if (w.value === 40) side = 0;
      }
      const next = this.target(k, at);
      if (!next) continue;
      if (n === from) {
        first = next;
        if (behind && Math.abs(next.x - start.x) > 1e-9)
          this.complain(k.line, 'The contour’s first block moves in Z. Let it move in X only.');
      } else if (distance(at, next) > 1e-9)
        steps.push({ curve: this.curveOf(k, motion, at, next), line: k.line, feed });
      at = next;
    }
    if (steps.length === 0) {
      this.complain(b.line, `Nothing moves between N${P} and N${Q}. Put the contour between them.`);
      return null;
    }
    return { steps, first, side, end: to };
  }

  private roughingCycle(i: number): number {
    const b = this.blocks[i];
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const past = (end: number): number => Math.max(i + 1, end + 1);
    this.known(b);
    const made = this.contour(b, i, this.at, true);
    if (!made) return i + 1;
    const { roughing } = this;
    if (!roughing || roughing.depth <= 0 || roughing.retract < 0) {
      this.complain(
        b.line,
        'The first G71 block with a depth above 0 and a retract is missing. Add G71 U R before it.',
      );
      return past(made.end);
    }
    if (get('F') !== undefined) this.feed = get('F') as number;
    if (this.feed <= 0) this.complain(b.line, 'There is no feed. Add F.');
    const start = this.at;
    const u = (get('U') ?? 0) / 2;
    const w = get('W') ?? 0;
    const end = made.steps[made.steps.length - 1].curve.to;
    const sign: 1 | -1 = u < 0 || end.y < made.first.y ? -1 : 1;
    const unsteady = unsteadyAt(made.steps, sign);
    if (unsteady) {
      this.complain(
        unsteady.line,
        'The contour turns back in X or Z here, which G71 does not follow. Rough it with separate moves.',
      );
      return past(made.end);
    }
    const moved = movedContour(made.steps, w, u);
    const bottom = made.first.y + u;
    if ((sign * (start.y - bottom)) / roughing.depth > MOST_PASSES) {
      this.complain(b.line, `U${roughing.depth} would need more than ${MOST_PASSES} passes. Correct the depth.`);
      return past(made.end);
    }
    const contourEnd = moved[moved.length - 1].curve.to;
    for (let k = 1; ; k++) {
      const x = start.y - sign * k * roughing.depth;
      if (sign * (x - bottom) <= 1e-9) break;
      // a level above the contour's end runs as far as the end
      const z = levelMeets(moved, x, sign) ?? contourEnd.x;
      this.rapidTo(point(start.x, x), b.line);
      this.cut(line(this.at, point(z, x)), b.line);
      this.cut(line(this.at, point(z + roughing.retract, x + sign * roughing.retract)), b.line);
      this.rapidTo(point(start.x, this.at.y), b.line);
    }
    this.rapidTo(point(start.x, bottom), b.line);
    for (const s of moved)
      this.cut(s.curve.kind === 'line' ? line(this.at, s.curve.to) : { ...s.curve, from: this.at }, s.line);
    this.rapidTo(point(this.at.x, start.y), b.line);
    this.rapidTo(start, b.line);
    return past(made.end);
  }

  private finishingCycle(b: Block, i: number): void {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    this.known(b);
    const made = this.contour(b, i, this.at, false);
    if (!made) return;
    if (get('F') !== undefined) this.feed = get('F') as number;
    if (this.feed <= 0 && made.steps.some((s) => s.feed === null)) this.complain(b.line, 'There is no feed. Add F.');
    const start = this.at;
    const side = made.side !== 0 ? made.side : this.side;
    if (side === 0) {
      this.rapidTo(made.first, b.line);
      for (const s of made.steps) {
        if (s.feed !== null) this.feed = s.feed;
        this.cut(s.curve, s.line);
      }
    } else {
      const t = this.tip();
      const comp = compensate(
        made.steps.map((s) => s.curve),
        t.noseRadius,
        side,
      );
      if (!comp.ok) {
        this.complain(
          made.steps[comp.index].line,
          `Compensation fails: ${comp.message}. Take a smaller nose, or program the tip.`,
        );
        return;
      }
      const first = comp.path[0]?.from ?? made.first;
      this.rapidTo(point(first.x + t.tip.x * t.noseRadius, first.y + t.tip.y * t.noseRadius), b.line);
      this.cutCentrePath(comp.path, comp.sources, made.steps);
    }
    this.rapidTo(point(this.at.x, start.y), b.line);
    this.rapidTo(start, b.line);
    // compensation that began before the cycle has been used up by it
    this.side = 0;
    this.pendingStart = null;
    this.pending = [];
  }

  private peckCycle(b: Block, before: Canned | null): void {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    this.known(b);
    const X = get('X');
    if (X !== undefined) this.rapidTo(point(this.at.x, X / 2), b.line);
    const depth = get('Z') ?? before?.depth;
    if (depth === undefined) {
      this.complain(b.line, 'G83 names no depth. Add Z.');
      return;
    }
    if (this.feed <= 0) this.complain(b.line, 'There is no feed. Add F.');
    const canned: Canned = {
      depth,
      level: before ? before.level : this.at.x + (get('R') ?? 0),
      peck: get('Q') !== undefined ? (get('Q') as number) / 1000 : (before?.peck ?? 0),
      dwell: get('P') !== undefined ? (get('P') as number) / 1000 : (before?.dwell ?? 0),
    };
    this.canned = canned;
    const { level } = canned;
    if (depth > level) {
      this.complain(b.line, `The hole ends at Z${depth}, in front of its start at Z${level}. Check Z and R.`);
      return;
    }
    if (canned.peck > 0 && (level - depth) / canned.peck > MOST_PASSES) {
      this.complain(b.line, `Q${canned.peck * 1000} would need more than ${MOST_PASSES} pecks. Correct it.`);
      return;
    }
    if (level !== this.at.x) this.rapidTo(point(level, this.at.y), b.line);
    let z = level;
    while (z > depth + 1e-9) {
      const next = canned.peck > 0 ? Math.max(depth, z - canned.peck) : depth;
      if (z < level) this.rapidTo(point(z + this.settings.peckClearance, this.at.y), b.line);
      this.cut(line(this.at, point(next, this.at.y)), b.line);
      if (next <= depth + 1e-9 && canned.dwell > 0) this.emit({ kind: 'dwell', seconds: canned.dwell }, b.line);
      this.rapidTo(point(level, this.at.y), b.line);
      z = next;
    }
  }
}
