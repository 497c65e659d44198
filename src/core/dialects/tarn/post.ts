import type { AxisName } from '../../machine';
import type { ContourBlock, CycleSpec, MotionEvent, Position, SpindleSpeed } from '../../motion';
import { feedOf, isMove, type MoveEvent, mirroredEvent } from '../../motion';
import type { ChannelText, PostedLine, PostHead, PostProblem } from '../program';
import type { Dialect } from './data';
import { fromOwnZeros, zeroOf } from './places';
import { type Time, withSubPrograms } from './subPrograms';
import { deviceName, unsaid } from './unsaid';

/** Decimals of a thread's lead. */
const LEAD_DECIMALS = 6;
/** Largest number that a control's display and words hold, mm. */
const LARGEST = 99_999;
/** An arc between places nearer to each other than this is written as a line, in steps of the last decimal. */
const HAIR_STEPS = 2;

/** Comments may hold only what a control prints: capitals, digits and a few signs; brackets would end them. */
export const safeComment = (text: string, most: number): string =>
  text
    .normalize('NFKD')
    .replace(/⌀/g, 'DIA ')
    .replace(/°/g, ' DEG')
    .replace(/×/g, 'X')
    .replace(/[–—]/g, '-')
    .replace(/[^\x20-\x7e]/g, '')
    .replace(/[()%:;]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .toUpperCase()
    .slice(0, most);

/** Writes one channel's events as text. Modal words are left out where they have not changed. */
export const postChannel = (
  channel: string,
  events: readonly MotionEvent[],
  dialect: Dialect,
  head: PostHead,
  channels: readonly string[],
): ChannelText => {
  const once = new Writer(channel, dialect, head, channels, true).write(events);
  // what differs from time to time cannot be a sub-program: it is written out
  return once ?? (new Writer(channel, dialect, head, channels, false).write(events) as ChannelText);
};

const spindleKey = (s: SpindleSpeed): string => (s.mode === 'surface' ? `s${s.value}/${s.clamp}` : `n${s.value}`);

class Writer {
  private readonly lines: PostedLine[] = [];
  private readonly problems: PostProblem[] = [];
  private current: { op: string; event: number } = { op: '', event: 0 };
  private feedMode = '';
  private motion = '';
  private at: Partial<Record<AxisName, number>> = {};
  private feed = '';
  private op: string | null = null;
  private limit = '';
  private spindle = '';
  private block = 100;
  private readonly contours = new Map<string, { from: number; to: number }>();
  /** How far the program itself has moved the zero, mm. */
  private local = 0;
  private readonly times: Time[] = [];
  private now: { repeat: string; number: number } | null = null;
  /** Block number that every time of a repeat but the first begins its contours with. */
  private readonly firstBlock = new Map<string, number>();

  constructor(
    private readonly channel: string,
    private readonly dialect: Dialect,
    private readonly head: PostHead,
    private readonly channels: readonly string[],
    /** Repeats become sub-programs where they may. */
    private readonly subPrograms: boolean,
  ) {}

  /** Null where a sub-program would say another thing than one of its times. */
  write(asPlanned: readonly MotionEvent[]): ChannelText | null {
    // at a spindle that faces the main one the part's Z runs against the machine's
    const events = fromOwnZeros(asPlanned).map((e) => (this.head.turned(e.op) ? mirroredEvent(e, 'Z') : e));
    this.line('%');
    this.line(`O${String(this.head.programNumber).padStart(4, '0')}`);
    for (const c of this.head.comments) this.comment(c);
    this.line(`G18 G21 G40 ${this.dialect.feedPerRevCode}`);
    let index = 0;
    let operations = 0;
    while (index < events.length) {
      const e = events[index];
      if (e.op !== this.op) {
        operations++;
        this.endTime(e.op);
        this.op = e.op;
        this.localZero(events, index);
        this.beginTime(e.op);
        this.line('');
        this.lines.push({
          text: `N${operations} (${safeComment(this.head.operationComment(e.op), this.dialect.commentLength)})`,
          op: e.op,
          event: null,
        });
        this.line(`G40 ${this.dialect.feedPerRevCode} G18`);
        this.motion = '';
        this.feed = '';
        this.feedMode = this.dialect.feedPerRevCode;
        this.spindle = '';
        this.at = {};
      }
      this.current = { op: e.op, event: index };
      index = this.event(events, index);
    }
    this.endTime(null);
    this.op = null;
    if (this.local !== 0) this.line('G52 Z0.');
    this.line('');
    this.line(`${this.dialect.coolantOff} ${this.dialect.spindleStop}`);
    this.line(this.dialect.programEnd);
    this.line('%');
    const lines = this.subPrograms ? withSubPrograms(this.lines, this.times) : this.lines;
    return lines && { channel: this.channel, lines, problems: this.problems };
  }

  /** The program moves the zero itself, alone in a block, before the operations that count from there. */
  private localZero(events: readonly MotionEvent[], from: number): void {
    const zero = zeroOf(events, from);
    const wanted = zero?.local ? (zero.shift ?? 0) * (this.head.turned(zero.op) ? -1 : 1) : 0;
    if (wanted === this.local) return;
    this.local = wanted;
    this.line(`G52 Z${this.number(this.rounded(wanted))}`);
  }

  private beginTime(op: string): void {
    const sub = this.subPrograms ? this.head.subProgram(op) : null;
    if (!sub || this.now) return;
    // from the second on every time names its contours by the same block numbers; the first may be cut from other stock
    if (this.times.some((t) => t.repeat === sub.repeat)) {
      const block = this.firstBlock.get(sub.repeat);
      if (block === undefined) this.firstBlock.set(sub.repeat, this.block);
      else this.block = block;
    }
    this.now = sub;
    this.times.push({ repeat: sub.repeat, from: this.lines.length, to: this.lines.length });
  }

  /** A time ends where the next operation belongs to another one. */
  private endTime(next: string | null): void {
    if (!this.now) return;
    const sub = next === null ? null : this.head.subProgram(next);
    if (sub && sub.repeat === this.now.repeat && sub.number === this.now.number) return;
    this.times[this.times.length - 1].to = this.lines.length;
    this.now = null;
  }

  private line(text: string, event: number | null = null): void {
    this.lines.push({ text, op: this.op, event });
  }

  private comment(text: string): void {
    const safe = safeComment(text, this.dialect.commentLength);
    if (safe) this.line(`(${safe})`);
  }

  private refuse(what: string): void {
    if (!this.problems.some((p) => p.what === what && p.op === this.current.op))
      this.problems.push({ ...this.current, what });
  }

  private number(value: number): string {
    if (!Number.isFinite(value) || Math.abs(value) > LARGEST) {
      this.refuse(`the number ${value}`);
      return '0.';
    }
    const fixed = value.toFixed(this.dialect.decimals);
    const trimmed = fixed.replace(/0+$/, '');
    const cleaned = this.dialect.trailingPoint ? trimmed : trimmed.replace(/\.$/, '');
    return cleaned === '-0.' ? '0.' : cleaned === '-0' ? '0' : cleaned;
  }

  private rounded(value: number): number {
    return Number(value.toFixed(this.dialect.decimals));
  }

  /** X as diameter, Z, then what other axes the control has; only what changed. */
  private place(to: Position): string {
    const words: string[] = [];
    for (const axis of ['X', 'Z', 'Y', 'C', 'B', 'A'] as const) {
      const value = to[axis];
      if (value === undefined) continue;
      const next = this.rounded(axis === 'X' ? value * 2 : value);
      if (next === this.at[axis]) continue;
      if (!this.dialect.axes.includes(axis)) continue;
      words.push(`${axis}${this.number(next)}`);
      this.at = { ...this.at, [axis]: next };
    }
    return words.join(' ');
  }

  private mode(code: string): string {
    if (this.motion === code) return '';
    this.motion = code;
    return code;
  }

  /** F with its mode before it where that changes. */
  private feedWords(e: MoveEvent): string {
    const feed = feedOf(e);
    if (!feed) return '';
    const [code, value] =
      'perRev' in feed ? [this.dialect.feedPerRevCode, feed.perRev] : [this.dialect.feedPerMinCode, feed.perMin];
    const mode = code === this.feedMode ? '' : code;
    this.feedMode = code;
    return this.join(mode, this.feedWord(value, mode !== ''));
  }

  private feedWord(value: number, always = false): string {
    const word = this.wordF(value, 'feed', this.dialect.feedDecimals);
    if (word === this.feed && !always) return '';
    this.feed = word;
    return word;
  }

  /** A lead is counted finer than a feed: what is rounded off adds up over the thread. */
  private leadWord(value: number): string {
    return this.wordF(value, 'lead', LEAD_DECIMALS);
  }

  /** An F word to so many decimals. */
  private wordF(value: number, what: 'feed' | 'lead', decimals: number): string {
    if (!Number.isFinite(value) || value <= 0 || value > LARGEST) this.refuse(`the ${what} ${value}`);
    const text = String(Number(value.toFixed(decimals)));
    return `F${this.dialect.trailingPoint && !text.includes('.') ? `${text}.` : text}`;
  }

  private join(...words: string[]): string {
    return words.filter((w) => w !== '').join(' ');
  }

  /** Writes the event at `index` and gives the index of the next one. */
  private event(events: readonly MotionEvent[], index: number): number {
    const e = events[index];
    const missing = unsaid(e, this.dialect, this.head.spindle);
    if (missing) {
      this.refuse(missing);
      // of a move and a way home the axes that have words are said
      if (!isMove(e) && e.kind !== 'home') return index + 1;
    }
    switch (e.kind) {
      case 'rapid': {
        const place = this.place(e.to);
        if (place) this.line(this.join(this.mode('G0'), place), index);
        return index + 1;
      }
      case 'feed':
      case 'arc':
        this.cuttingMove(e, index);
        return index + 1;
      case 'thread':
        this.feed = '';
        this.line(
          this.join(
            'G32',
            this.place(e.to),
            this.leadWord(e.lead),
            e.startAngle ? `Q${Math.round(e.startAngle * 1000)}` : '',
          ),
          index,
        );
        this.motion = '';
        this.feed = '';
        return index + 1;
      case 'dwell':
        this.line(`G4 P${Math.round(e.seconds * 1000)}`, index);
        return index + 1;
      case 'spindle':
        this.spindleLines(e, index);
        return index + 1;
      case 'tool':
        if (![e.station, e.offset].every((n) => Number.isInteger(n) && n >= 1 && n <= 99))
          this.refuse(`station ${e.station} with offset ${e.offset}, for which T has two digits each`);
        this.line(`T${String(e.station).padStart(2, '0')}${String(e.offset).padStart(2, '0')}`, index);
        // slides stay where they are, but the new tool's tip is somewhere else
        this.at = {};
        return index + 1;
      case 'home':
        this.line(`G28 ${e.axes.map((a) => (a === 'X' ? 'U0.' : a === 'Z' ? 'W0.' : '')).join(' ')}`.trim(), index);
        this.at = {};
        return index + 1;
      case 'stop':
        this.line(e.optional ? this.dialect.optionalStop : this.dialect.stop, index);
        return index + 1;
      case 'slide':
        this.slide(e, index);
        return index + 1;
      case 'synchronise': {
        const { second } = this.dialect;
        if (second) this.line(e.on ? second.follow : second.leave, index);
        return index + 1;
      }
      case 'reload':
        if (!e.ends) {
          if (e.channels.length > 1) this.refuse('a stop for holding the work anew in several channels');
          this.line(`${this.dialect.coolantOff} ${this.dialect.spindleStop}`);
          this.comment(`hold the work anew ${this.head.holdingName(e.holding)}`);
          this.line(this.dialect.stop, index);
          this.at = {};
        }
        return index + 1;
      case 'remark':
        this.line(`(! ${e.text})`, index);
        return index + 1;
      case 'work-offset':
        this.line(e.code, index);
        return index + 1;
      case 'coolant':
        this.line(e.on ? this.dialect.coolantOn : this.dialect.coolantOff, index);
        return index + 1;
      case 'wait': {
        const mask = e.channels.reduce((sum, c) => sum + 2 ** this.channels.indexOf(c), 0);
        this.line(`M${this.dialect.wait.base + e.mark}${this.dialect.wait.mask ? ` P${mask}` : ''}`, index);
        return index + 1;
      }
      case 'device':
      case 'clamp':
        this.line(this.dialect.devices[deviceName(e)], index);
        return index + 1;
      case 'compensation':
        return e.side === 'off' ? index + 1 : this.compensated(events, index, e.side, e.contour);
      case 'cycle':
        return this.cycle(events, index, e.cycle);
      case 'cycle-end':
        return index + 1;
      default:
        return e satisfies never;
    }
  }

  /** The second spindle along its slide, alone in its block; a limited force stands around the move. */
  private slide(e: Extract<MotionEvent, { kind: 'slide' }>, index: number): void {
    const { second } = this.dialect;
    if (!second) return;
    const place = `${second.letter}${this.number(this.rounded(e.to))}`;
    if (e.limited) this.line(second.limit);
    if (e.feed === null) this.line(this.join(this.mode('G0'), place), index);
    else {
      this.feedMode = this.dialect.feedPerMinCode;
      this.line(this.join(this.feedMode, this.mode('G1'), place, this.feedWord(e.feed, true)), index);
    }
    if (e.limited) this.line(second.unlimit);
  }

  private cuttingMove(e: Extract<MotionEvent, { kind: 'feed' | 'arc' }>, index: number, prefix = ''): void {
    const start = { ...this.at };
    if (e.kind === 'feed') {
      if (
        e.purpose === 'lead-out' &&
        this.dialect.incrementalWords &&
        prefix === '' &&
        start.X !== undefined &&
        start.Z !== undefined
      ) {
        const X = e.to.X === undefined ? start.X : this.rounded(e.to.X * 2);
        const Z = e.to.Z === undefined ? start.Z : this.rounded(e.to.Z);
        const u = this.rounded(X - start.X);
        const w = this.rounded(Z - start.Z);
        this.at = { ...this.at, X, Z };
        const words = this.join(u !== 0 ? `U${this.number(u)}` : '', w !== 0 ? `W${this.number(w)}` : '');
        if (words) this.line(this.join(this.mode('G1'), words, this.feedWords(e)), index);
        return;
      }
      const place = this.place(e.to);
      if (place || prefix) this.line(this.join(prefix, this.mode('G1'), place, this.feedWords(e)), index);
      return;
    }
    const { X, Z } = e.to;
    if (
      e.plane !== 'ZX' ||
      X === undefined ||
      Z === undefined ||
      e.centre.X === undefined ||
      e.centre.Z === undefined
    ) {
      this.refuse(`an arc in the plane ${e.plane}`);
      return;
    }
    // rounded, a hair of an arc may run the other way: then the control would go almost all the way round
    if (start.X !== undefined && start.Z !== undefined && this.isHair(start.X / 2, start.Z, X, Z)) {
      const place = this.place({ X, Z });
      if (place) this.line(this.join(this.mode('G1'), place, this.feedWords(e)), index);
      return;
    }
    const arc = { X, Z, centreX: e.centre.X, centreZ: e.centre.Z, clockwise: e.clockwise };
    this.arcBlock(arc, start, this.feedWords(e), index);
  }

  /** Whether two places lie no further apart than a few of the smallest steps that a word can tell. */
  private isHair(x0: number, z0: number, x1: number, z1: number): boolean {
    return Math.hypot(x1 - x0, z1 - z0) < HAIR_STEPS * 10 ** -this.dialect.decimals;
  }

  private arcBlock(
    a: { X: number; Z: number; centreX: number; centreZ: number; clockwise: boolean },
    start: { readonly X?: number; readonly Z?: number },
    feed: string,
    index: number | null,
    number = '',
  ): void {
    if (start.X === undefined || start.Z === undefined) {
      this.refuse('an arc whose start is not known');
      return;
    }
    const i = a.centreX - start.X / 2;
    const k = a.centreZ - start.Z;
    const place = this.place(a);
    if (place)
      this.line(
        this.join(
          number,
          this.mode(a.clockwise ? 'G2' : 'G3'),
          place,
          `I${this.number(i)}`,
          `K${this.number(k)}`,
          feed,
        ),
        index,
      );
  }

  private spindleLines(e: Extract<MotionEvent, { kind: 'spindle' }>, index: number): void {
    const codes = this.dialect.spindleCodes[e.spindle] ?? {
      forward: this.dialect.spindleForward,
      reverse: this.dialect.spindleReverse,
      stop: this.dialect.spindleStop,
    };
    const direction = codes[e.direction];
    if (e.direction === 'stop') {
      // what turned before has to be said again
      this.spindle = '';
      this.line(direction, index);
      return;
    }
    const key = `${spindleKey(e.speed)}${direction}`;
    if (key === this.spindle) return;
    this.spindle = key;
    if (e.speed.mode === 'surface') {
      const limit = `${e.spindle} ${Math.round(e.speed.clamp)}`;
      // a speed that changes within a cut needs no new limit
      if (e.purpose !== 'cut' || limit !== this.limit)
        this.line(`${this.dialect.clampCode} S${Math.round(e.speed.clamp)}`, index);
      this.limit = limit;
      this.line(`G96 S${Math.round(e.speed.value)} ${direction}`, index);
    } else this.line(`G97 S${Math.round(e.speed.value)} ${direction}`, index);
  }

  /** Contour blocks between G41/G42 and G40 take the place of the tip moves up to the 'off' event. */
  private compensated(
    events: readonly MotionEvent[],
    index: number,
    side: 'left' | 'right',
    contour: readonly ContourBlock[],
  ): number {
    let end = index + 1;
    while (end < events.length && !(events[end].kind === 'compensation')) end++;
    const moves = events.slice(index + 1, end).map((e, i) => ({ e, i: index + 1 + i }));
    const cuts = moves.filter((m) => m.e.kind === 'feed' || m.e.kind === 'arc');
    const last = cuts[cuts.length - 1].e;
    const feed = last.kind === 'feed' || last.kind === 'arc' ? last.feed.value : 0;
    contour.forEach((b, i) => {
      // one contour block may stand for several moves (rolls round corners): point at the nearest one by share
      const event =
        cuts[
          Math.min(
            cuts.length - 1,
            i === 0 ? 0 : Math.max(1, Math.round((i / Math.max(1, contour.length - 1)) * (cuts.length - 1))),
          )
        ].i;
      if (i === 0) {
        const place = this.place(b);
        this.line(this.join(this.mode('G1'), side === 'left' ? 'G41' : 'G42', place, this.feedWord(feed)), event);
      } else this.contourBlock(b, b.feed ?? feed, event);
    });
    // the block that leaves the contour cancels the compensation
    let next = end + 1;
    while (next < events.length && !isMove(events[next])) next++;
    const out = events[next];
    if (out?.kind === 'feed') {
      this.at = {};
      this.cuttingMove({ ...out, purpose: 'cut' }, next, 'G40');
      return next + 1;
    }
    this.line('G40', end);
    return end + 1;
  }

  private contourBlock(b: ContourBlock, feed: number | null, event: number | null, number = ''): void {
    const start = { ...this.at };
    const word = feed === null ? '' : this.feedWord(feed);
    if (b.kind === 'line') {
      const place = this.place(b);
      if (place) this.line(this.join(number, this.mode('G1'), place, word), event);
    } else this.arcBlock(b, start, word, event, number);
  }

  /** A cycle's feed always stands in its block. */
  private cycleFeed(value: number): string {
    return this.feedWord(value, true);
  }

  private cycle(events: readonly MotionEvent[], index: number, cycle: CycleSpec): number {
    let end = index + 1;
    while (end < events.length && events[end].kind !== 'cycle-end') end++;
    if (cycle.kind === 'thread-passes' && this.dialect.cycles.threading !== null) {
      this.threadPasses(cycle, index);
      return end + 1;
    }
    if (cycle.kind === 'peck' && this.dialect.cycles.peck) {
      this.pecks(cycle, index, end);
      return end + 1;
    }
    if (cycle.kind === 'groove-pecks' && this.dialect.cycles.peck) {
      this.groovePecks(cycle, index);
      return end + 1;
    }
    if (cycle.kind === 'tap') {
      this.line(`G84 Z${this.number(this.rounded(cycle.depth))} R0. ${this.leadWord(cycle.lead)}`, index);
      this.motion = '';
      this.feed = '';
      return end + 1;
    }
    if (cycle.kind === 'thread' && this.dialect.cycles.threading !== null) {
      this.threadCycle(cycle, index);
      return end + 1;
    }
    if ((cycle.kind === 'rough-levels' || cycle.kind === 'rough-pattern') && this.dialect.cycles.roughing !== 'none') {
      this.roughingCycle(events, index, end, cycle);
      return end + 1;
    }
    if (cycle.kind === 'finish-contour') {
      const named = this.contours.get(contourText(cycle.contour));
      if (named) {
        this.line(`G70 P${named.from} Q${named.to} ${this.cycleFeed(cycle.feed)}`, index);
        this.line('G40');
        this.at = { ...this.at, X: this.rounded(cycle.start.X * 2), Z: this.rounded(cycle.start.Z) };
        this.motion = '';
        this.feed = '';
        return end + 1;
      }
    }
    return index + 1;
  }

  /** Says how far a cycle comes back after a peck; true where one block says all, and the way back is a setting of the control. */
  private returnAfterPeck(code: string, back: number, index: number): boolean {
    const { roughing, retract } = this.dialect.cycles;
    const one = roughing === 'one-block';
    if (!one) this.line(`${code} R${this.number(back)}`, index);
    else if (back !== retract) this.refuse(`a return of ${back} mm after a peck, for which the control has ${retract}`);
    return one;
  }

  /** G83 comes out of the hole after each peck, G74 only a little back. */
  private pecks(c: Extract<CycleSpec, { kind: 'peck' }>, index: number, end: number): void {
    if (c.back === null) {
      this.line(
        this.join(
          `G83 Z${this.number(c.depth)} R0.`,
          `Q${Math.round(c.peck * 1000)}`,
          c.dwell > 0 ? `P${Math.round(c.dwell * 1000)}` : '',
          this.cycleFeed(c.feed),
        ),
        index,
      );
      this.line('G80', end);
    } else {
      const one = this.returnAfterPeck('G74', c.back, index);
      const peck = one ? `K${this.number(c.peck)}` : `Q${Math.round(c.peck * 1000)}`;
      this.line(this.join(`G74 Z${this.number(c.depth)} ${peck}`, this.cycleFeed(c.feed)), index);
    }
    this.motion = '';
    this.feed = '';
  }

  /** G75, or G74 for plunges along Z: side by side; a single one names neither a step nor the place of the last. */
  private groovePecks(c: Extract<CycleSpec, { kind: 'groove-pecks' }>, index: number): void {
    const code = c.along === 'x' ? 'G75' : 'G74';
    const one = this.returnAfterPeck(code, c.back, index);
    const um = (v: number): string => String(Math.round(v * 1000));
    // the first letter goes with X, the second with Z, whichever of the two is the peck
    const [inX, inZ] = c.along === 'x' ? [c.peck, c.step] : [c.step, c.peck];
    const several = Math.abs(c.along === 'x' ? c.end.Z - c.start.Z : c.end.X - c.start.X) > 1e-9;
    const x = `X${this.number(this.rounded(c.end.X * 2))}`;
    const z = `Z${this.number(this.rounded(c.end.Z))}`;
    const words = [one ? `I${this.number(inX)}` : `P${um(inX)}`, one ? `K${this.number(inZ)}` : `Q${um(inZ)}`];
    const [only, peck] = c.along === 'x' ? [x, words[0]] : [z, words[1]];
    this.line(
      several
        ? this.join(code, x, z, ...words, this.cycleFeed(c.feed))
        : this.join(code, only, peck, this.cycleFeed(c.feed)),
      index,
    );
    this.motion = '';
    this.feed = '';
  }

  /** G92: one pass a block, X alone from the second on. */
  private threadPasses(c: Extract<CycleSpec, { kind: 'thread-passes' }>, index: number): void {
    const slope = Math.abs(c.taper) > 1e-9 ? `R${this.number(this.rounded(-c.taper))}` : '';
    c.passes.forEach((radius, i) => {
      const x = `X${this.number(this.rounded(radius * 2))}`;
      if (i > 0) this.line(x, index);
      else this.line(this.join('G92', x, `Z${this.number(this.rounded(c.endZ))}`, slope, this.leadWord(c.lead)), index);
    });
    this.at = { ...this.at, X: this.rounded(c.start.X * 2), Z: this.rounded(c.start.Z) };
    this.motion = '';
    this.feed = '';
  }

  /** G76 counts heights in whole µm where its head has two blocks, in mm where it has one. */
  private threadCycle(c: Extract<CycleSpec, { kind: 'thread' }>, index: number): void {
    const um = (v: number): string => String(Math.round(v * 1000));
    const two = (v: number): string => String(Math.round(v)).padStart(2, '0');
    const place = `X${this.number(this.rounded(c.end.X * 2))} Z${this.number(this.rounded(c.end.Z))}`;
    // the taper runs from the start to the end: their radii, the first less the last
    const slope = Math.abs(c.taper) > 1e-9 ? -c.taper : 0;
    if (this.dialect.cycles.threading === 'two-block') {
      const head = `P${two(c.springPasses + 1)}00${two(c.angle)}`;
      this.line(`G76 ${head} Q${um(c.least)} R${this.number(c.finish)}`, index);
      this.line(
        this.join(
          `G76 ${place}`,
          slope === 0 ? '' : `R${this.number(slope)}`,
          `P${um(c.height)} Q${um(c.first)}`,
          this.leadWord(c.lead),
        ),
        index,
      );
    } else
      this.line(
        this.join(
          `G76 ${place}`,
          slope === 0 ? '' : `I${this.number(slope)}`,
          `K${this.number(c.height)} D${this.number(c.first)} A${Math.round(c.angle)} P1`,
          this.leadWord(c.lead),
        ),
        index,
      );
    this.at = { ...this.at, X: this.rounded(c.start.X * 2), Z: this.rounded(c.start.Z) };
    this.motion = '';
    this.feed = '';
  }

  /** Code of a roughing cycle, what its first block says, and what it says in the one block of controls that have no other. */
  private roughingHead(
    c: Extract<CycleSpec, { kind: 'rough-levels' | 'rough-pattern' }>,
    oneBlock: boolean,
  ): { code: string; head: string; own: string } {
    if (c.kind === 'rough-pattern') {
      const [x, z] = [this.number(c.awayX), this.number(c.awayZ)];
      return { code: 'G73', head: `U${x} W${z} R${c.passes}`, own: oneBlock ? `I${x} K${z} D${c.passes}` : '' };
    }
    if (oneBlock && c.retract !== this.dialect.cycles.retract)
      this.refuse(`a retract of ${c.retract} mm in roughing, for which the control has ${this.dialect.cycles.retract}`);
    const depth = this.number(c.depth);
    return {
      code: c.along === 'z' ? 'G71' : 'G72',
      head: `${c.along === 'z' ? 'U' : 'W'}${depth} R${this.number(c.retract)}`,
      own: oneBlock ? `D${depth}` : '',
    };
  }

  private roughingCycle(
    events: readonly MotionEvent[],
    index: number,
    end: number,
    cycle: Extract<CycleSpec, { kind: 'rough-levels' | 'rough-pattern' }>,
  ): void {
    const key = contourText(cycle.contour);
    const finish = events
      .slice(end)
      .find((e) => e.kind === 'cycle' && e.cycle.kind === 'finish-contour' && contourText(e.cycle.contour) === key);
    const side = finish?.kind === 'cycle' && finish.cycle.kind === 'finish-contour' ? finish.cycle.side : null;
    const from = this.block;
    const to = this.block + cycle.contour.length - 1;
    this.block = to + 1;
    this.contours.set(key, { from, to });
    const oneBlock = this.dialect.cycles.roughing === 'one-block';
    const { code, head, own } = this.roughingHead(cycle, oneBlock);
    if (!oneBlock) this.line(`${code} ${head}`, index);
    this.line(
      this.join(
        `${code} P${from} Q${to} U${this.number(cycle.allowanceX * 2)} W${this.number(cycle.allowanceZ)}`,
        own,
        this.cycleFeed(cycle.feed),
      ),
      index,
    );
    const first = cycle.contour[0];
    const acrossX = cycle.kind === 'rough-pattern' || cycle.along === 'z';
    this.line(
      this.join(
        `N${from} G0`,
        side === 'left' ? 'G41' : side === 'right' ? 'G42' : '',
        acrossX ? `X${this.number(this.rounded(first.X * 2))}` : `Z${this.number(this.rounded(first.Z))}`,
      ),
      index,
    );
    this.at = {
      ...this.at,
      X: this.rounded((acrossX ? first.X : cycle.start.X) * 2),
      Z: this.rounded(acrossX ? cycle.start.Z : first.Z),
    };
    this.motion = 'G0';
    for (const [i, b] of cycle.contour.slice(1).entries()) this.contourBlock(b, null, index, `N${from + 1 + i}`);
    if (side) this.line('G40');
    this.at = { ...this.at, X: this.rounded(cycle.start.X * 2), Z: this.rounded(cycle.start.Z) };
    this.motion = '';
    this.feed = '';
  }
}

const contourText = (c: readonly ContourBlock[]): string =>
  JSON.stringify(c.map((b) => Object.values(b).map((v) => (typeof v === 'number' ? Number(v.toFixed(4)) : v))));
