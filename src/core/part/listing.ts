import { allElements, type Part } from './contour';
import { describeFeature, type Feature, type FeatureKind, type FeatureNote, FeatureNoteSchema } from './feature';
import { turnedFeatures } from './features';
import type { PartDocument } from './profile';

/** A feature as the user sees it: with name, marks, and where it comes from. */
export interface ListedFeature extends Feature {
  readonly words: string;
  readonly note: FeatureNote;
  readonly from: 'profile' | 'solid' | 'user';
  /** Ids of the features that were merged into it, itself included. */
  readonly members: readonly string[];
}

/** A feature of which nothing has been said. */
export const PLAIN_NOTE: FeatureNote = FeatureNoteSchema.parse({});

/** Features by hand carry this in their id. */
const BY_HAND = 'hand:';

const pieces = (f: Feature): Feature[] => {
  if (f.angles.length > 1) {
    const { count: _, ...sizes } = f.sizes;
    return f.angles.map((a, i) => ({ ...f, id: `${f.id}@${i + 1}`, angles: [a], sizes }));
  }
  return f.elements.length > 1 ? f.elements.map((e, i) => ({ ...f, id: `${f.id}@${i + 1}`, elements: [e] })) : [f];
};

const joined = (list: readonly Feature[]): Feature => {
  const [first] = list;
  return {
    ...first,
    place: {
      front: Math.max(...list.map((f) => f.place.front)),
      back: Math.min(...list.map((f) => f.place.back)),
      inner: Math.min(...list.map((f) => f.place.inner)),
      outer: Math.max(...list.map((f) => f.place.outer)),
    },
    angles: [...new Set(list.flatMap((f) => f.angles))].sort((a, b) => a - b),
    elements: [...new Set(list.flatMap((f) => f.elements))],
  };
};

/**
 * All features of a part in the order in which they lie, front to back, those from the front first: told from the profile,
 * kept from the solid, added by hand; split, merged, named and ignored as the user said.
 */
export const listFeatures = (document: PartDocument, part: Part): ListedFeature[] => {
  const stored = document.features ?? [];
  const all: { f: Feature; from: ListedFeature['from'] }[] = [
    ...turnedFeatures(part).map((f) => ({ f, from: 'profile' as const })),
    ...stored.map((f) => ({ f, from: f.id.startsWith(BY_HAND) ? ('user' as const) : ('solid' as const) })),
  ];
  const split = new Set(document.split ?? []);
  const parts = all.flatMap(({ f, from }) =>
    (split.has(f.id) ? pieces(f) : [f]).map((p) => ({ f: p, from, members: [p.id] })),
  );
  let listed = parts;
  for (const group of document.merged ?? []) {
    const inside = group.flatMap((id) => listed.filter((k) => k.f.id === id));
    if (inside.length < 2) continue;
    const one = { f: joined(inside.map((k) => k.f)), from: inside[0].from, members: inside.flatMap((k) => k.members) };
    listed = listed.flatMap((k) => (k === inside[0] ? [one] : inside.includes(k) ? [] : [k]));
  }
  const rank = { main: 0, radial: 1, angled: 2, back: 3 } as const;
  return listed
    .map(({ f, from, members }): ListedFeature => {
      const note = document.notes?.[f.id] ?? PLAIN_NOTE;
      return { ...f, words: note.name !== '' ? note.name : describeFeature(f), note, from, members };
    })
    .sort((a, b) => rank[a.access] - rank[b.access] || b.place.front - a.place.front || b.place.outer - a.place.outer);
};

/** A feature that the user makes of elements of the contour. */
export const featureByHand = (
  part: Part,
  elements: readonly string[],
  kind: FeatureKind,
  number: number,
): Feature | null => {
  const chosen = allElements(part).filter((e) => elements.includes(e.id));
  if (chosen.length === 0) return null;
  const zs = chosen.flatMap((e) => [e.curve.from.x, e.curve.to.x]);
  const ds = chosen.flatMap((e) => [e.curve.from.y * 2, e.curve.to.y * 2]);
  const place = { front: Math.max(...zs), back: Math.min(...zs), inner: Math.min(...ds), outer: Math.max(...ds) };
  const bore = chosen[0].side !== 'outer';
  return {
    id: `${BY_HAND}${number}`,
    kind,
    access: chosen[0].side === 'back' ? 'back' : kind === 'groove' ? 'radial' : 'main',
    sizes: {
      width: place.front - place.back,
      depth: (place.outer - place.inner) / 2,
      diameter: bore ? place.outer : place.inner,
      length: place.front - place.back,
    },
    place,
    angles: [],
    through: false,
    proposed: false,
    elements: chosen.map((e) => e.id),
  };
};
