import { type LowerSide, type Stretch, sideHeight } from './outline';
import type { Point } from './point';
import { FLAT, Polyline, splicePolyline, topSides, upperLine, VOID } from './polyline';
import type { Region } from './region';
import { bottomOf, type Placed, Tops } from './tops';

export { VOID } from './polyline';

/** Room in which a cut is worked out, used again by the next. */
const CUT = new Polyline();
const JOINED = new Polyline();
const KEPT: number[] = [];

/**
 * The top of metal seen from above: a height for every x. What lies hidden under an overhang counts as metal. The top of a
 * region is exact; cutting with a convex shape lowers it to the shape's lower side.
 */
export class Surface {
  constructor(
    private xs: number[],
    private ys: number[],
  ) {}

  /** Changed stretches of x since the surface was made, merged and rising. */
  private readonly changed: { from: number; to: number }[] = [];
  /** Area taken off so far, mm². */
  removed = 0;

  static empty(): Surface {
    return new Surface([], []);
  }

  /** The top of a region. */
  static of(region: Region): Surface {
    const line = upperLine(topSides(region));
    return new Surface(line.xs, line.ys);
  }

  /** Whether another surface has the same lists: they are copied before the first change. */
  private shared = false;

  /** The same line, of which no stretch counts as changed yet. */
  fresh(): Surface {
    const copy = new Surface(this.xs, this.ys);
    copy.putBack(this);
    return copy;
  }

  clone(): Surface {
    const copy = this.fresh();
    for (const c of this.changed) copy.changed.push({ ...c });
    return copy;
  }

  /** Takes back the line of a copy, and keeps in mind where it was changed. */
  putBack(copy: Surface): void {
    this.xs = copy.xs;
    this.ys = copy.ys;
    this.tops = copy.tops;
    this.removed = copy.removed;
    this.shared = true;
    copy.shared = true;
  }

  /** Takes over the state of a copy that was made before. */
  restore(copy: Surface): void {
    this.putBack(copy);
    this.changed.splice(0, this.changed.length, ...copy.changed.map((c) => ({ ...c })));
  }

  private own(): void {
    if (!this.shared) return;
    this.xs = this.xs.slice();
    this.ys = this.ys.slice();
    this.tops = this.tops?.clone() ?? null;
    this.shared = false;
  }

  /** The line with another's heights over a stretch. */
  replaced(other: Surface, from: number, to: number): Surface {
    const xs: number[] = [];
    const ys: number[] = [];
    const put = (x: number, y: number): void => {
      xs.push(x);
      ys.push(y);
    };
    for (let i = 0; i < this.xs.length && this.xs[i] < from - 1e-9; i++) put(this.xs[i], this.ys[i]);
    if (this.left < from - 1e-9) put(from, this.heightAt(from, -1));
    put(from, other.heightAt(from, 1));
    for (let i = other.lower(from + 1e-9); i < other.xs.length && other.xs[i] < to - 1e-9; i++)
      put(other.xs[i], other.ys[i]);
    put(to, other.heightAt(to, -1));
    if (this.right > to + 1e-9) put(to, this.heightAt(to, 1));
    for (let i = this.lower(to + 1e-9); i < this.xs.length; i++) put(this.xs[i], this.ys[i]);
    return new Surface(xs, ys);
  }

  /** The part to the right of a place. */
  from(x: number): Surface {
    if (this.isEmpty || x <= this.left) return this;
    if (x >= this.right) return Surface.empty();
    const i = this.lower(x + 1e-9);
    return new Surface([x, ...this.xs.slice(i)], [this.heightAt(x, 1), ...this.ys.slice(i)]);
  }

  /** The part to the left of a place. */
  upTo(x: number): Surface {
    if (this.isEmpty || x >= this.right) return this;
    if (x <= this.left) return Surface.empty();
    const i = this.lower(x - 1e-9);
    return new Surface([...this.xs.slice(0, i), x], [...this.ys.slice(0, i), this.heightAt(x, -1)]);
  }

  /** The same seen from its other end. */
  turnedRound(): Surface {
    return new Surface(this.xs.map((x) => -x).reverse(), [...this.ys].reverse());
  }

  /** Numbers that tell one surface from another. */
  get corners(): { readonly x: readonly number[]; readonly y: readonly number[] } {
    return { x: this.xs, y: this.ys };
  }

  get isEmpty(): boolean {
    return this.xs.length === 0;
  }

  get left(): number {
    return this.xs[0] ?? 0;
  }

  get right(): number {
    return this.xs[this.xs.length - 1] ?? 0;
  }

  /** First index with x ≥ value. */
  private lower(value: number): number {
    const { xs } = this;
    let a = 0;
    let b = xs.length;
    while (a < b) {
      const m = (a + b) >> 1;
      if (xs[m] < value) a = m + 1;
      else b = m;
    }
    return a;
  }

  /** Greatest height over an interval, walls at its ends left out; VOID where nothing stands. */
  top(from: number, to: number): number {
    const { xs, ys } = this;
    if (xs.length === 0 || to < xs[0] || from > xs[xs.length - 1]) return VOID;
    let best = VOID;
    const a = this.lower(from + 1e-9);
    for (let i = a; i < xs.length && xs[i] < to - 1e-9; i++) if (ys[i] > best) best = ys[i];
    return Math.max(best, this.heightAt(from, 1), this.heightAt(to, -1));
  }

  /** A height over an interval that nothing stands above; not the least such height, but quick to tell. */
  ceiling(from: number, to: number): number {
    const tops = this.binned();
    return tops ? tops.most(tops.bin(from), tops.bin(to)) : this.top(from - 1e-6, to + 1e-6);
  }

  /** Height at x, taken from the right (`side` 1) or left (−1) at a wall. */
  heightAt(x: number, side: 1 | -1 = 1): number {
    const { xs, ys } = this;
    const n = xs.length;
    if (n === 0) return VOID;
    const i = side > 0 ? this.lower(x + 1e-9) : this.lower(x - 1e-9);
    if (i === 0 || i === n) {
      if (i === 0 && side < 0 && n > 0 && Math.abs(xs[0] - x) < 1e-9) return VOID;
      return VOID;
    }
    const x0 = xs[i - 1];
    const x1 = xs[i];
    if (x1 - x0 < 1e-12) return Math.max(ys[i - 1], ys[i]);
    return ys[i - 1] + ((ys[i] - ys[i - 1]) * (x - x0)) / (x1 - x0);
  }

  /** Coming from the right, the first x at which the metal stands higher than a height; −∞ where it never does. */
  firstAbove(height: number): number {
    const { xs, ys } = this;
    for (let i = xs.length - 1; i > 0; i--) {
      const y1 = ys[i];
      const y0 = ys[i - 1];
      if (y1 > height) return xs[i];
      if (y0 > height) {
        const w = xs[i] - xs[i - 1];
        return w < 1e-9 ? xs[i] : xs[i] - (w * (height - y1)) / (y0 - y1);
      }
    }
    return Number.NEGATIVE_INFINITY;
  }

  /** How far along a straight way the line surely stands higher than the way by more than `by`, as a share of the way. */
  standsOver(a: Point, b: Point, by: number): number {
    const { xs, ys } = this;
    const n = xs.length;
    const w = b.x - a.x;
    const start = Math.min(this.heightAt(a.x, 1), this.heightAt(a.x, -1));
    if (Math.abs(w) < 1e-9) return start > Math.max(a.y, b.y) + by ? 1 : 0;
    if (start <= a.y + by) return 0;
    const slope = (b.y - a.y) / w;
    const step = w > 0 ? 1 : -1;
    let reached = a.x;
    for (let i = w > 0 ? this.lower(a.x) : this.lower(a.x) - 1; i >= 0 && i < n; i += step) {
      const x = xs[i];
      if ((x - b.x) * step >= 0) break;
      if (ys[i] <= a.y + slope * (x - a.x) + by) return Math.abs((reached - a.x) / w);
      reached = x;
    }
    const end = Math.min(this.heightAt(b.x, 1), this.heightAt(b.x, -1));
    return end > b.y + by ? 1 : Math.abs((reached - a.x) / w);
  }

  /** True when no metal stands above the lower side, carried to (dx, dy). */
  clears(side: LowerSide, dx = 0, dy = 0): boolean {
    return this.climb(side, dx, dy, true) <= 0;
  }

  /** How far the lower side would have to rise to clear the metal; −∞ where none is below it. */
  rise(side: LowerSide, dx = 0, dy = 0): number {
    return this.climb(side, dx, dy, false);
  }

  /** The place of the metal that stands highest above the lower side, or null where none does. */
  deepest(side: LowerSide, dx = 0, dy = 0): Point | null {
    return this.climb(side, dx, dy, false) > 1e-9 ? { x: this.worstX, y: this.worstY } : null;
  }

  /** The last climb's greatest height above the side, and where. */
  private worst = 0;
  private worstX = 0;
  private worstY = 0;

  /** Greatest heights over bins, made where a line has corners enough to be worth it. */
  private tops: Tops | null = null;

  private binned(): Tops | null {
    if (!this.tops && this.xs.length > FEW) this.tops = Tops.of(this.xs, this.ys);
    return this.tops;
  }

  private climb(side: LowerSide, dx: number, dy: number, stopAtFirst: boolean): number {
    const { xs } = this;
    const n = xs.length;
    const m = side.x.length;
    this.worst = Number.NEGATIVE_INFINITY;
    if (n < 2 || m === 0) return this.worst;
    const a = side.x[0] + dx;
    const b = side.x[m - 1] + dx;
    if (b <= xs[0] + 1e-9 || a >= xs[n - 1] - 1e-9) return this.worst;
    const tops = this.binned();
    if (!tops) this.climbWithin(side, dx, dy, a, b, stopAtFirst);
    else {
      const placed: Placed = { side, bottom: bottomOf(side), dx, dy, a, b };
      const last = tops.bin(b);
      const beyond = (): number => (stopAtFirst ? 0 : this.worst);
      for (
        let k = tops.next(tops.bin(a), last, placed, beyond());
        k >= 0;
        k = tops.next(k + 1, last, placed, beyond())
      ) {
        this.climbWithin(side, dx, dy, Math.max(a, tops.left(k)), Math.min(b, tops.left(k + 1)), stopAtFirst);
        if (stopAtFirst && this.worst > 1e-9) break;
      }
    }
    return this.worst <= 1e-9 && this.worst > -1e-9 ? 0 : this.worst;
  }

  /** How far the metal stands above the side between two places, kept as the worst so far. */
  private climbWithin(side: LowerSide, dx: number, dy: number, from: number, to: number, stopAtFirst: boolean): void {
    const { xs, ys } = this;
    const n = xs.length;
    const lx = side.x;
    const ly = side.y;
    const m = lx.length;
    // at its extremes the shape stands beside the wall, not on it
    const a = Math.max(from, lx[0] + dx + 1e-9);
    const b = Math.min(to, lx[m - 1] + dx - 1e-9);
    const first = this.lower(a);
    let k = cornerBefore(lx, a - dx);
    // corners of the metal against the shape
    for (let i = first; i < n && xs[i] <= b; i++) {
      if (ys[i] <= VOID) continue;
      const x = xs[i] - dx;
      while (k < m - 2 && lx[k + 1] < x) k++;
      const low = m === 1 ? ly[0] : ly[k] + ((ly[k + 1] - ly[k]) * (x - lx[k])) / (lx[k + 1] - lx[k]);
      if (this.over(xs[i], ys[i], low + dy) && stopAtFirst) return;
    }
    // corners of the shape against the metal
    let j = Math.max(1, first);
    for (let c = cornerBefore(lx, from - dx - 1e-9); c < m; c++) {
      const x = lx[c] + dx;
      if (x > to + 1e-9) break;
      if (x < from - 1e-9 || x <= xs[0] || x >= xs[n - 1]) continue;
      const at = c === 0 ? x + 1e-9 : c === m - 1 ? x - 1e-9 : x;
      while (j < n - 1 && xs[j] < at) j++;
      while (j > 1 && xs[j - 1] >= at) j--;
      const w = xs[j] - xs[j - 1];
      const y = w < 1e-12 ? Math.max(ys[j - 1], ys[j]) : ys[j - 1] + ((ys[j] - ys[j - 1]) * (at - xs[j - 1])) / w;
      if (y > VOID && this.over(at, y, ly[c] + dy) && stopAtFirst) return;
    }
  }

  /** Keeps the place where the metal stands highest above the side; tells whether it stands above it at all. */
  private over(x: number, y: number, side: number): boolean {
    if (y - side > this.worst) {
      this.worst = y - side;
      this.worstX = x;
      this.worstY = y;
    }
    return y - side > 1e-9;
  }

  /** Lowers the metal to the lower side of a shape, or to a stretch of it; tells whether anything was taken off. */
  cut(side: LowerSide, within: Stretch = ALL): boolean {
    const { xs, ys } = this;
    const n = xs.length;
    const m = side.x.length;
    if (n < 2 || m < 2) return false;
    const whole = this.binsBelow(
      side,
      Math.max(side.x[0], xs[0], within.from),
      Math.min(side.x[m - 1], xs[n - 1], within.to),
    );
    if (!whole || whole.b - whole.a < 1e-9) return false;
    const out = CUT;
    out.clear();
    // what the side leaves as it is is put only where more comes off behind it
    const kept = KEPT;
    let left = 0;
    let a = Number.NaN;
    let b = Number.NaN;
    let took = 0;
    let k = 0;
    for (let i = Math.max(1, this.lower(whole.a + 1e-9)); i < n; i++) {
      const sx0 = xs[i - 1];
      const sx1 = xs[i];
      if (sx0 >= whole.b - 1e-9) break;
      if (sx1 - sx0 < 1e-9) continue;
      const from = Math.max(sx0, whole.a);
      const to = Math.min(sx1, whole.b);
      if (to - from < 1e-9) continue;
      if (ys[i - 1] <= VOID && ys[i] <= VOID) {
        // nothing stands here
        if (!Number.isNaN(a)) {
          kept[left] = from;
          kept[left + 1] = VOID;
          kept[left + 2] = to;
          kept[left + 3] = VOID;
          left += 4;
        }
        continue;
      }
      const slope = (ys[i] - ys[i - 1]) / (sx1 - sx0);
      let px = from;
      let pt = ys[i - 1] + slope * (from - sx0);
      while (k < m - 2 && side.x[k + 1] <= from + 1e-12) k++;
      let pl = heightOn(side, k, from);
      for (;;) {
        // next corner of the shape inside this side, or its end
        const corner = k + 1 < m - 1 ? side.x[k + 1] : Number.POSITIVE_INFINITY;
        const qx = Math.min(to, corner > px + 1e-12 ? corner : to);
        const qt = ys[i - 1] + slope * (qx - sx0);
        const ql = heightOn(side, k, qx);
        const d0 = pt - pl;
        const d1 = qt - ql;
        if (d0 > 0 || d1 > 0) {
          if (Number.isNaN(a)) a = px;
          for (let j = 0; j < left; j += 2) out.put(kept[j], kept[j + 1]);
          left = 0;
          b = qx;
          if (d0 > 0 !== d1 > 0 && Math.abs(d0) > FLAT && Math.abs(d1) > FLAT) {
            const t = d0 / (d0 - d1);
            const mx = px + (qx - px) * t;
            const my = pt + (qt - pt) * t;
            out.put(px, Math.min(pt, pl));
            out.put(mx, my);
            took += d0 > 0 ? (d0 * (mx - px)) / 2 : (d1 * (qx - mx)) / 2;
          } else {
            out.put(px, d0 > 0 || d1 > FLAT ? Math.min(pt, pl) : pt);
            took += ((Math.max(0, d0) + Math.max(0, d1)) * (qx - px)) / 2;
          }
          out.put(qx, d1 > 0 ? Math.min(qt, ql) : qt);
        } else if (!Number.isNaN(a)) {
          kept[left] = px;
          kept[left + 1] = pt;
          kept[left + 2] = qx;
          kept[left + 3] = qt;
          left += 4;
        }
        if (qx >= to - 1e-12) break;
        px = qx;
        pt = qt;
        k = Math.min(k + 1, m - 2);
        pl = heightOn(side, k, qx);
      }
    }
    if (took <= 1e-12) return false;
    this.removed += took;
    this.note(a, b);
    // splice: keep what lies left of a and right of b, with the walls that the cut leaves
    const joined = JOINED;
    joined.clear();
    const first = this.lower(a - 1e-9);
    for (let j = Math.max(0, first - 2); j < first; j++) joined.put(xs[j], ys[j]);
    const before = this.heightAt(a, -1);
    if (first > 0 || before > VOID) joined.put(a, before);
    for (let j = 0; j < out.length; j++) joined.put(out.xs[j], out.ys[j]);
    let right = this.lower(b + 1e-9);
    const after = this.heightAt(b, 1);
    if (right < n || after > VOID) joined.put(b, after);
    const until = Math.min(n, right + 2);
    for (; right < until; right++) joined.put(xs[right], ys[right]);
    this.own();
    splicePolyline(this.xs, this.ys, Math.max(0, first - 2), until, joined);
    this.tops?.changed(this.xs, this.ys, a, b, (x) => this.lower(x));
    return true;
  }

  /** The part of [a, b] outside of which the bins alone tell that the side lies on or above the metal; null for none. */
  private binsBelow(side: LowerSide, a: number, b: number): { readonly a: number; readonly b: number } | null {
    const tops = b - a < 1e-9 ? null : this.binned();
    if (!tops) return { a, b };
    const placed: Placed = { side, bottom: bottomOf(side), dx: 0, dy: 0, a, b };
    const [from, to] = [tops.bin(a), tops.bin(b)];
    const first = tops.next(from, to, placed, 0);
    if (first < 0) return null;
    const last = tops.previous(to, first, placed, 0);
    return { a: Math.max(a, tops.left(first)), b: Math.min(b, tops.left(last + 1)) };
  }

  /**
   * The stretch outside of which the line surely stands nowhere above an upper side (heights with their sign turned); null for
   * none. At its ends the side stands beside a wall, not under it: a sliver there does not count.
   */
  overhang(side: LowerSide): Stretch | null {
    const [a, b] = [side.x[0] + SLIVER, side.x[side.x.length - 1] - SLIVER];
    if (b <= a) return null;
    const tops = this.binned();
    if (!tops) return { from: a, to: b };
    const height = (x: number): number => -sideHeight(side, Math.max(a, Math.min(b, x)));
    const stands = (k: number): boolean => {
      const [from, to] = [tops.left(k) - 1e-6, tops.left(k + 1) + 1e-6];
      // an upper side rises and then falls: within a bin it is lowest at one of its ends
      const least = Math.min(height(from), height(to)) - 1e-6;
      return tops.most(k, k) > least && this.top(Math.max(a, from), Math.min(b, to)) > least;
    };
    let first = tops.bin(a - 1e-6);
    let last = tops.bin(b + 1e-6);
    while (first <= last && !stands(first)) first++;
    if (first > last) return null;
    while (last > first && !stands(last)) last--;
    return { from: Math.max(a, tops.left(first)), to: Math.min(b, tops.left(last + 1)) };
  }

  /**
   * Stretches of x between two places where metal (`before`) goes on above the highest place that was swept (`swept`,
   * heights with their sign turned) and was cut below it: what was cut there lies under an overhang, which this line cannot
   * show.
   */
  hiddenSince(before: Surface, swept: Surface, from: number, to: number): Stretch[] {
    const lines = [before, this, swept];
    const next = lines.map((l) => l.lower(from + 1e-9));
    const [top, cut, high] = lines.map((l) => new Walk(l.xs, l.ys, Math.max(1, l.lower(from))));
    const result: { from: number; to: number }[] = [];
    for (let a = from, b = from; b < to; a = b) {
      // the next corner of any of them
      b = to;
      for (let k = 0; k < 3; k++) if (lines[k].xs[next[k]] < Math.min(b, to - 1e-9)) b = lines[k].xs[next[k]];
      for (let k = 0; k < 3; k++) while (lines[k].xs[next[k]] <= b) next[k]++;
      if (b - a < 1e-7) continue;
      // between two stops all lines are straight: how far metal stood above the cut, and above what was swept
      top.over(a + 1e-9, b - 1e-9);
      cut.over(a + 1e-9, b - 1e-9);
      const [topA, topB] = [top.ya - 1e-6, top.yb - 1e-6];
      if (topA <= cut.ya && topB <= cut.yb) continue;
      high.over(a + 1e-9, b - 1e-9);
      const share = positiveShare(topA - cut.ya, topB - cut.yb, positiveShare(topA + high.ya, topB + high.yb, [0, 1]));
      if (share[1] <= share[0]) continue;
      const stretch = { from: a + (b - a) * share[0], to: a + (b - a) * share[1] };
      const last = result[result.length - 1];
      if (last && stretch.from - last.to < 1e-6) last.to = stretch.to;
      else result.push(stretch);
    }
    return result;
  }

  /** Stretches of x between two places where another line runs higher than this one. */
  lowerThan(other: Surface, from: number, to: number): Stretch[] {
    return this.hiddenSince(other, Surface.outermost([], from, to), from, to);
  }

  /** A level line at a height, to be lowered by cuts. */
  static level(height: number, from: number, to: number): Surface {
    return new Surface([from, to], [height, height]);
  }

  /** The lowest line that some lower sides reach between two places; for upper ones, their heights with their sign turned, the highest. */
  static outermost(sides: readonly LowerSide[], from: number, to: number): Surface {
    const line = Surface.level(1e5, from, to);
    for (const side of sides) line.cut(side);
    return line;
  }

  /** Where anything stands at all, from left to right. */
  occupied(): Stretch[] {
    const { xs, ys } = this;
    const result: { from: number; to: number }[] = [];
    for (let i = 1; i < xs.length; i++) {
      if (Math.max(ys[i - 1], ys[i]) <= VOID) continue;
      const last = result[result.length - 1];
      if (last && xs[i - 1] <= last.to) last.to = xs[i];
      else result.push({ from: xs[i - 1], to: xs[i] });
    }
    return result;
  }

  /** Where the line was changed since this was asked last, or since it was made. */
  takeChanges(): Stretch[] {
    return this.changed.splice(0, this.changed.length);
  }

  private note(from: number, to: number): void {
    const { changed } = this;
    let i = changed.length;
    while (i > 0 && changed[i - 1].to >= from) i--;
    let j = i;
    let low = from;
    let high = to;
    while (j < changed.length && changed[j].from <= to) {
      low = Math.min(low, changed[j].from);
      high = Math.max(high, changed[j].to);
      j++;
    }
    changed.splice(i, j - i, { from: low, to: high });
  }

  /** Everything above the surface up to `cap`, over the stretches that were cut: what a region loses by the cuts. */
  takenAway(cap: number): Region {
    return this.changed.map(({ from, to }) => {
      const ring: Point[] = [];
      const y0 = Math.min(cap, this.heightAt(from, 1));
      ring.push({ x: from, y: y0 });
      for (let i = this.lower(from + 1e-9); i < this.xs.length && this.xs[i] < to - 1e-9; i++)
        ring.push({ x: this.xs[i], y: Math.min(cap, this.ys[i]) });
      ring.push({ x: to, y: Math.min(cap, this.heightAt(to, -1)) }, { x: to, y: cap }, { x: from, y: cap });
      return ring;
    });
  }

  /** Corners from left to right, simplified so that the line stays on or above the metal by at most `tolerance`. */
  upperPoints(tolerance: number, from: number, to: number): Point[] {
    const points: Point[] = [];
    const { xs, ys } = this;
    if (xs.length === 0) return points;
    const a = Math.max(from, xs[0]);
    const b = Math.min(to, xs[xs.length - 1]);
    if (b <= a) return points;
    points.push({ x: a, y: this.heightAt(a, 1) });
    for (let i = this.lower(a + 1e-9); i < xs.length && xs[i] < b - 1e-9; i++) points.push({ x: xs[i], y: ys[i] });
    points.push({ x: b, y: this.heightAt(b, -1) });
    return points.length < 24 ? points : thinned(points, tolerance);
  }
}

/** The heights of a line over stretches that lie one after another, none of them with a corner inside. */
class Walk {
  ya = VOID;
  yb = VOID;

  constructor(
    private readonly xs: readonly number[],
    private readonly ys: readonly number[],
    private at: number,
  ) {}

  /** Sets the heights at both ends of a stretch; VOID beyond the line. */
  over(a: number, b: number): void {
    const { xs, ys } = this;
    const last = xs.length - 1;
    this.ya = VOID;
    this.yb = VOID;
    if (last < 1 || a < xs[0] || b > xs[last]) return;
    while (this.at < last && xs[this.at] < b) this.at++;
    const x0 = xs[this.at - 1];
    const x1 = xs[this.at];
    const y0 = ys[this.at - 1];
    const y1 = ys[this.at];
    if (x1 - x0 < 1e-12) {
      this.ya = Math.max(y0, y1);
      this.yb = this.ya;
      return;
    }
    const slope = (y1 - y0) / (x1 - x0);
    this.ya = y0 + slope * (a - x0);
    this.yb = y0 + slope * (b - x0);
  }
}

/** The part of a share of a stretch over which a value that runs straight from `a` to `b` is above 0. */
const positiveShare = (a: number, b: number, [from, to]: readonly [number, number]): readonly [number, number] => {
  if (a > 0 && b > 0) return [from, to];
  if (a <= 0 && b <= 0) return [0, 0];
  const zero = a / (a - b);
  return a > 0 ? [from, Math.min(to, zero)] : [Math.max(from, zero), to];
};

const ALL: Stretch = { from: Number.NEGATIVE_INFINITY, to: Number.POSITIVE_INFINITY };

/** What lies no further within the end of a side than this is none of it, mm. */
const SLIVER = 1e-4;

/** A line with no more corners than this is looked at whole. */
const FEW = 24;

/** Index of the last corner of a side before a place, 0 where there is none. */
const cornerBefore = (lx: readonly number[], x: number): number => {
  let a = 0;
  let b = lx.length - 1;
  while (b - a > 1) {
    const m = (a + b) >> 1;
    if (lx[m] < x) a = m;
    else b = m;
  }
  return a;
};

/** Height of one edge of a lower side at x. */
const heightOn = (side: LowerSide, k: number, x: number): number =>
  side.y[k] + ((side.y[k + 1] - side.y[k]) * (x - side.x[k])) / (side.x[k + 1] - side.x[k]);

/** Greedy thinning: points whose leaving out moves the line by less than the tolerance; the rest is raised by it. */
const thinned = (points: readonly Point[], tolerance: number): Point[] => {
  const keep: Point[] = [points[0]];
  let anchor = 0;
  for (let i = 2; i < points.length; i++) {
    const a = points[anchor];
    const b = points[i];
    let ok = b.x - a.x > 1e-9;
    for (let k = anchor + 1; ok && k < i; k++) {
      const y = a.y + ((b.y - a.y) * (points[k].x - a.x)) / (b.x - a.x);
      if (Math.abs(points[k].y - y) > tolerance) ok = false;
    }
    if (!ok || i - anchor > 60) {
      keep.push(points[i - 1]);
      anchor = i - 1;
    }
  }
  keep.push(points[points.length - 1]);
  return keep.map((p) => ({ x: p.x, y: p.y + tolerance }));
};
