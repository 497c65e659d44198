import { distance, line, type Point, point } from '../../../geometry';
import { compensate } from './compensation';
import type { ContourStep } from './cycles';
import { Slides } from './slides';
import type { Block } from './words';

/** Contours that are run as a whole: between G41/G42 and G40, and those that a cycle names by its first and last block. */
export class Contours extends Slides {
  /** Runs the contour collected since G41/G42. */
  protected flush(): void {
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
    if (!start.rapid) this.feed = start.feed;
    if (start.rapid) this.rapidTo(entry, start.line);
    else this.cut(line(this.at, entry), start.line);
    this.cutCentrePath(made.path, made.sources, steps);
  }

  /** Blocks named by P and Q as curves from a start; the first block only approaches. */
  protected contour(
    b: Block,
    i: number,
    start: Point,
    behind: boolean,
    across: 'X' | 'Z' | null = 'X',
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
        const strays = across === 'X' ? next.x - start.x : across === 'Z' ? next.y - start.y : 0;
        if (behind && Math.abs(strays) > 1e-9)
          this.complain(
            k.line,
            `The contour’s first block moves in ${across === 'X' ? 'Z' : 'X'}. Let it move in ${across} only.`,
          );
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
}
