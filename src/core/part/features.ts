import {
  boundsOfCurves,
  type Curve,
  distance,
  type Point,
  splitCurve,
  tangentAt,
  turningParameters,
} from '../geometry';
import type { Element, Part, Side } from './contour';
import type { Feature, FeatureKind } from './feature';
import { chamferAngle, type Hollow, isCylinder, isSameThread, type Stretch, threadAt } from './threadShown';

const round = (v: number): number => Math.round(v * 1e4) / 1e4;

const isFace = (c: Curve): boolean => c.kind === 'line' && Math.abs(c.to.x - c.from.x) < 1e-6;

const placeOf = (curves: readonly Curve[]): Feature['place'] => {
  const b = boundsOfCurves(curves);
  return { front: round(b.maxX), back: round(b.minX), inner: round(b.minY * 2), outer: round(b.maxY * 2) };
};

/**
 * Hollows of a run of elements: stretches between two walls where a height dips below both sides. Nested hollows (a groove
 * in the floor of a recess) come with their parent. `height` is the radius outside, its negative in a bore, Z on a face.
 */
const hollowsOf = (elements: readonly Element[], height: (p: Point) => number): Stretch[] => {
  // arcs are split where they turn, so that a round groove dips between two heights
  const pieces = elements.flatMap((e, element) =>
    splitCurve(
      e.curve,
      [...turningParameters(e.curve, 'x'), ...turningParameters(e.curve, 'y')].sort((p, q) => p - q),
    ).map((curve) => ({ curve, element })),
  );
  const n = pieces.length;
  if (n === 0) return [];
  const heights = [...pieces.map((p) => height(p.curve.from)), height(pieces[n - 1].curve.to)];
  const found: Stretch[] = [];
  const search = (from: number, to: number): void => {
    for (let i = from; i < to; ) {
      // a hollow begins where the contour falls
      if (heights[i + 1] >= heights[i] - 1e-6) {
        i++;
        continue;
      }
      // and ends where it is as high again, else at the highest place behind it
      let end = -1;
      let peak = i + 1;
      for (let j = i + 1; j <= to; j++) {
        if (heights[j] >= heights[i] - 1e-6) {
          end = j;
          break;
        }
        if (heights[j] > heights[peak] + 1e-6) peak = j;
      }
      if (end < 0) {
        if (heights[peak] <= Math.min(...heights.slice(i + 1, peak + 1)) + 1e-6) {
          i++;
          continue;
        }
        end = peak;
        // the wall in front of a lower rim begins where it comes down to that rim
        while (i + 1 < end && heights[i + 1] >= heights[end] - 1e-6) i++;
      }
      found.push({ from: pieces[i].element, to: pieces[end - 1].element });
      // a groove in the floor: the contour runs level (or rises) before it falls again
      let level = i;
      while (level < end && heights[level + 1] < heights[level] - 1e-6) level++;
      if (end - level > 2) search(level + 1, end - 1);
      i = end;
    }
  };
  search(0, n);
  return found;
};

/** Runs of four or more arcs that go on smoothly, as a fitted free-form contour does; short straight pieces may lie between. */
const freeForms = (elements: readonly Element[]): Stretch[] => {
  const runs: Stretch[] = [];
  const smooth = (i: number): boolean => {
    const [a, b] = [tangentAt(elements[i].curve, 1), tangentAt(elements[i + 1].curve, 0)];
    return a.x * b.x + a.y * b.y > SMOOTH;
  };
  const free = (e: Element): boolean => e.curve.kind === 'arc' || distance(e.curve.from, e.curve.to) < 2;
  for (let i = 0; i < elements.length; i++) {
    if (elements[i].curve.kind !== 'arc') continue;
    let end = i;
    while (end + 1 < elements.length && free(elements[end + 1]) && smooth(end)) end++;
    while (elements[end].curve.kind !== 'arc') end--;
    if (elements.slice(i, end + 1).filter((e) => e.curve.kind === 'arc').length >= 4) runs.push({ from: i, to: end });
    i = end;
  }
  return runs;
};

/** Cosine of 8°: pieces of a fit meet with smaller kinks. */
const SMOOTH = 0.99;

const sideFeatures = (elements: readonly Element[], side: Side): Feature[] => {
  const features: Feature[] = [];
  const used = new Set<number>();
  const bore = side !== 'outer';
  const add = (
    kind: FeatureKind,
    stretch: Stretch,
    sizes: Record<string, number>,
    access: Feature['access'],
    proposed = false,
    designation: string | null = null,
  ): void => {
    const part = elements.slice(stretch.from, stretch.to + 1);
    features.push({
      id: '',
      kind,
      access,
      sizes: Object.fromEntries(Object.entries(sizes).map(([k, v]) => [k, round(v)])),
      place: placeOf(part.map((e) => e.curve)),
      angles: [],
      through: false,
      elements: part.map((e) => e.id),
      proposed,
      ...(designation === null ? {} : { designation }),
    });
    if (!proposed) for (let k = stretch.from; k <= stretch.to; k++) used.add(k);
  };
  const own: Feature['access'] = side === 'back' ? 'back' : 'main';
  const height = (p: Point): number => (bore ? -p.y : p.y);
  const measured = hollowsOf(elements, height).map((h): Hollow => {
    const curves = elements.slice(h.from, h.to + 1).map((e) => e.curve);
    const b = boundsOfCurves(curves);
    const rim = bore
      ? Math.max(curves[0].from.y, curves[curves.length - 1].to.y)
      : Math.min(curves[0].from.y, curves[curves.length - 1].to.y);
    return { ...h, width: b.maxX - b.minX, depth: bore ? b.maxY - rim : rim - b.minY };
  });
  for (const run of freeForms(elements))
    add('form', run, { length: Math.abs(elements[run.to].curve.to.x - elements[run.from].curve.from.x) }, own);
  // face grooves first: a ring open toward the front or the back
  const facing = (sign: 1 | -1): void => {
    if (bore) return;
    for (const h of hollowsOf(elements, (p) => p.x * sign)) {
      const curves = elements.slice(h.from, h.to + 1).map((e) => e.curve);
      const b = boundsOfCurves(curves);
      const rims = [curves[0].from.x * sign, curves[curves.length - 1].to.x * sign];
      const depth = Math.min(...rims) - Math.min(b.minX * sign, b.maxX * sign);
      const width = b.maxY - b.minY;
      // a groove of the outside is a hollow along Z as well when its walls lean; only true rings have two walls along the axis
      const walls = curves.filter((c) => Math.abs(c.to.x - c.from.x) > 3 * Math.abs(c.to.y - c.from.y)).length;
      const floor = Math.min(b.minY, curves[0].from.y, curves[curves.length - 1].to.y);
      // the void of a ring lies in front of it: the front is passed outward, the back inward
      if ((curves[curves.length - 1].to.y - curves[0].from.y) * sign < 0.2) continue;
      if (
        depth < 0.05 ||
        width < 0.2 ||
        walls < 2 ||
        floor < 0.5 ||
        measured.some((m) => m.from <= h.from && m.to >= h.to && m.to - m.from > h.to - h.from)
      )
        continue;
      if (curves.some((_, k) => used.has(h.from + k))) continue;
      add('face-groove', h, { depth, width: width }, sign === 1 ? 'main' : 'back');
    }
  };
  facing(1);
  facing(-1);
  // a hollow that is the ring itself (seen from the side, between hub and rim) is no groove of the outside
  const hollows = measured.filter((h) => {
    for (let k = h.from; k <= h.to; k++) if (used.has(k)) return false;
    return h.depth > 0.02 && h.width > 0.02;
  });
  const nested = (h: Hollow): Hollow[] =>
    hollows.filter((o) => o !== h && o.from >= h.from && o.to <= h.to && (o.from > h.from || o.to < h.to));
  // form F of an undercut climbs out of the shoulder at a slant: that piece is part of it
  const slanted = (k: number): boolean => {
    const e = elements[k];
    return e !== undefined && !used.has(k) && e.curve.kind === 'line' && !isFace(e.curve) && chamferAngle(e.curve) > 75;
  };
  const grown = hollows.map((h) =>
    h.depth < 0.7 && h.width < 6
      ? { ...h, from: slanted(h.from - 1) ? h.from - 1 : h.from, to: slanted(h.to + 1) ? h.to + 1 : h.to }
      : h,
  );
  // grooves in the floor of a recess come first, so that they are theirs alone
  for (const h of [...grown].sort((a, b) => a.to - a.from - (b.to - b.from))) {
    const curves = elements.slice(h.from, h.to + 1).map((e) => e.curve);
    // the floor of a recess, not of the grooves in it
    const floor = boundsOfCurves(
      elements.slice(h.from, h.to + 1).flatMap((e, k) => (used.has(h.from + k) ? [] : [e.curve])),
    );
    const diameter = (bore ? floor.maxY : floor.minY) * 2;
    const small = h.depth < 0.7 && h.width < 6;
    const beside = [elements[h.from - 1], elements[h.to + 1]].filter(Boolean).map((e) => e.curve);
    const shoulder =
      isFace(curves[curves.length - 1]) &&
      curves.length > 2 &&
      small &&
      distance(curves[0].from, curves[curves.length - 1].to) > 0.01 &&
      Math.abs(curves[0].from.y - curves[curves.length - 1].to.y) > 1e-3;
    const wide = h.width > Math.max(12, 4 * h.depth) || nested(h).length > 0;
    // what a thread runs out into is its relief, whatever its size
    const runOut = [h.from - 1, h.to + 1].some(
      (k) =>
        elements[k] &&
        h.width < 16 &&
        threadAt(elements, k, side, [h]) !== null &&
        !isSameThread(threadAt(elements, k, side, []), threadAt(elements, k, side, [h])),
    );
    const kind: FeatureKind =
      runOut || shoulder || (small && beside.some(isFace) && curves.some((c) => c.kind === 'arc'))
        ? 'relief'
        : wide
          ? 'recess'
          : bore
            ? 'inner-groove'
            : 'groove';
    const arcs = curves.filter((c) => c.kind === 'arc');
    const lone: Record<string, number> =
      arcs.length === 1 && curves.length === 1
        ? { radius: Math.hypot(arcs[0].from.x - arcs[0].centre.x, arcs[0].from.y - arcs[0].centre.y) }
        : {};
    const slopes = curves.filter((c) => c.kind === 'line' && !isCylinder(c) && !isFace(c));
    const vee: Record<string, number> =
      slopes.length === 2 && curves.filter(isCylinder).length === 0 ? { angle: 180 - 2 * chamferAngle(slopes[0]) } : {};
    add(
      kind,
      h,
      { width: h.width, depth: h.depth, diameter, ...lone, ...vee },
      kind === 'relief' ? own : bore ? own : 'radial',
    );
  }
  const last = elements.length - 1;
  elements.forEach((e, i) => {
    if (used.has(i)) return;
    const c = e.curve;
    const dz = Math.abs(c.to.x - c.from.x);
    const dr = Math.abs(c.to.y - c.from.y);
    const one = { from: i, to: i };
    const thread = threadAt(elements, i, side, measured);
    if (thread)
      add(
        bore ? 'inner-thread' : 'thread',
        one,
        { nominal: thread.nominal, pitch: thread.pitch, length: dz, diameter: c.from.y * 2 },
        own,
        true,
        thread.designation,
      );
    if (c.kind === 'arc') {
      const radius = Math.hypot(c.from.x - c.centre.x, c.from.y - c.centre.y);
      // a small arc between two others is a round, a large one a form of its own
      add(i > 0 && i < last && radius < 3 ? 'round' : 'form', one, { radius }, own);
    } else if (isCylinder(c)) add(bore ? 'bore' : 'turn', one, { diameter: c.from.y * 2, length: dz }, own);
    else if (isFace(c)) {
      const toFront = !bore ? c.to.y > c.from.y : c.to.y < c.from.y;
      add('face', one, { width: dr }, bore ? own : toFront ? 'main' : 'back');
    } else if (
      Math.min(dz, dr) < 3.01 &&
      Math.abs(chamferAngle(c) - 45) < 35 &&
      [elements[i - 1], elements[i + 1]].some((k) => k && (isFace(k.curve) || isCylinder(k.curve))) &&
      curveShort(c, elements, i)
    )
      add('chamfer', one, { width: Math.min(dz, dr), angle: chamferAngle(c) }, own);
    else add('cone', one, { angle: chamferAngle(c), length: dz }, own);
  });
  return features;
};

/** A slanted piece is a chamfer when it is short beside its neighbours. */
const curveShort = (c: Curve, elements: readonly Element[], i: number): boolean => {
  const long = Math.max(
    ...[elements[i - 1], elements[i + 1]].filter(Boolean).map((e) => distance(e.curve.from, e.curve.to)),
  );
  return distance(c.from, c.to) <= Math.max(long, 1.5);
};

/** Centre and drilled holes of a bore that closes on the axis: a drill point, or a 60° countersink before a small hole. */
const onCentre = (elements: readonly Element[], side: Side): Feature[] => {
  const n = elements.length;
  if (n < 2) return [];
  const tip = elements[n - 1].curve;
  if (tip.kind !== 'line' || tip.to.y > 1e-6 || isFace(tip) || isCylinder(tip)) return [];
  const wall = elements[n - 2].curve;
  if (!isCylinder(wall)) return [];
  const sink = n >= 3 ? elements[n - 3].curve : null;
  const access: Feature['access'] = side === 'back' ? 'back' : 'main';
  const base = { id: '', access, angles: [], through: false, proposed: false };
  if (
    sink &&
    sink.kind === 'line' &&
    Math.abs(chamferAngle(sink) - 30) < 1 &&
    wall.from.y * 2 <= 6.5 &&
    sink.from.y > wall.from.y
  )
    return [
      {
        ...base,
        kind: 'centre-hole',
        sizes: { diameter: round(wall.from.y * 2), mouth: round(sink.from.y * 2) },
        place: placeOf([sink, wall, tip]),
        elements: elements.slice(n - 3).map((e) => e.id),
      },
    ];
  return [
    {
      ...base,
      kind: 'drilled-hole',
      sizes: {
        diameter: round(wall.from.y * 2),
        depth: round(Math.abs(wall.to.x - elements[0].curve.from.x)),
        point: round(2 * chamferAngle(tip)),
      },
      place: placeOf([wall, tip]),
      elements: elements.slice(n - 2).map((e) => e.id),
    },
  ];
};

/** Everything that turning has to make, told from the profile alone; ids name kind and place, not an index. */
export const turnedFeatures = (part: Pick<Part, 'outer' | 'inner' | 'back'>): Feature[] => {
  const result: Feature[] = [];
  for (const side of ['outer', 'inner', 'back'] as const) {
    const elements = part[side];
    const centre = side === 'outer' ? [] : onCentre(elements, side);
    const taken = new Set(centre.flatMap((f) => f.elements));
    result.push(
      ...sideFeatures(
        elements.filter((e) => !taken.has(e.id)),
        side,
      ),
      ...centre,
    );
  }
  return withIds(result);
};

/** Gives features ids of kind and place; equal ones are counted. */
export const withIds = (features: readonly Feature[]): Feature[] => {
  const seen = new Map<string, number>();
  return features.map((f) => {
    if (f.id !== '') return f;
    const base = `${f.kind}:${Math.round(f.place.front * 10)}:${Math.round(f.place.outer * 10)}`;
    const count = (seen.get(base) ?? 0) + 1;
    seen.set(base, count);
    return { ...f, id: count > 1 ? `${base}:${count}` : base };
  });
};
