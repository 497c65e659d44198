/** One after another for each key: what waits for a job's row must not hold a connection while it waits. */
const MOST_WAITING = 200;

/** Too many wait for the same thing already. */
export class Crowded extends Error {
  readonly code = '55P03';
}

export class Turns {
  private readonly last = new Map<string, Promise<unknown>>();
  private readonly waiting = new Map<string, number>();

  async take<T>(key: string, work: () => Promise<T>): Promise<T> {
    const count = this.waiting.get(key) ?? 0;
    if (count >= MOST_WAITING) throw new Crowded(`${count} wait for ${key}`);
    this.waiting.set(key, count + 1);
    const before = this.last.get(key) ?? Promise.resolve();
    const mine = before.then(work, work);
    const settled = mine.catch(() => undefined);
    this.last.set(key, settled);
    try {
      return await mine;
    } finally {
      const left = (this.waiting.get(key) ?? 1) - 1;
      if (left > 0) this.waiting.set(key, left);
      else this.waiting.delete(key);
      if (this.last.get(key) === settled) this.last.delete(key);
    }
  }
}
