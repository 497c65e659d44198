import { arc, type Curve, line, type Point, point } from '../../../geometry';
import { compensate } from './compensation';
import { Contours } from './contours';
import { levelMeets, MOST_PASSES, movedContour, unsteadyAt } from './cycles';
import type { Canned } from './slides';
import type { Block } from './words';

/** The control's cycles: roughing by levels, finishing a contour, pecks. */
export class Cycles extends Contours {
  /** Levels along Z (G71), or across it (G72): the same with the axes exchanged. */
  protected roughingCycle(i: number, across: boolean): number {
    const b = this.blocks[i];
    const code = across ? 'G72' : 'G71';
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const past = (end: number): number => Math.max(i + 1, end + 1);
    this.known(b);
    const made = this.contour(b, i, this.at, true, across ? 'Z' : 'X');
    if (!made) return i + 1;
    const { roughing } = this;
    if (!roughing || roughing.depth <= 0 || roughing.retract < 0) {
      this.complain(
        b.line,
        this.settings.roughing.head === 'one-block'
          ? `${code} names no depth of pass above 0. Add D to this block.`
          : `The first ${code} block with a depth above 0 and a retract is missing. Add ${code} ${across ? 'W' : 'U'} R before it.`,
      );
      return past(made.end);
    }
    if (get('F') !== undefined) this.feed = get('F') as number;
    if (this.feed <= 0) this.complain(b.line, 'There is no feed. Add F.');
    // seen with the passes along x, toward smaller ones: as it is, with the axes exchanged, or outward turned by a right angle
    const outward = across && (made.steps.at(-1)?.curve.to.y ?? 0) > this.at.y;
    const seen = (p: Point): Point => (outward ? point(-p.y, p.x) : across ? point(p.y, p.x) : p);
    const back = (p: Point): Point => (outward ? point(p.y, -p.x) : seen(p));
    const turned = (c: Curve, by: (p: Point) => Point): Curve =>
      c.kind === 'line'
        ? line(by(c.from), by(c.to))
        : arc(by(c.from), by(c.to), by(c.centre), across && !outward ? !c.clockwise : c.clockwise);
    const start = seen(this.at);
    const u = (get('U') ?? 0) / 2;
    const w = get('W') ?? 0;
    const steps = made.steps.map((s) => ({ ...s, curve: turned(s.curve, seen) }));
    const first = seen(made.first);
    const off = seen(point(w, u));
    const end = steps[steps.length - 1].curve.to;
    const inward = across ? start.y < first.y : u < 0 || end.y < first.y;
    const sign: 1 | -1 = inward ? -1 : 1;
    const unsteady = unsteadyAt(steps, sign);
    if (unsteady) {
      this.complain(
        unsteady.line,
        `The contour turns back in X or Z here, which ${code} does not follow. Rough it with separate moves.`,
      );
      return past(made.end);
    }
    const moved = movedContour(steps, off.x, off.y);
    const bottom = first.y + off.y;
    if ((sign * (start.y - bottom)) / roughing.depth > MOST_PASSES) {
      this.complain(
        b.line,
        `A depth of ${roughing.depth} would need more than ${MOST_PASSES} passes. Correct the depth.`,
      );
      return past(made.end);
    }
    const here = (): Point => seen(this.at);
    const rapid = (p: Point): void => this.rapidTo(back(p), b.line);
    const cut = (p: Point): void => this.cut(line(this.at, back(p)), b.line);
    const contourEnd = moved[moved.length - 1].curve.to;
    for (let k = 1; ; k++) {
      const level = start.y - sign * k * roughing.depth;
      if (sign * (level - bottom) <= 1e-9) break;
      // a level above the contour's end runs as far as the end
      const reached = levelMeets(moved, level, sign) ?? contourEnd.x;
      rapid(point(start.x, level));
      cut(point(reached, level));
      cut(point(reached + roughing.retract, level + sign * roughing.retract));
      rapid(point(start.x, here().y));
    }
    rapid(point(start.x, bottom));
    for (const s of moved) {
      const curve = turned(s.curve, back);
      this.cut(curve.kind === 'line' ? line(this.at, curve.to) : { ...curve, from: this.at }, s.line);
    }
    rapid(point(here().x, start.y));
    rapid(start);
    return past(made.end);
  }

  /** G73: the contour again and again, each time nearer, the start point moved with it. */
  protected patternCycle(i: number): number {
    const b = this.blocks[i];
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    this.known(b);
    const made = this.contour(b, i, this.at, true, null);
    if (!made) return i + 1;
    const past = Math.max(i + 1, made.end + 1);
    const { pattern } = this;
    if (!pattern || !Number.isInteger(pattern.passes) || pattern.passes < 1 || pattern.passes > MOST_PASSES) {
      this.complain(
        b.line,
        this.settings.roughing.head === 'one-block'
          ? 'G73 names no whole number of passes. Add D to this block.'
          : 'The first G73 block with its number of passes is missing. Add G73 U W R before it.',
      );
      return past;
    }
    if (get('F') !== undefined) this.feed = get('F') as number;
    if (this.feed <= 0) this.complain(b.line, 'There is no feed. Add F.');
    const start = this.at;
    const u = (get('U') ?? 0) / 2;
    const w = get('W') ?? 0;
    for (let k = 1; k <= pattern.passes; k++) {
      const share = pattern.passes === 1 ? 0 : (pattern.passes - k) / (pattern.passes - 1);
      const by = point(w + pattern.z * share, u + pattern.x * share);
      const moved = movedContour(made.steps, by.x, by.y);
      this.rapidTo(point(start.x + by.x, start.y + by.y), b.line);
      this.rapidTo(point(made.first.x + by.x, made.first.y + by.y), b.line);
      for (const s of moved)
        this.cut(s.curve.kind === 'line' ? line(this.at, s.curve.to) : { ...s.curve, from: this.at }, s.line);
      this.rapidTo(point(this.at.x, start.y + by.y), b.line);
      this.rapidTo(point(start.x + by.x, start.y + by.y), b.line);
    }
    this.rapidTo(start, b.line);
    return past;
  }

  protected finishingCycle(b: Block, i: number): void {
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
    // out of a contour whose first block moves along Z, as G72 has it, along Z, out of all others along X
    const across = made.first.y === start.y && made.first.x !== start.x;
    this.rapidTo(across ? point(start.x, this.at.y) : point(this.at.x, start.y), b.line);
    this.rapidTo(start, b.line);
    // compensation that began before the cycle has been used up by it
    this.side = 0;
    this.pendingStart = null;
    this.pending = [];
  }

  /** A thread wants one speed: with constant surface speed the passes would not meet. */
  protected steady(b: Block): void {
    if (this.surface)
      this.complain(b.line, 'The spindle has constant surface speed; a thread needs one speed. Write G97.');
    if (this.turning === 'stop') this.complain(b.line, 'The spindle stands still. Start it before the thread.');
  }

  /** Down in step with the spindle, the spindle reversed, and out again. */
  protected tapCycle(b: Block): void {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    this.known(b);
    this.steady(b);
    const [depth, lead] = [get('Z'), get('F') ?? 0];
    if (depth === undefined || !(lead > 0)) {
      this.complain(b.line, 'G84 needs its depth and its lead. Write Z and F.');
      return;
    }
    const level = this.at.x + (get('R') ?? 0);
    if (depth > level) {
      this.complain(b.line, `The hole ends at Z${depth}, in front of its start at Z${level}. Check Z and R.`);
      return;
    }
    if (level !== this.at.x) this.rapidTo(point(level, this.at.y), b.line);
    const there = this.turning;
    const speed = { mode: 'fixed', value: this.speed };
    const turn = (direction: 'forward' | 'reverse' | 'stop'): void =>
      this.emit({ kind: 'spindle', spindle: this.spindle, direction, speed }, b.line);
    this.emit({ kind: 'thread', to: { X: this.at.y, Z: depth }, lead, startAngle: 0 }, b.line);
    turn(there === 'forward' ? 'reverse' : 'forward');
    this.emit({ kind: 'thread', to: { X: this.at.y, Z: level }, lead, startAngle: 0 }, b.line);
    turn(there);
    this.at = point(level, this.at.y);
  }

  protected threadingCycle(b: Block): void {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const one = this.settings.threading === 'one-block';
    if (!one && get('X') === undefined && get('Z') === undefined) {
      const digits = Math.round(get('P') ?? -1);
      this.thread = {
        repeats: Math.floor(digits / 10_000),
        angle: digits % 100,
        least: (get('Q') ?? 0) / 1000,
        finish: get('R') ?? 0,
      };
      if (digits < 10_000 || Math.floor(digits / 100) % 100 !== 0)
        this.complain(b.line, 'The first G76 block names no six digits mm00aa with mm at least 01. Correct P.');
      return;
    }
    const head = one ? { repeats: 0, angle: get('A') ?? 0, least: 0.05, finish: 0 } : this.thread;
    const height = one ? (get('K') ?? 0) : (get('P') ?? 0) / 1000;
    const first = one ? (get('D') ?? 0) : (get('Q') ?? 0) / 1000;
    const lead = get('F') ?? 0;
    const [X, Z] = [get('X'), get('Z')];
    const wrong = !head
      ? 'The first G76 block is missing. Write G76 P Q R before it.'
      : X === undefined || Z === undefined
        ? 'G76 names no end. Write X and Z.'
        : !(height > 0) || !(first > 0) || !(lead > 0)
          ? `G76 needs a height, a first depth and a lead above 0. Write ${one ? 'K, D' : 'P, Q'} and F.`
          : ![0, 29, 30, 55, 60, 80].includes(head.angle)
            ? `G76 comes in at 0, 29, 30, 55, 60 or 80°, not at ${head.angle}°.`
            : height / Math.max(head.least, first / 200) > MOST_PASSES
              ? 'G76 would need too many passes. Correct its depths.'
              : null;
    if (wrong || !head || X === undefined || Z === undefined) {
      this.complain(b.line, wrong ?? 'G76 cannot be read.');
      return;
    }
    this.known(b);
    this.steady(b);
    const start = this.at;
    const end = point(Z, X / 2);
    const out = start.y > end.y ? 1 : -1;
    const slope = (one ? get('I') : get('R')) ?? 0;
    const depths: number[] = [];
    const rough = height - head.finish;
    for (let d = 0; d < rough - 1e-9 && depths.length < MOST_PASSES; ) {
      d = Math.min(rough, Math.max(first * Math.sqrt(depths.length + 1), d + head.least));
      depths.push(d);
    }
    for (let k = 0; k < head.repeats; k++) depths.push(height);
    for (const d of depths) {
      const shift = Math.sign(end.x - start.x) * d * Math.tan(((head.angle / 2) * Math.PI) / 180);
      const r = end.y + out * (height - d);
      this.rapidTo(point(start.x + shift, start.y), b.line);
      this.rapidTo(point(start.x + shift, r + slope), b.line);
      this.emit({ kind: 'thread', to: { X: r, Z: end.x }, lead, startAngle: 0 }, b.line);
      this.at = point(end.x, r);
      this.rapidTo(point(end.x, start.y), b.line);
      this.rapidTo(start, b.line);
    }
  }

  /** One pass of G92: to the depth, along in step, out, and back. */
  protected threadPass(b: Block): void {
    const { passes } = this;
    const X = b.words.find((w) => w.letter === 'X')?.value;
    if (!passes || X === undefined) return;
    this.known(b);
    this.steady(b);
    const start = this.at;
    this.rapidTo(point(start.x, X / 2 + passes.slope), b.line);
    this.emit({ kind: 'thread', to: { X: X / 2, Z: passes.z }, lead: passes.lead, startAngle: 0 }, b.line);
    this.at = point(passes.z, X / 2);
    this.rapidTo(point(passes.z, start.y), b.line);
    this.rapidTo(start, b.line);
  }

  /** G75: plunges side by side from the start toward Z, each peck by peck. */
  protected groovingCycle(b: Block): void {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const one = this.settings.roughing.head === 'one-block';
    const X = get('X');
    const Z = get('Z');
    if (!one && X === undefined && Z === undefined) {
      this.grooveReturn = get('R') ?? 0;
      return;
    }
    this.known(b);
    const start = this.at;
    const back = one ? this.settings.roughing.retract : this.grooveReturn;
    const peck = one ? (get('I') ?? 0) : (get('P') ?? 0) / 1000;
    const step = one ? (get('K') ?? 0) : (get('Q') ?? 0) / 1000;
    const away = Z === undefined ? 0 : Z - start.x;
    if (get('F') !== undefined) this.feed = get('F') as number;
    const count = step > 0 ? Math.abs(away) / step : 0;
    const wrong =
      X === undefined
        ? 'G75 names no depth. Write X.'
        : back === null
          ? 'The first G75 block with its return is missing. Write G75 R before it.'
          : !(peck > 0)
            ? `G75 needs a peck above 0. Write ${one ? 'I' : 'P'}.`
            : Math.abs(away) > 1e-9 && !(step > 0)
              ? `G75 needs a step above 0 on its way to Z. Write ${one ? 'K' : 'Q'}.`
              : back >= peck
                ? `G75 comes back by ${back} mm after a peck of ${peck} mm. Make the peck larger.`
                : count > MOST_PASSES || Math.abs(start.y - X / 2) / peck > MOST_PASSES
                  ? `It would need more than ${MOST_PASSES} plunges or pecks. Correct them.`
                  : this.feed <= 0
                    ? 'There is no feed. Add F.'
                    : null;
    if (wrong !== null || X === undefined || back === null) {
      this.complain(b.line, wrong ?? 'G75 cannot be read.');
      return;
    }
    this.plunges(b, 'x', X / 2, { away, named: true, peck, step, back });
    this.rapidTo(start, b.line);
  }

  /** G74: pecks along Z with a short way back each; with X side by side as far as there, as in a groove of a face. */
  protected breakingCycle(b: Block): void {
    const get = (letter: string): number | undefined => b.words.find((w) => w.letter === letter)?.value;
    const one = this.settings.roughing.head === 'one-block';
    const Z = get('Z');
    const X = get('X');
    if (!one && Z === undefined && X === undefined) {
      this.returns = get('R') ?? 0;
      return;
    }
    this.known(b);
    const back = one ? this.settings.roughing.retract : this.returns;
    const peck = one ? (get('K') ?? 0) : (get('Q') ?? 0) / 1000;
    const step = one ? (get('I') ?? 0) : (get('P') ?? 0) / 1000;
    if (get('F') !== undefined) this.feed = get('F') as number;
    const start = this.at;
    const away = X === undefined ? 0 : X / 2 - start.y;
    const wrong =
      Z === undefined
        ? 'G74 names no depth. Write Z.'
        : back === null
          ? 'The first G74 block with its return is missing. Write G74 R before it.'
          : !(peck > 0)
            ? `G74 needs a peck above 0. Write ${one ? 'K' : 'Q'}.`
            : Z > this.at.x
              ? `The hole ends at Z${Z}, in front of its start at Z${this.at.x}. Check Z.`
              : Math.abs(away) > 1e-9 && !(step > 0)
                ? `G74 needs a step above 0 on its way to X. Write ${one ? 'I' : 'P'}.`
                : (this.at.x - Z) / peck > MOST_PASSES || Math.abs(away) / (step || 1) > MOST_PASSES
                  ? `It would need more than ${MOST_PASSES} pecks. Correct them.`
                  : this.feed <= 0
                    ? 'There is no feed. Add F.'
                    : null;
    if (wrong !== null || Z === undefined || back === null) {
      this.complain(b.line, wrong ?? 'G74 cannot be read.');
      return;
    }
    this.plunges(b, 'z', Z, { away, named: X !== undefined, peck, step, back });
    if (X !== undefined) this.rapidTo(start, b.line);
  }

  /** Plunges from where the tool stands to `bottom` in one axis, at steps in the other until they are `away` from there, peck by peck. */
  private plunges(
    b: Block,
    along: 'x' | 'z',
    bottom: number,
    by: {
      readonly away: number;
      /** The program names where the last one is: each begins with a way there. */
      readonly named: boolean;
      readonly peck: number;
      readonly step: number;
      readonly back: number;
    },
  ): void {
    const [top, first] = along === 'x' ? [this.at.y, this.at.x] : [this.at.x, this.at.y];
    const at = (depth: number, place: number): Point => (along === 'x' ? point(place, depth) : point(depth, place));
    const way = Math.sign(bottom - top);
    for (let k = 0; ; k++) {
      const gone = Math.min(Math.abs(by.away), k * by.step);
      const place = first + Math.sign(by.away) * gone;
      if (by.named) this.rapidTo(at(top, place), b.line);
      for (let depth = top; way * (bottom - depth) > 1e-9; ) {
        depth = way * (bottom - depth) > by.peck + 1e-9 ? depth + way * by.peck : bottom;
        this.cut(line(this.at, at(depth, place)), b.line);
        if (way * (bottom - depth) > 1e-9) this.rapidTo(at(depth - way * by.back, place), b.line);
      }
      this.rapidTo(at(top, place), b.line);
      if (gone >= Math.abs(by.away) - 1e-9) return;
    }
  }

  protected peckCycle(b: Block, before: Canned | null): void {
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
