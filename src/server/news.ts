import { Client, type PoolClient } from 'pg';
import { databaseUrl, LIMITS, NEWS_CHANNEL, pool } from '../db/pool';
import type { News } from '../house/edits';

interface Told {
  readonly job: string;
  readonly news: News | { readonly kind: 'look' };
}

type Listener = (news: News | { readonly kind: 'look' }) => void;

/** Tells everybody who has a job open, on every server, once the transaction is through. */
export const tell = async (job: string, news: News, client?: PoolClient): Promise<void> => {
  const told: Told = { job, news };
  await (client ?? pool()).query('select pg_notify($1::text, $2::text)', [NEWS_CHANNEL, JSON.stringify(told)]);
};

const PING_MS = 10_000;
const AGAIN_MS = 1000;

/** Listens on one connection for all pages of this server; after a break everybody is asked to look for themselves. */
class Newsroom {
  private readonly listeners = new Map<string, Set<Listener>>();
  private client: Client | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;

  subscribe(job: string, listener: Listener): () => void {
    const set = this.listeners.get(job) ?? new Set();
    set.add(listener);
    this.listeners.set(job, set);
    this.start();
    return () => {
      set.delete(listener);
      if (set.size === 0) this.listeners.delete(job);
    };
  }

  private start(): void {
    if (this.client || this.timer) return;
    void this.connect();
  }

  private async connect(): Promise<void> {
    const client = new Client({
      connectionString: databaseUrl(),
      application_name: 'lively-spindle news',
      connectionTimeoutMillis: LIMITS.connect,
      query_timeout: LIMITS.read,
      keepAlive: true,
    });
    this.client = client;
    const lost = (error?: Error): void => {
      if (this.client !== client) return;
      if (error) console.error(`news connection lost: ${error.message}`);
      this.client = null;
      if (this.timer) clearTimeout(this.timer);
      client.removeAllListeners('notification');
      void client.end().catch(() => undefined);
      this.timer = setTimeout(() => {
        this.timer = null;
        if (this.listeners.size > 0) void this.connect();
      }, AGAIN_MS);
      this.timer.unref();
    };
    client.on('error', lost);
    client.on('end', () => lost());
    client.on('notification', (m) => {
      try {
        const { job, news } = JSON.parse(m.payload ?? '') as Told;
        for (const listener of this.listeners.get(job) ?? []) listener(news);
      } catch {
        // not ours
      }
    });
    const ping = (): void => {
      this.timer = setTimeout(() => {
        this.timer = null;
        client
          .query('select 1')
          .then(() => this.client === client && ping())
          .catch(lost);
      }, PING_MS);
      this.timer.unref();
    };
    try {
      await client.connect();
      await client.query(`listen ${NEWS_CHANNEL}`);
      // what was told while nobody listened
      for (const set of this.listeners.values()) for (const listener of set) listener({ kind: 'look' });
      ping();
    } catch (error) {
      lost(error as Error);
    }
  }
}

const holder = globalThis as unknown as { livelyNews?: Newsroom };

/** Hears what is told about a job; the result ends it. `look` says that something may have been missed. */
export const hear = (job: string, listener: Listener): (() => void) => {
  holder.livelyNews ??= new Newsroom();
  return holder.livelyNews.subscribe(job, listener);
};
