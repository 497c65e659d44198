import { type Region, Surface } from '../geometry';

/** Two mixed 32-bit lanes; only for cache keys. */
export class Hasher {
  private h1 = 0xdeadbeef;
  private h2 = 0x41c6ce57;

  private mix(v: number): void {
    this.h1 = Math.imul(this.h1 ^ v, 2654435761) ^ (this.h1 >>> 15);
    this.h2 = Math.imul(this.h2 ^ v, 1597334677) ^ (this.h2 >>> 13);
  }

  number(v: number): this {
    // a grid of a hundredth of a micrometre, low and high part
    const scaled = v * 1e5;
    const high = Math.floor(scaled / 4294967296);
    this.mix(Math.round(scaled - high * 4294967296) | 0);
    this.mix(high | 0);
    if (!Number.isFinite(v)) this.text(String(v));
    return this;
  }

  text(s: string): this {
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
    if (v instanceof Surface) {
      const { x, y } = v.corners;
      this.mix(x.length);
      for (let i = 0; i < x.length; i++) this.number(x[i]).number(y[i]);
      return this;
    }
    if (Array.isArray(v)) {
      this.mix(v.length);
      for (const k of v) this.value(k);
      return this;
    }
    if (typeof v === 'object') {
      for (const key of Object.keys(v).sort()) this.text(key).value((v as Record<string, unknown>)[key]);
      this.mix(5);
      return this;
    }
    throw new Error(`invariant: ${typeof v} cannot be hashed`);
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

const regions = new WeakMap<Region, string>();

/** Hash of a region by its coordinates on a 10 nm grid; kept with the region. */
export const hashRegion = (region: Region): string => {
  const known = regions.get(region);
  if (known) return known;
  const h = new Hasher();
  for (const ring of region) for (const p of ring) h.number(p.x).number(p.y);
  h.number(region.length);
  const key = h.key;
  regions.set(region, key);
  return key;
};
