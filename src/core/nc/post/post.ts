import type { ContourBlock, CycleSpec, MotionEvent, Position, SpindleSpeed } from '../../motion';
import { isMove } from '../../motion';
import type { Dialect } from '../dialects/dialect';

export interface PostedLine {
  readonly text: string;
  /** Operation that the line belongs to; null for head and foot. */
  readonly op: string | null;
  /** Index of the event in the channel that the line carries out; null for comments and settings of several. */
  readonly event: number | null;
}

export interface PostedProgram {
  readonly channel: string;
  readonly lines: readonly PostedLine[];
}

export interface PostHead {
  readonly programNumber: number;
  readonly comments: readonly string[];
  /** Comment before each operation. */
  readonly operationComment: (op: string) => string;
}

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
): PostedProgram => new Writer(channel, dialect, head, channels).write(events);

const spindleKey = (s: SpindleSpeed): string => (s.mode === 'surface' ? `s${s.value}/${s.clamp}` : `n${s.value}`);

class Writer {
  private readonly lines: PostedLine[] = [];
  private motion = '';
  private at: { X?: number; Z?: number } = {};
  private feed = '';
  private op: string | null = null;
  private spindle = '';
  private block = 100;
  private readonly contours = new Map<string, { from: number; to: number }>();

  constructor(
    private readonly channel: string,
    private readonly dialect: Dialect,
    private readonly head: PostHead,
    private readonly channels: readonly string[],
  ) {}

  write(events: readonly MotionEvent[]): PostedProgram {
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
        this.op = e.op;
        this.line('');
        this.lines.push({
          text: `N${operations} (${safeComment(this.head.operationComment(e.op), this.dialect.commentLength)})`,
          op: e.op,
          event: null,
        });
        this.line(`G40 ${this.dialect.feedPerRevCode} G18`);
        this.motion = '';
        this.feed = '';
        this.spindle = '';
        this.at = {};
      }
      index = this.event(events, index);
    }
    this.op = null;
    this.line('');
    this.line(`${this.dialect.coolantOff} ${this.dialect.spindleStop}`);
    this.line(this.dialect.programEnd);
    this.line('%');
    return { channel: this.channel, lines: this.lines };
  }

  private line(text: string, event: number | null = null): void {
    this.lines.push({ text, op: this.op, event });
  }

  private comment(text: string): void {
    const safe = safeComment(text, this.dialect.commentLength);
    if (safe) this.line(`(${safe})`);
  }

  private number(value: number): string {
    const fixed = value.toFixed(this.dialect.decimals);
    const trimmed = fixed.replace(/0+$/, '');
    const cleaned = this.dialect.trailingPoint ? trimmed : trimmed.replace(/\.$/, '');
    return cleaned === '-0.' ? '0.' : cleaned === '-0' ? '0' : cleaned;
  }

  private rounded(value: number): number {
    return Number(value.toFixed(this.dialect.decimals));
  }

  /** X as diameter, Z; only what changed, and always something. */
  private place(to: Position): string {
    const words: string[] = [];
    const X = to.X === undefined ? this.at.X : this.rounded(to.X * 2);
    const Z = to.Z === undefined ? this.at.Z : this.rounded(to.Z);
    if (X !== undefined && X !== this.at.X) words.push(`X${this.number(X)}`);
    if (Z !== undefined && Z !== this.at.Z) words.push(`Z${this.number(Z)}`);
    this.at = { X, Z };
    return words.join(' ');
  }

  private mode(code: string): string {
    if (this.motion === code) return '';
    this.motion = code;
    return code;
  }

  private feedWord(value: number): string {
    const word = `F${Number(value.toFixed(this.dialect.feedDecimals))}`;
    if (word === this.feed) return '';
    this.feed = word;
    return word;
  }

  private join(...words: string[]): string {
    return words.filter((w) => w !== '').join(' ');
  }

  /** Writes the event at `index` and gives the index of the next one. */
  private event(events: readonly MotionEvent[], index: number): number {
    const e = events[index];
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
        this.line(this.join('G32', this.place(e.to), `F${Number(e.lead.toFixed(4))}`), index);
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
        this.line(`T${String(e.station).padStart(2, '0')}${String(e.offset).padStart(2, '0')}`, index);
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
        this.comment(e.kind === 'device' ? `${e.device} ${e.action}` : `${e.axis} ${e.on ? 'clamp' : 'free'}`);
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
        const X = this.rounded((e.to.X ?? 0) * 2);
        const Z = this.rounded(e.to.Z ?? 0);
        const u = this.rounded(X - start.X);
        const w = this.rounded(Z - start.Z);
        this.at = { X, Z };
        const words = this.join(u !== 0 ? `U${this.number(u)}` : '', w !== 0 ? `W${this.number(w)}` : '');
        if (words) this.line(this.join(this.mode('G1'), words, this.feedWord(e.feed.value)), index);
        return;
      }
      const place = this.place(e.to);
      if (place || prefix) this.line(this.join(prefix, this.mode('G1'), place, this.feedWord(e.feed.value)), index);
      return;
    }
    this.arcBlock(
      { X: e.to.X ?? 0, Z: e.to.Z ?? 0, centreX: e.centre.X ?? 0, centreZ: e.centre.Z ?? 0, clockwise: e.clockwise },
      start,
      this.feedWord(e.feed.value),
      index,
    );
  }

  private arcBlock(
    a: { X: number; Z: number; centreX: number; centreZ: number; clockwise: boolean },
    start: { X?: number; Z?: number },
    feed: string,
    index: number | null,
    number = '',
  ): void {
    const i = a.centreX - (start.X ?? 0) / 2;
    const k = a.centreZ - (start.Z ?? 0);
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
    const direction =
      e.direction === 'forward'
        ? this.dialect.spindleForward
        : e.direction === 'reverse'
          ? this.dialect.spindleReverse
          : this.dialect.spindleStop;
    if (e.direction === 'stop') {
      this.line(direction, index);
      return;
    }
    const key = `${spindleKey(e.speed)}${direction}`;
    if (key === this.spindle) return;
    this.spindle = key;
    if (e.speed.mode === 'surface') {
      this.line(`${this.dialect.clampCode} S${Math.round(e.speed.clamp)}`, index);
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
    const feedOf = (e: MotionEvent): number => (e.kind === 'feed' || e.kind === 'arc' ? e.feed.value : 0);
    const cuts = moves.filter((m) => m.e.kind === 'feed' || m.e.kind === 'arc');
    const feed = feedOf(cuts[cuts.length - 1].e);
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
      } else this.contourBlock(b, feed, event);
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

  private cycle(events: readonly MotionEvent[], index: number, cycle: CycleSpec): number {
    let end = index + 1;
    while (end < events.length && events[end].kind !== 'cycle-end') end++;
    if (cycle.kind === 'peck' && this.dialect.cycles.peck) {
      this.line(
        this.join(
          `G83 Z${this.number(cycle.depth)} R0.`,
          `Q${Math.round(cycle.peck * 1000)}`,
          cycle.dwell > 0 ? `P${Math.round(cycle.dwell * 1000)}` : '',
          `F${Number(cycle.feed.toFixed(this.dialect.feedDecimals))}`,
        ),
        index,
      );
      this.line('G80', end);
      this.motion = '';
      this.feed = '';
      return end + 1;
    }
    if (cycle.kind === 'rough-along-z' && this.dialect.cycles.roughing === 'two-block') {
      this.roughingCycle(events, index, end, cycle);
      return end + 1;
    }
    if (cycle.kind === 'finish-contour') {
      const named = this.contours.get(contourText(cycle.contour));
      if (named) {
        this.line(`G70 P${named.from} Q${named.to} F${Number(cycle.feed.toFixed(this.dialect.feedDecimals))}`, index);
        this.line('G40');
        this.at = { X: this.rounded(cycle.start.X * 2), Z: this.rounded(cycle.start.Z) };
        this.motion = '';
        this.feed = '';
        return end + 1;
      }
    }
    return index + 1;
  }

  private roughingCycle(
    events: readonly MotionEvent[],
    index: number,
    end: number,
    cycle: Extract<CycleSpec, { kind: 'rough-along-z' }>,
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
    this.line(`G71 U${this.number(cycle.depth)} R${this.number(cycle.retract)}`, index);
    this.line(
      `G71 P${from} Q${to} U${this.number(cycle.allowanceX * 2)} W${this.number(cycle.allowanceZ)} F${Number(cycle.feed.toFixed(this.dialect.feedDecimals))}`,
      index,
    );
    const first = cycle.contour[0];
    this.line(
      this.join(
        `N${from} G0`,
        side === 'left' ? 'G41' : side === 'right' ? 'G42' : '',
        `X${this.number(this.rounded(first.X * 2))}`,
      ),
      index,
    );
    this.at = { X: this.rounded(first.X * 2), Z: this.rounded(cycle.start.Z) };
    this.motion = 'G0';
    for (const [i, b] of cycle.contour.slice(1).entries()) this.contourBlock(b, null, index, `N${from + 1 + i}`);
    if (side) this.line('G40');
    this.at = { X: this.rounded(cycle.start.X * 2), Z: this.rounded(cycle.start.Z) };
    this.motion = '';
    this.feed = '';
  }
}

const contourText = (c: readonly ContourBlock[]): string =>
  JSON.stringify(c.map((b) => Object.values(b).map((v) => (typeof v === 'number' ? Number(v.toFixed(4)) : v))));
