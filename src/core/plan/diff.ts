/** Edits as data: what a change added, changed and removed, by JSON pointer. The unit of undo, autosave and history. */
export interface Diff {
  readonly added: Readonly<Record<string, unknown>>;
  readonly updated: Readonly<Record<string, readonly [from: unknown, to: unknown]>>;
  readonly removed: Readonly<Record<string, unknown>>;
}

type Json = unknown;
type JsonObject = Record<string, Json>;

const isObject = (v: Json): v is JsonObject => typeof v === 'object' && v !== null && !Array.isArray(v);
const escapeKey = (key: string): string => key.replace(/~/g, '~0').replace(/\//g, '~1');
const unescapeKey = (key: string): string => key.replace(/~1/g, '/').replace(/~0/g, '~');

const same = (a: Json, b: Json): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** Least diff from one document to another. Lists count as one value: their order has a meaning of its own. */
export const diffDocuments = (before: Json, after: Json): Diff => {
  const diff = { added: {} as JsonObject, updated: {} as Record<string, [Json, Json]>, removed: {} as JsonObject };
  const walk = (a: JsonObject, b: JsonObject, path: string): void => {
    for (const key of Object.keys(a)) {
      const here = `${path}/${escapeKey(key)}`;
      // what is shared is the same
      if (key in b && a[key] === b[key]) continue;
      if (!(key in b) || b[key] === undefined) {
        if (a[key] !== undefined) diff.removed[here] = a[key];
      } else if (isObject(a[key]) && isObject(b[key])) walk(a[key], b[key], here);
      else if (!same(a[key], b[key])) diff.updated[here] = [a[key], b[key]];
    }
    for (const key of Object.keys(b))
      if (b[key] !== undefined && (!(key in a) || a[key] === undefined))
        diff.added[`${path}/${escapeKey(key)}`] = b[key];
  };
  if (isObject(before) && isObject(after)) walk(before, after, '');
  else if (!same(before, after)) diff.updated[''] = [before, after];
  return diff;
};

export const isEmptyDiff = (d: Diff): boolean =>
  Object.keys(d.added).length + Object.keys(d.updated).length + Object.keys(d.removed).length === 0;

export const invertDiff = (d: Diff): Diff => ({
  added: d.removed,
  removed: d.added,
  updated: Object.fromEntries(Object.entries(d.updated).map(([k, [from, to]]) => [k, [to, from]])),
});

const RESERVED = new Set(['__proto__', 'constructor', 'prototype']);

/**
 * A new document with the diff applied, which shares with the old one all that the diff does not touch; a path through
 * something that is no object throws with its place.
 */
export const applyDiff = <T>(document: T, diff: Diff): T => {
  if ('' in diff.updated) return diff.updated[''][1] as T;
  // objects made here, which may be written to
  const own = new Set<JsonObject>();
  const copied = (o: JsonObject): JsonObject => {
    if (own.has(o)) return o;
    const copy = { ...o };
    own.add(copy);
    return copy;
  };
  if (!isObject(document)) throw new Error('The change is to something that is no document.');
  const root = copied(document);
  const at = (path: string): { parent: JsonObject; key: string } => {
    const keys = path.split('/').slice(1).map(unescapeKey);
    let parent = root;
    for (const key of keys.slice(0, -1)) {
      const next = RESERVED.has(key) ? undefined : parent[key];
      if (!isObject(next)) throw new Error(`The change names ${path}, but there is nothing at ${key}.`);
      parent = parent[key] = copied(next);
    }
    const key = keys[keys.length - 1];
    if (RESERVED.has(key)) throw new Error(`The change names ${path}, which is not allowed.`);
    return { parent, key };
  };
  for (const path of Object.keys(diff.removed)) {
    const { parent, key } = at(path);
    delete parent[key];
  }
  for (const [path, value] of Object.entries(diff.added)) {
    const { parent, key } = at(path);
    parent[key] = value;
  }
  for (const [path, [, to]] of Object.entries(diff.updated)) {
    const { parent, key } = at(path);
    parent[key] = to;
  }
  return root as unknown as T;
};

/** `after`, with all that is in it as it was in `before` taken from there: what has not changed is the same object. */
export const sharedWith = <T>(before: T, after: T): T => shared(before, after) as T;

const shared = (a: Json, b: Json): Json => {
  if (a === b) return a;
  if (Array.isArray(a) && Array.isArray(b)) {
    const list = b.map((v, i) => (i < a.length ? shared(a[i], v) : v));
    return list.length === a.length && list.every((v, i) => v === a[i]) ? a : list;
  }
  if (!isObject(a) || !isObject(b)) return b;
  const keys = Object.keys(b);
  let changed = keys.length !== Object.keys(a).length;
  const made: JsonObject = {};
  for (const key of keys) {
    const was = Object.hasOwn(a, key) ? a[key] : undefined;
    made[key] = shared(was, b[key]);
    if (made[key] !== was || !Object.hasOwn(a, key)) changed = true;
  }
  return changed ? made : a;
};

/** The document with values put at JSON pointers; a place that is not there is an error, as in a diff. */
export const withValues = <T>(document: T, values: Readonly<Record<string, unknown>>): T => {
  const entries = Object.entries(values);
  return entries.length === 0 ? document : (applyDiff(document, { added: values, updated: {}, removed: {} }) as T);
};
