import { arc, type Curve, distance, line, type Point, point } from '../../../geometry';
import type { AxisName } from '../../../machine';
import type { Feed, MotionEvent } from '../../../motion';
import type { ControlSettings, ReadProblem, ToolTableEntry } from '../../program';
import type { ContourStep } from './cycles';
import { type Block, readBlocks } from './words';

/** Habits of the control that are numbers. */
export interface ReaderSettings extends ControlSettings {
  /** Codes M of the coolant and of stops. */
  readonly codes: {
    readonly coolantOn: number;
    readonly coolantOff: number;
    readonly stop: number;
    readonly optionalStop: number;
  };
  /** Base number of wait codes. */
  readonly waitBase: number;
  /** Codes M by number: which way they turn which spindle. */
  readonly spindleCodes: ReadonlyMap<
    number,
    { readonly spindle: string; readonly turning: 'forward' | 'reverse' | 'stop' }
  >;
  /** Codes M of devices. */
  readonly deviceCodes: ReadonlyMap<number, { readonly device: string; readonly action: string }>;
  /** The spindle that can follow the main one and has a slide, with its codes and letter. */
  readonly second: {
    readonly spindle: string;
    readonly follow: number;
    readonly leave: number;
    readonly letter: string;
    readonly limit: number;
    readonly unlimit: number;
  } | null;
  /** Whether the head of G76 has two blocks, or one. */
  readonly threading: 'two-block' | 'one-block';
  /** Whether depth and retract of G71 stand in a block of their own, or the depth in its one block; then the retract is the control's, mm. */
  readonly roughing: { readonly head: 'two-block' } | { readonly head: 'one-block'; readonly retract: number };
  /** Codes G of cycles that the control is set up without. */
  readonly without: ReadonlySet<number>;
}

const LETTERS = 'GXZUWIKRFSTMNOPQYABC';
const LENGTHS = 'XZUWIKRFD';
const TURNED: readonly AxisName[] = ['Y', 'A', 'B', 'C'];
export interface Canned {
  readonly depth: number;
  /** Z at which the feed begins. */
  readonly level: number;
  readonly peck: number;
  readonly dwell: number;
}

/** A move with its places along Z taken from another zero, or in the other direction; all other events stay. */
const alongZ = (e: MotionEvent, z: (v: number) => number, turns: boolean): MotionEvent => {
  if (e.kind !== 'rapid' && e.kind !== 'feed' && e.kind !== 'arc' && e.kind !== 'thread') return e;
  const place = <P extends { readonly Z?: number }>(p: P): P => (p.Z === undefined ? p : { ...p, Z: z(p.Z) });
  if (e.kind !== 'arc') return { ...e, to: place(e.to) };
  return { ...e, to: place(e.to), centre: place(e.centre), clockwise: e.clockwise !== turns };
};

/**
 * What a program says in the machine's directions, as the work in a spindle that faces the main one sees it: Z counts from
 * its zero away from its own chuck.
 */
const seenFromOtherSide = (e: MotionEvent): MotionEvent => alongZ(e, (v) => -v, true);

/** A move whose words count from a zero that lies along Z from the holding's. */
const fromZero = (e: MotionEvent, zero: number): MotionEvent => alongZ(e, (v) => v + zero, false);

/** The slides of one channel as the control has them: where they stand, what is modal, and how a block moves them. */
export class Slides {
  protected readonly blocks: Block[];
  protected readonly problems: ReadProblem[];
  protected readonly events: MotionEvent[] = [];
  protected readonly lines: number[] = [];
  /** Programmed tip: x = Z, y = radius. */
  protected at: Point = point(0, 0);
  protected placed = false;
  protected motion = 0;
  protected feedMode: 'perRev' | 'perMin' = 'perRev';
  protected feed = 0;
  protected surface = false;
  protected speed = 0;
  protected clamp = Number.POSITIVE_INFINITY;
  protected turning: 'forward' | 'reverse' | 'stop' = 'stop';
  /** The spindle that this channel commanded last, and what the others were told. */
  protected spindle: string;
  protected readonly told = new Map<
    string,
    { surface: boolean; speed: number; turning: 'forward' | 'reverse' | 'stop' }
  >();
  /** The slide of the second spindle pushes with limited force. */
  protected limited = false;
  protected workOffset: string | null = null;
  /** Z by which the program has moved its zero (G52), mm. */
  protected local = 0;
  protected offset = 0;
  protected toolCalled = false;
  protected standing = false;
  protected side: 0 | 1 | -1 = 0;
  protected pending: ContourStep[] = [];
  protected pendingStart: { from: Point; line: number; rapid: boolean; feed: number } | null = null;
  protected roughing: { depth: number; retract: number } | null = null;
  /** What the first block of G73 has said: how far the first pass lies off, as lengths, and how many there are. */
  protected pattern: { x: number; z: number; passes: number } | null = null;
  /** What the first block of G76 has said: lengths in mm. */
  protected thread: { repeats: number; angle: number; least: number; finish: number } | null = null;
  protected canned: Canned | null = null;
  /** How far G75 comes back after each peck, mm (radius): set by its first block, or a setting of the control. */
  protected grooveReturn: number | null = null;
  /** How far G74 comes back after each peck, mm: set by its first block, or a setting of the control. */
  protected returns: number | null = null;
  /** A threading pass that goes on with every further X: its end, slope and lead. */
  protected passes: { z: number; slope: number; lead: number } | null = null;
  protected contourPoint: Point = point(0, 0);

  constructor(
    text: string,
    protected readonly settings: ReaderSettings,
  ) {
    this.spindle = settings.spindle;
    const read = readBlocks(text);
    this.blocks = read.blocks;
    this.problems = read.problems;
  }

  private readonly said = new Set<string>();

  /** A line that is run again says the same only once. */
  protected complain(at: number, message: string): void {
    const key = `${at} ${message}`;
    if (this.said.has(key)) return;
    this.said.add(key);
    this.problems.push({ line: at, message });
  }

  protected emit(event: Record<string, unknown>, at: number): void {
    const made = { op: String(at), purpose: 'cut', ...event } as unknown as MotionEvent;
    const facing = this.workOffset !== null && this.settings.turnedZeros.has(this.workOffset);
    const zero = this.zeroAt();
    const own = zero === 0 ? made : fromZero(made, zero);
    this.events.push(facing ? seenFromOtherSide(own) : own);
    this.lines.push(at);
  }

  /** How far the zero that words count from lies along Z from the holding's: by its work offset, and as the program moved it. */
  protected zeroAt(): number {
    return this.local + (this.settings.zeroShifts?.get(this.workOffset ?? '') ?? 0);
  }

  /** Another zero is in force: the slides stay where they are. */
  protected countFrom(change: () => void): void {
    const before = this.zeroAt();
    change();
    this.at = point(this.at.x + before - this.zeroAt(), this.at.y);
  }

  protected tip(): ToolTableEntry {
    return this.settings.toolTable.get(this.offset) ?? { noseRadius: 0, tip: point(0, 0) };
  }

  protected feedValue(): Feed {
    return { mode: this.feedMode, value: this.feed };
  }

  protected rapidTo(to: Point, at: number, more: Record<string, number> = {}): void {
    this.emit({ kind: 'rapid', to: { X: to.y, Z: to.x, ...more } }, at);
    this.at = to;
    this.placed = true;
  }

  protected cut(c: Curve, at: number, more: Record<string, number> = {}): void {
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
  protected cutCentrePath(path: readonly Curve[], sources: readonly number[], steps: readonly ContourStep[]): void {
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
  protected inspect(b: Block): void {
    const seen = new Set<string>();
    for (const w of b.words) {
      const { letter } = w;
      if (!LETTERS.includes(letter) && !(letter === 'D' && this.settings.roughing.head === 'one-block'))
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
        !(b.words.some((k) => k.letter === 'G' && k.value === 73) && (letter === 'R' || letter === 'D')) &&
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

  /** Target of a block from a given place: X and U on diameter, Z and W. */
  protected target(b: Block, from: Point): Point | null {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const X = get('X');
    const U = get('U');
    const Z = get('Z');
    const W = get('W');
    if (X === undefined && U === undefined && Z === undefined && W === undefined) return null;
    return point(Z ?? from.x + (W ?? 0), X !== undefined ? X / 2 : from.y + (U ?? 0) / 2);
  }

  protected others(b: Block): Record<string, number> {
    const result: Record<string, number> = {};
    for (const w of b.words) if ((TURNED as readonly string[]).includes(w.letter)) result[w.letter] = w.value;
    return result;
  }

  protected curveOf(b: Block, motion: number, from: Point, to: Point): Curve {
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
  protected known(b: Block): boolean {
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
}
