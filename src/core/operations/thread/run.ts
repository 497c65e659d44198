import { type Curve, clipGraph, grownBy, heightAt, joinGraph, line, lowerSide, point } from '../../geometry';
import { type ThreadForm, threadDepth } from '../../threads';
import { deepestPositions, toolFacts } from '../../tooling';
import { rightward } from '../frame';
import { groundOf, linesOf, type SpanRange, type View } from '../turning';
import type { Seen } from '../types';
import type { ThreadSide } from './schema';

/** A thread where it lies, in the frame. */
export interface ThreadLine {
  readonly front: number;
  readonly back: number;
  /** Depth to the lowest place of the nose, mm. */
  readonly depth: number;
  readonly crest: (u: number) => number;
  readonly root: (u: number) => number;
}

export const threadLine = (
  form: ThreadForm,
  side: ThreadSide,
  seen: Seen,
  range: SpanRange,
  length: number | null,
  depth: number | null,
): ThreadLine => {
  const edge = toolFacts(seen.tool).thread ?? { angle: form.angle, noseRadius: 0, profile: 'partial' as const };
  const h = Math.round((depth ?? threadDepth(form, side, edge)) * 1000) / 1000;
  const front = range.maxU;
  const slope = form.taper / 2;
  // an outside taper grows toward the chuck, a bore's shrinks; in the frame of a bore v is −r
  // a spiral lies on its face, wherever that is
  const crest = (u: number): number =>
    side === 'face'
      ? range.maxV
      : side === 'outer'
        ? form.major / 2 + slope * (front - u)
        : -(form.minor / 2 - slope * (front - u));
  const back = length === null ? range.minU : Math.max(range.minU, front - length);
  return { front, back, depth: h, crest, root: (u) => crest(u) - h };
};

/** Whether a place along the frame lies past the centre of a face, in its other half. */
const pastCentre = (view: View, u: number): boolean => view.frame.name === 'face' && u < 0;

const STEP = 0.02;
/** A surface that rises less than this is no wall, mm. */
const LEVEL = 1e-3;

/**
 * The part with the thread's own room taken out: the span down to the root, what falls away from its ends (a chamfer, the
 * flank of a relief), and in front all that is not higher than the crest.
 */
const openedGround = (ground: readonly Curve[], t: ThreadLine, whole: boolean, flank: number): Curve[] => {
  if (ground.length === 0) return [];
  const left = ground[0].from.x;
  const right = ground[ground.length - 1].to.x;
  const height = (u: number): number => heightAt(ground, u) ?? Number.NEGATIVE_INFINITY;
  let to = t.front;
  while (to < right && height(to + STEP) <= t.crest(to + STEP) + LEVEL) to += STEP;
  to = Math.min(to, right);
  let from = t.back;
  // the V of the last turn is as wide as its flanks
  if (!whole) from = Math.max(left, t.back - flank);
  else while (from > left && height(from - STEP) < height(from) - 1e-6) from -= STEP;
  return joinGraph([
    ...clipGraph(ground, left, from),
    line(point(from, t.root(from) - 0.05), point(to, t.root(to) - 0.05)),
    ...clipGraph(ground, to, right),
  ]);
};

/** Where the nose first meets the part on its way at the thread's root, coming from the front (`way` −1) or from behind. */
export const firstMetal = (seen: Seen, view: View, t: ThreadLine, way: 1 | -1): number => {
  const ground = groundOf(seen, view.frame, 0);
  const begin = way < 0 ? t.front : t.back;
  const rises = (u: number): boolean => {
    if (pastCentre(view, u)) return false;
    const v = heightAt(ground, u);
    return v !== null && v > t.root(u) && v <= t.crest(u) + LEVEL;
  };
  let u = begin;
  while (rises(u - way * STEP)) u -= way * STEP;
  return u;
};

/** Where the nose may run at the thread's root: tells for a place along the frame whether anything but the thread is met there. */
export const freeAlong = (
  seen: Seen,
  view: View,
  t: ThreadLine,
  whole: boolean,
  reach: number,
): ((u: number) => boolean) => {
  const half = Math.max(...view.cutting.flatMap((s) => s.points.map((p) => Math.abs(p.x) + s.radius)));
  const opened = openedGround(groundOf(seen, view.frame, 0), t, whole, half + 0.05);
  const [from, to] = [t.back - reach, t.front + reach];
  const shapes = [...view.cutting, ...grownBy(view.holder, 0.05)];
  const all = grownBy([...view.cutting, ...view.holder], 0.5);
  const fixed = linesOf(seen.fixtures?.upperPoints(0, from - 300, to + 300) ?? []);
  const floors = [
    opened.length > 0 ? deepestPositions(opened, shapes, from, to) : [],
    fixed.length > 0 ? deepestPositions(rightward(fixed), all, from, to) : [],
  ];
  return (u) => {
    if (pastCentre(view, u)) return false;
    const level = t.root(u) + view.noseRadius;
    return floors.every((f) => (heightAt(f, u) ?? Number.NEGATIVE_INFINITY) <= level + 2e-3);
  };
};

/** Metal behind the part that stands no higher than this over a thread's crest goes on as the thread does, mm. */
const AS_CREST = 0.02;

/** The same for the bar behind the part: what of it stands higher than the thread's crest is a wall for the insert. */
export const freeOfBar = (seen: Seen, view: View, t: ThreadLine): ((u: number) => boolean) => {
  if (view.frame.name === 'face') return () => true;
  const behind = Math.min(t.back, seen.contour.back) - LEVEL;
  const high = t.crest(t.back) + AS_CREST;
  // what a leaning edge has left hanging there is as hard as what it hangs from
  const standing = [seen.metal, ...(seen.lips ? [seen.lips] : [])].flatMap((metal) => {
    const bar = metal.upTo(behind);
    const wall = bar.firstAbove(high);
    return Number.isFinite(wall) ? [bar.upTo(wall)] : [];
  });
  const sides = [...view.cutting, ...view.holder].map((s) => lowerSide(s));
  return (u) => standing.every((metal) => sides.every((side) => metal.clears(side, u, t.root(u) + view.noseRadius)));
};

/** How far from `from` toward `to` the way is free, bisected to 1 µm. */
export const freeUntil = (free: (u: number) => boolean, from: number, to: number): number => {
  const way = Math.sign(to - from);
  if (!free(from)) return from;
  let good = from;
  for (;;) {
    if (way * (to - good) <= 1e-9) return to;
    const next = way * (to - (good + way * 0.05)) <= 0 ? to : good + way * 0.05;
    if (!free(next)) {
      let bad = next;
      while (Math.abs(bad - good) > 1e-3) {
        const m = (good + bad) / 2;
        if (free(m)) good = m;
        else bad = m;
      }
      return good;
    }
    good = next;
  }
};
