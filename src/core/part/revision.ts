import { arcRadius, type Curve, distance, pointAt, tangentAt } from '../geometry';
import { allElements, buildPart, type Element, type Side } from './contour';
import type { Feature } from './feature';
import { turnedFeatures } from './features';
import type { PartDocument, Profile } from './profile';

/** How an element of the old revision lives on in the new one. */
export interface Matched {
  readonly id: string;
  /** Id in the new revision; null = lost. */
  readonly to: string | null;
  readonly how: 'kept' | 'moved' | 'lost';
  readonly side: Side;
  readonly old: Curve;
  readonly now: Curve | null;
}

export interface FeatureMatch {
  readonly id: string;
  readonly to: string | null;
  readonly how: 'kept' | 'moved' | 'lost' | 'new';
  readonly feature: Feature;
}

export interface Reattached {
  /** The new part with the ids of what it kept. */
  readonly part: PartDocument;
  readonly elements: readonly Matched[];
  /** Elements of the new revision that the old one did not have. */
  readonly added: readonly Element[];
  readonly features: readonly FeatureMatch[];
}

const SAME = 2e-3;

const sameCurve = (a: Curve, b: Curve): boolean =>
  a.kind === b.kind &&
  distance(a.from, b.from) < SAME &&
  distance(a.to, b.to) < SAME &&
  distance(pointAt(a, 0.5), pointAt(b, 0.5)) < SAME;

/** Costs of taking one element for another: small for a move or a stretch, Infinity for another kind of thing. */
const difference = (a: Curve, b: Curve): number => {
  if (a.kind !== b.kind) return Infinity;
  if (sameCurve(a, b)) return 0;
  if (a.kind === 'arc' && b.kind === 'arc') {
    if (a.clockwise !== b.clockwise) return Infinity;
    const [ra, rb] = [arcRadius(a), arcRadius(b)];
    return 0.15 + (3 * Math.abs(ra - rb)) / Math.max(ra, rb) + distance(pointAt(a, 0.5), pointAt(b, 0.5)) / 20;
  }
  const [ta, tb] = [tangentAt(a, 0.5), tangentAt(b, 0.5)];
  const turn = Math.abs(Math.atan2(ta.x * tb.y - ta.y * tb.x, ta.x * tb.x + ta.y * tb.y));
  if (turn > 0.35) return Infinity;
  const [la, lb] = [distance(a.from, a.to), distance(b.from, b.to)];
  return (
    0.1 + 4 * turn + (0.6 * Math.abs(la - lb)) / Math.max(la, lb) + distance(pointAt(a, 0.5), pointAt(b, 0.5)) / 20
  );
};

/** Leaving an element out, or in, costs as much as a plain mismatch of half this. */
const GAP = 0.55;

/** Best pairing of two runs of elements that keeps their order (least total difference). */
const align = (old: readonly Element[], now: readonly Element[]): [number, number][] => {
  const [n, m] = [old.length, now.length];
  const cost = Array.from({ length: n + 1 }, () => new Float64Array(m + 1));
  for (let i = 1; i <= n; i++) cost[i][0] = i * GAP;
  for (let j = 1; j <= m; j++) cost[0][j] = j * GAP;
  const pair = old.map((a) => now.map((b) => difference(a.curve, b.curve)));
  for (let i = 1; i <= n; i++)
    for (let j = 1; j <= m; j++)
      cost[i][j] = Math.min(cost[i - 1][j - 1] + pair[i - 1][j - 1], cost[i - 1][j] + GAP, cost[i][j - 1] + GAP);
  const pairs: [number, number][] = [];
  let [i, j] = [n, m];
  while (i > 0 && j > 0) {
    if (Math.abs(cost[i][j] - (cost[i - 1][j - 1] + pair[i - 1][j - 1])) < 1e-9) {
      pairs.push([i - 1, j - 1]);
      i--;
      j--;
    } else if (Math.abs(cost[i][j] - (cost[i - 1][j] + GAP)) < 1e-9) i--;
    else j--;
  }
  return pairs.reverse();
};

const centre = (f: Feature): [number, number] => [
  (f.place.front + f.place.back) / 2,
  (f.place.inner + f.place.outer) / 4,
];

const matchFeatures = (
  old: readonly Feature[],
  now: readonly Feature[],
  map: ReadonlyMap<string, string | null>,
): FeatureMatch[] => {
  const left = new Set(now);
  const same = (a: Feature, b: Feature): boolean =>
    (['front', 'back', 'inner', 'outer'] as const).every((k) => Math.abs(a.place[k] - b.place[k]) < 2 * SAME) &&
    Object.keys({ ...a.sizes, ...b.sizes }).every(
      (k) => Math.abs((a.sizes[k] ?? Infinity) - (b.sizes[k] ?? Infinity)) < 2 * SAME,
    );
  const result: FeatureMatch[] = [];
  const waiting: Feature[] = [];
  for (const f of old) {
    const exact = [...left].find((g) => g.kind === f.kind && same(f, g));
    if (exact) {
      left.delete(exact);
      result.push({ id: f.id, to: exact.id, how: 'kept', feature: exact });
    } else waiting.push(f);
  }
  for (const f of waiting) {
    // by the elements that it is made of, else by kind and nearness
    const mapped = f.elements.map((e) => map.get(e)).filter((e): e is string => Boolean(e));
    const byElements = [...left].find((g) => g.kind === f.kind && mapped.some((e) => g.elements.includes(e)));
    const near =
      f.elements.length > 0
        ? undefined
        : [...left]
            .filter(
              (g) =>
                g.kind === f.kind &&
                Object.keys(f.sizes).every(
                  (k) => Math.abs((g.sizes[k] ?? Infinity) - f.sizes[k]) < Math.max(1, 0.2 * Math.abs(f.sizes[k])),
                ),
            )
            .sort(
              (a, b) =>
                Math.hypot(centre(a)[0] - centre(f)[0], centre(a)[1] - centre(f)[1]) -
                Math.hypot(centre(b)[0] - centre(f)[0], centre(b)[1] - centre(f)[1]),
            )[0];
    const found = byElements ?? near;
    if (found) {
      left.delete(found);
      result.push({ id: f.id, to: found.id, how: 'moved', feature: found });
    } else result.push({ id: f.id, to: null, how: 'lost', feature: f });
  }
  for (const g of left) result.push({ id: g.id, to: g.id, how: 'new', feature: g });
  return result;
};

/** Gives the rows of a new profile other ids. */
const renamed = (p: Profile, ids: ReadonlyMap<string, string>): Profile => ({
  ...p,
  rows: p.rows.map((r) => ({ ...r, id: ids.get(r.id) ?? r.id })),
});

/**
 * Puts a new revision in the place of the old part: rows that are the same or moved keep their ids, so that spans go on
 * pointing at them; the rest is told. What the user said of features goes with them.
 */
export const reattach = (old: PartDocument, now: PartDocument): Reattached => {
  const before = buildPart(old);
  const after = buildPart(now);
  const matches: Matched[] = [];
  const map = new Map<string, string | null>();
  const ids = new Map<string, string>();
  const taken = new Set<string>();
  for (const side of ['outer', 'inner', 'back'] as const) {
    const pairs = new Map(align(before[side], after[side]));
    before[side].forEach((e, i) => {
      const j = pairs.get(i);
      const partner = j === undefined ? null : after[side][j];
      let to: string | null = null;
      if (partner) {
        // a plain row may take the old row's id; what came from a corner keeps the new row's own
        const plain =
          e.origin === 'row' && partner.origin === 'row' && !e.id.includes('/') && !partner.id.includes('/');
        to = plain ? e.id : partner.id;
        if (plain) ids.set(partner.id, e.id);
        taken.add(to);
      }
      map.set(e.id, to);
      matches.push({
        id: e.id,
        to,
        how: partner ? (sameCurve(e.curve, partner.curve) ? 'kept' : 'moved') : 'lost',
        side,
        old: e.curve,
        now: partner?.curve ?? null,
      });
    });
  }
  // new rows must not carry an id that another row has kept
  const oldIds = new Set(allElements(before).map((e) => e.id.split('/')[0]));
  let n = 1;
  for (const side of ['outer', 'inner', 'back'] as const)
    for (const r of now[side]?.rows ?? []) {
      if (ids.has(r.id)) continue;
      let fresh = r.id;
      while (taken.has(fresh) || oldIds.has(fresh) || [...ids.values()].includes(fresh)) fresh = `${side[0]}n${n++}`;
      ids.set(r.id, fresh);
      taken.add(fresh);
    }
  // corner-born elements were mapped to new rows that may have been renamed just now
  const settle = (id: string | null): string | null => {
    if (id === null) return null;
    const [row, rest] = id.split('/');
    const known = matches.some((m) => m.to === id && m.id === id);
    return known ? id : `${ids.get(row) ?? row}${rest ? `/${rest}` : ''}`;
  };
  const elements = matches.map((m) => ({ ...m, to: settle(m.to) }));
  const part: PartDocument = {
    ...now,
    outer: renamed(now.outer, ids),
    inner: now.inner && renamed(now.inner, ids),
    ...(now.back ? { back: renamed(now.back, ids) } : {}),
  };
  const rebuilt = buildPart(part);
  const used = new Set(elements.map((m) => m.to));
  const added = allElements(rebuilt).filter((e) => !used.has(e.id));
  const elementMap = new Map(elements.map((m) => [m.id, m.to]));
  const features = matchFeatures(
    [...turnedFeatures(before), ...(old.features ?? [])],
    [...turnedFeatures(rebuilt), ...(now.features ?? [])],
    elementMap,
  );
  const notes = Object.fromEntries(
    features.flatMap((f) => (f.to && f.how !== 'new' && old.notes?.[f.id] ? [[f.to, old.notes[f.id]]] : [])),
  );
  return { part: { ...part, ...(Object.keys(notes).length > 0 ? { notes } : {}) }, elements, added, features };
};
