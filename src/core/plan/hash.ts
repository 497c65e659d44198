import { onceFor, type Region, Surface } from '../geometry';
import { isMove, type MotionEvent } from '../motion';
import type { Body } from '../stock';

const BITS = (() => {
  const float = new Float64Array(1);
  return { float, words: new Int32Array(float.buffer) };
})();

/** What is not a number says first what it is. */
const TEXT = 0x7e87;
const LIST = 0x1157;
const FIELDS = 0xf1e1;
const SURFACE = 0x50f7;

/** Numbers for the names of fields, which are few and come again and again. */
const names = new Map<string, number>();
const nameCode = (name: string): number => {
  let code = names.get(name);
  if (code === undefined) {
    code = 0x811c9dc5;
    for (let i = 0; i < name.length; i++) code = Math.imul(code ^ name.charCodeAt(i), 0x01000193);
    names.set(name, code);
  }
  return code;
};

/** Hashes of values that are never changed and go into many keys, such as the section of a tool. */
const kept = new WeakMap<object, string>();

/** Keeps the hash of a value with it: only for values that nobody changes. */
export const keepHash = <T extends object>(value: T): T => {
  if (!kept.has(value)) kept.set(value, hashOf(value));
  return value;
};

/** Two mixed 32-bit lanes; only for cache keys. Fields in another order make another key, which costs work, no more. */
export class Hasher {
  private h1 = 0xdeadbeef;
  private h2 = 0x41c6ce57;

  private mix(v: number): void {
    this.h1 = Math.imul(this.h1 ^ v, 2654435761) ^ (this.h1 >>> 15);
    this.h2 = Math.imul(this.h2 ^ v, 1597334677) ^ (this.h2 >>> 13);
  }

  /** The number as it is, to its last bit; 0 has no sign. */
  number(v: number): this {
    BITS.float[0] = v + 0;
    this.mix(BITS.words[0]);
    this.mix(BITS.words[1]);
    return this;
  }

  text(s: string): this {
    this.mix(TEXT);
    this.mix(s.length);
    for (let i = 0; i < s.length; i++) this.mix(s.charCodeAt(i));
    return this;
  }

  /** Any plain value, whatever fields it has: a field that is added is hashed without being named here. */
  value(v: unknown): this {
    if (typeof v === 'number') return this.number(v);
    if (typeof v === 'string') return this.text(v);
    if (typeof v === 'boolean') {
      this.mix(v ? 7 : 11);
      return this;
    }
    if (v === null || v === undefined) {
      this.mix(3);
      return this;
    }
    if (typeof v !== 'object') throw new Error(`invariant: ${typeof v} cannot be hashed`);
    const known = kept.get(v);
    if (known !== undefined) return this.text(known);
    if (v instanceof Surface) {
      const { x, y } = v.corners;
      this.mix(SURFACE);
      this.mix(x.length);
      for (let i = 0; i < x.length; i++) this.number(x[i]).number(y[i]);
      return this;
    }
    if (Array.isArray(v)) {
      this.mix(LIST);
      this.mix(v.length);
      for (const k of v) this.value(k);
      return this;
    }
    this.mix(FIELDS);
    for (const key in v) {
      this.mix(nameCode(key));
      this.value((v as Record<string, unknown>)[key]);
    }
    this.mix(5);
    return this;
  }

  get key(): string {
    let a = this.h1;
    let b = this.h2;
    a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
    b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
    return (b >>> 0).toString(36) + (a >>> 0).toString(36);
  }
}

export const hashOf = (...values: unknown[]): string => {
  const h = new Hasher();
  for (const v of values) h.value(v);
  return h.key;
};

/** Hash of a region by its coordinates; kept with the region. */
export const hashRegion = onceFor((region: Region): string => {
  const h = new Hasher();
  for (const ring of region) for (const p of ring) h.number(p.x).number(p.y);
  return h.number(region.length).key;
});

/** Hash of a body; kept with what turning has left of it. */
export const hashBody = (body: Body): string => hashRegion(body.turnedOutline);

/** Hash of the way that events go: what metal and machine meet, whatever the feed and the speed. Kept with the list. */
export const hashWay = onceFor((events: readonly MotionEvent[]): string => {
  const h = new Hasher();
  for (const e of events) {
    if (isMove(e)) h.value({ ...e, feed: null });
    else if (e.kind === 'tool' || e.kind === 'home') h.value(e);
    else h.text(e.kind);
  }
  return h.number(events.length).key;
});
