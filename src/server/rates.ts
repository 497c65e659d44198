/** Tokens that fill up again: how fast somebody may ask. One server counts for itself. */

export interface Rate {
  /** Requests at once, and a second in the long run. */
  readonly burst: number;
  readonly perSecond: number;
}

export const RATES = {
  /** Everything that a person's session asks. */
  person: { burst: 240, perSecond: 40 },
  /** An address that has not signed in. */
  stranger: { burst: 120, perSecond: 12 },
  /** Refusals of a person for want of a right that are written down: many say no more than some. */
  refusal: { burst: 20, perSecond: 0.05 },
  /** Uploads of parts by a person. */
  upload: { burst: 30, perSecond: 1 },
  /** Orders that a person has looked for. */
  order: { burst: 10, perSecond: 0.2 },
} as const satisfies Record<string, Rate>;

interface Bucket {
  tokens: number;
  at: number;
}

/** More keys than this at once are only made by somebody who invents them: the oldest go first. */
const MOST = 20_000;

export class Rates {
  private readonly buckets = new Map<string, Bucket>();

  /** Seconds to wait before the next request; 0 when this one may go on. */
  take(key: string, rate: Rate, now = Date.now()): number {
    const kept = this.buckets.get(key);
    const tokens = kept ? Math.min(rate.burst, kept.tokens + ((now - kept.at) / 1000) * rate.perSecond) : rate.burst;
    this.buckets.delete(key);
    if (this.buckets.size >= MOST) this.buckets.delete(this.buckets.keys().next().value as string);
    const left = tokens >= 1 ? tokens - 1 : tokens;
    this.buckets.set(key, { tokens: left, at: now });
    return tokens >= 1 ? 0 : Math.ceil((1 - tokens) / rate.perSecond);
  }
}

const holder = globalThis as unknown as { livelyRates?: Rates };
export const rates = (): Rates => (holder.livelyRates ??= new Rates());
