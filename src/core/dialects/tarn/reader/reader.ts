import { distance } from '../../../geometry';
import type { AxisName } from '../../../machine';
import type { SpindleSpeed } from '../../../motion';
import type { ReadProgram } from '../../program';
import { Cycles } from './cycleRuns';
import type { ReaderSettings } from './slides';
import type { Block } from './words';

export type { ReaderSettings } from './slides';

const KNOWN_G = new Set([
  0, 1, 2, 3, 4, 18, 21, 28, 32, 40, 41, 42, 50, 52, 54, 55, 56, 57, 58, 59, 70, 71, 72, 73, 74, 75, 76, 80, 83, 84, 92,
  96, 97, 98, 99,
]);
/** Sub-programs within one another. */
const MOST_CALLS = 4;
/** Blocks that are run at the most, those of sub-programs each time they are called. */
const MOST_BLOCKS = 3_000_000;
/** Problems after which nothing more is told. */
const MOST_PROBLEMS = 200;

/** The sub-program that a block calls, undefined for none. */
const calls = (b: Block): number | undefined =>
  b.words.some((w) => w.letter === 'M' && w.value === 98) ? b.words.find((w) => w.letter === 'P')?.value : undefined;

/** Interprets a program of the Tarn family as docs/formats/nc-tarn.md describes it. */
export const readProgram = (text: string, settings: ReaderSettings): ReadProgram =>
  new Interpreter(text, settings).run();

class Interpreter extends Cycles {
  private ended = false;

  /** Sub-programs behind the end: by number, the block of their O word and that of their M99. */
  private readonly subs = new Map<number, { from: number; to: number; called: boolean }>();
  private depth = 0;

  run(): ReadProgram {
    this.findSubs();
    if (this.countsToRun() > MOST_BLOCKS) {
      const first = this.blocks.find((b) => calls(b) !== undefined);
      this.complain(first?.line ?? 0, `The program runs more than ${MOST_BLOCKS} blocks. Check its sub-programs.`);
      return { events: this.events, lines: this.lines, problems: this.problems };
    }
    this.runBlocks(0, this.blocks.length);
    const last = this.blocks[this.blocks.length - 1]?.line ?? 0;
    if (this.side !== 0)
      this.complain(last, 'The compensation is never cancelled. Add G40 to the block that leaves the contour.');
    if (!this.ended && this.blocks.length > 0) this.complain(last, 'The program has no end. Add M30.');
    for (const [number, { from, called }] of this.subs)
      if (!called)
        this.complain(this.blocks[from].line, `Sub-program O${number} is never called. Remove it, or call it.`);
    return { events: this.events, lines: this.lines, problems: this.problems };
  }

  private runBlocks(from: number, to: number): void {
    let i = from;
    while (i < to && this.problems.length < MOST_PROBLEMS) {
      const sub = this.depth === 0 ? [...this.subs.values()].find((s) => s.from === i) : undefined;
      const next = sub ? sub.to + 1 : this.block(i);
      if (next <= i) throw new Error('invariant: a program runs forward');
      i = next;
    }
  }

  /** Blocks that a run goes through, those of sub-programs each time they are called: known before any is run. */
  private countsToRun(): number {
    const known = new Map<string, number>();
    const within = (from: number, to: number, depth: number): number => {
      let count = to - from;
      for (let i = from; i < to; i++) {
        const number = calls(this.blocks[i]);
        if (number !== undefined && depth < MOST_CALLS) count += ofSub(number, depth + 1);
      }
      return count;
    };
    const ofSub = (number: number, depth: number): number => {
      const sub = this.subs.get(number);
      const key = `${number}/${depth}`;
      const count = known.get(key) ?? (sub ? within(sub.from + 1, sub.to, depth) : 0);
      known.set(key, count);
      return count;
    };
    const own = [...this.subs.values()].reduce((sum, { from, to }) => sum - within(from, to + 1, 0), 0);
    return within(0, this.blocks.length, 0) + own;
  }

  /** Every O word but the first begins a sub-program, which its M99 ends. */
  private findSubs(): void {
    const numberOf = (b: Block): number | undefined => b.words.find((w) => w.letter === 'O')?.value;
    const begins = this.blocks.flatMap((b, i) => (numberOf(b) === undefined ? [] : [i])).slice(1);
    for (const from of begins) {
      const number = numberOf(this.blocks[from]) as number;
      const { line } = this.blocks[from];
      const to = this.blocks.findIndex((b, i) => i > from && b.words.some((w) => w.letter === 'M' && w.value === 99));
      if (to < 0 || begins.some((k) => k > from && k < to))
        this.complain(line, `Sub-program O${number} has no end. Add M99.`);
      else if (this.subs.has(number)) this.complain(line, `O${number} stands twice. Give one another number.`);
      else this.subs.set(number, { from, to, called: false });
    }
  }

  /** M98: runs a sub-program once, and goes on behind the call. */
  private call(b: Block, number: number | undefined): void {
    const sub = number === undefined ? undefined : this.subs.get(number);
    if (!sub) {
      this.complain(
        b.line,
        `M98 calls ${number === undefined ? 'nothing' : `O${number}, which is not there`}. Check P.`,
      );
      return;
    }
    if (this.depth >= MOST_CALLS) {
      this.complain(b.line, `Sub-programs call one another more than ${MOST_CALLS} deep. Check P.`);
      return;
    }
    sub.called = true;
    this.depth++;
    this.runBlocks(sub.from + 1, sub.to);
    this.depth--;
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
    if (b.remark !== undefined) {
      this.emit({ kind: 'remark', text: b.remark }, b.line);
      return i + 1;
    }
    this.inspect(b);
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const codes = b.words.filter((w) => w.letter === 'G').map((w) => w.value);
    for (const g of codes)
      if (!KNOWN_G.has(g))
        this.complain(b.line, `G${g} is not known to this reader. Remove it or read the program with another dialect.`);
      else if (this.settings.without.has(g))
        this.complain(b.line, `This control is set up without the cycle G${g}. Write its moves, or set it up with it.`);
    if (codes.includes(73)) {
      const one = this.settings.roughing.head === 'one-block';
      if (one) this.pattern = { x: get('I') ?? 0, z: get('K') ?? 0, passes: get('D') ?? 0 };
      if (!one && get('P') === undefined) {
        this.pattern = { x: get('U') ?? 0, z: get('W') ?? 0, passes: get('R') ?? 0 };
        return i + 1;
      }
      return this.patternCycle(i);
    }
    if (codes.includes(71) || codes.includes(72)) {
      const [code, deep] = codes.includes(71) ? ['G71', 'U'] : ['G72', 'W'];
      const { roughing } = this.settings;
      if (roughing.head === 'one-block') {
        this.roughing = { depth: get('D') ?? 0, retract: roughing.retract };
        if (get('P') === undefined || get('Q') === undefined) {
          this.complain(b.line, `${code} names no contour. Add P and Q, and the depth as D, to this one block.`);
          return i + 1;
        }
      } else if (get('P') === undefined) {
        this.roughing = { depth: get(deep) ?? 0, retract: get('R') ?? 0 };
        return i + 1;
      }
      return this.roughingCycle(i, code === 'G72');
    }
    if (codes.includes(70)) {
      this.finishingCycle(b, i);
      return i + 1;
    }
    if (codes.includes(74)) {
      this.breakingCycle(b);
      return i + 1;
    }
    if (codes.includes(75)) {
      this.groovingCycle(b);
      return i + 1;
    }
    if (codes.includes(76)) {
      this.threadingCycle(b);
      return i + 1;
    }
    if (codes.includes(52)) {
      const Z = get('Z');
      if (b.words.some((w) => 'XUW'.includes(w.letter)))
        this.complain(b.line, 'G52 moves the zero along Z only here. Leave the other words out.');
      if (Z === undefined) this.complain(b.line, 'G52 names no Z. Write G52 Z0. to end it.');
      else
        this.countFrom(() => {
          this.local = Z;
        });
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
    // the lead of a thread is no feed of later moves
    if (get('F') !== undefined && ![32, 84, 92].some((g) => codes.includes(g))) this.feed = get('F') as number;
    this.modes(codes);
    this.spindleWords(b, codes);
    this.toolWord(b);
    for (const w of b.words) if (w.letter === 'M') this.miscellaneous(w.value, b, get('P'));
    if (codes.includes(84)) {
      this.tapCycle(b);
      return i + 1;
    }
    if (codes.includes(92)) {
      this.passes = { z: get('Z') ?? this.at.x, slope: get('R') ?? 0, lead: get('F') ?? 0 };
      if (get('X') === undefined || get('Z') === undefined || !(this.passes.lead > 0)) {
        this.complain(b.line, 'G92 needs the end of the pass and the lead. Write X, Z and F.');
        return i + 1;
      }
      this.threadPass(b);
      return i + 1;
    }
    if (this.passes && get('X') !== undefined && !codes.some((g) => g <= 3 || g === 32)) {
      if (get('Z') !== undefined) this.passes = { ...this.passes, z: get('Z') as number };
      this.threadPass(b);
      return i + 1;
    }
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
        this.countFrom(() => {
          this.workOffset = `G${g}`;
        });
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
        this.passes = null;
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
    const turn = b.words.flatMap((w) => (w.letter === 'M' ? (this.settings.spindleCodes.get(w.value) ?? []) : []))[0];
    if (turn && turn.spindle !== this.spindle) this.command(turn.spindle);
    const before = this.speedKey();
    if (codes.includes(50)) {
      if (S !== undefined) this.clamp = S;
    } else if (S !== undefined) this.speed = S;
    if (codes.includes(96)) this.surface = true;
    if (codes.includes(97)) this.surface = false;
    if (turn !== undefined) this.turning = turn.turning;
    if (turn === undefined && (this.turning === 'stop' || this.speedKey() === before)) return;
    if (this.turning !== 'stop' && this.speed <= 0) this.complain(b.line, 'The spindle has no speed. Add S.');
    this.emit({ kind: 'spindle', spindle: this.spindle, direction: this.turning, speed: this.spindleSpeed() }, b.line);
  }

  /** Speed words go to another spindle from here on; what the last one was told stays with it. */
  private command(spindle: string): void {
    this.told.set(this.spindle, { surface: this.surface, speed: this.speed, turning: this.turning });
    const known = this.told.get(spindle);
    this.spindle = spindle;
    this.surface = known?.surface ?? false;
    this.speed = known?.speed ?? 0;
    this.turning = known?.turning ?? 'stop';
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
    const entry = this.settings.toolTable.get(this.offset);
    if (!entry)
      this.complain(b.line, `Offset ${this.offset} is not in the tool table. Enter its nose radius and tip number.`);
    else if (entry.station !== undefined && entry.station !== station)
      this.complain(
        b.line,
        `Offset ${this.offset} is that of the tool in station ${entry.station}, but station ${station} is called with it. Call the tool with an offset of its own.`,
      );
  }

  private miscellaneous(code: number, b: Block, p: number | undefined): void {
    const { waitBase, second, deviceCodes, spindleCodes } = this.settings;
    if (spindleCodes.has(code)) return;
    const device = deviceCodes.get(code);
    if (code === 98) {
      this.call(b, p);
      return;
    }
    if (code === 99) {
      this.complain(b.line, 'M99 ends a sub-program, and none is running. Use M30 to end the program.');
      return;
    }
    const { coolantOn, coolantOff, stop, optionalStop } = this.settings.codes;
    if (code === coolantOn || code === coolantOff) this.emit({ kind: 'coolant', on: code === coolantOn }, b.line);
    else if (code === stop || code === optionalStop)
      this.emit({ kind: 'stop', optional: code === optionalStop }, b.line);
    else if (code === 30 || code === 2) this.ended = true;
    else if (device) this.emit({ kind: 'device', ...device }, b.line);
    else if (second && (code === second.follow || code === second.leave))
      this.emit(
        { kind: 'synchronise', leader: this.settings.spindle, follower: second.spindle, on: code === second.follow },
        b.line,
      );
    else if (second && (code === second.limit || code === second.unlimit)) this.limited = code === second.limit;
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

  /** The second spindle along its slide: its letter stands alone with G0, or with G1 and a feed per minute. */
  private slide(b: Block, to: number): void {
    const { second } = this.settings;
    if (!second) return;
    if (b.words.some((w) => 'XZUWYC'.includes(w.letter)))
      this.complain(
        b.line,
        `${second.letter} stands in one block with a place of the tool. Give it a block of its own.`,
      );
    const fed = this.motion === 1;
    if (this.motion > 1) this.complain(b.line, `${second.letter} moves with G0 or G1 only.`);
    if (fed && (this.feedMode !== 'perMin' || this.feed <= 0))
      this.complain(b.line, `${second.letter} is fed per minute. Write G98 and F.`);
    this.emit(
      { kind: 'slide', spindle: second.spindle, to, feed: fed ? this.feed : null, limited: this.limited },
      b.line,
    );
  }

  private move(b: Block, codes: readonly number[]): void {
    const slide = this.settings.second && b.words.find((w) => w.letter === this.settings.second?.letter);
    if (slide) {
      this.slide(b, slide.value);
      return;
    }
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
      this.pendingStart = { from: this.at, line: b.line, rapid: this.motion === 0, feed: this.feed };
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
      const lead = b.words.find((w) => w.letter === 'F')?.value ?? 0;
      if (lead <= 0) this.complain(b.line, 'The thread has no lead. Add F.');
      this.steady(b);
      const startAngle = (b.words.find((w) => w.letter === 'Q')?.value ?? 0) / 1000;
      this.emit({ kind: 'thread', to: { X: end.y, Z: end.x }, lead, startAngle }, b.line);
      this.at = end;
      return;
    }
    if (this.feed <= 0) this.complain(b.line, 'There is no feed. Add F.');
    this.cut(this.curveOf(b, this.motion, this.at, end), b.line, others);
  }
}
