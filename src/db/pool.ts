import { Pool, type PoolClient, type PoolConfig, types } from 'pg';

// moments go out as ISO text, to the page as to a file
types.setTypeParser(types.builtins.TIMESTAMPTZ, (v) => new Date(v).toISOString());

/** Limits in ms that the database itself keeps, and after which a client gives up on an answer. */
export const LIMITS = { statement: 8000, lock: 3000, idle: 15_000, read: 5000, write: 9000, connect: 4000 } as const;

/** The one channel on which servers tell each other what has changed. */
export const NEWS_CHANNEL = 'lively_news';

interface Pools {
  read?: Pool;
  write?: Pool;
}
const holder = globalThis as unknown as { livelyPools?: Pools };
const pools = (): Pools => (holder.livelyPools ??= {});

/** Where the database is (set by bin/start and bin/test). */
export const databaseUrl = (): string => {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is not set. Start the program with bin/start.');
  return url;
};

const made = (config: PoolConfig): Pool => {
  const p = new Pool({
    connectionString: databaseUrl(),
    application_name: 'lively-spindle',
    connectionTimeoutMillis: LIMITS.connect,
    idleTimeoutMillis: 30_000,
    keepAlive: true,
    statement_timeout: LIMITS.statement,
    lock_timeout: LIMITS.lock,
    idle_in_transaction_session_timeout: LIMITS.idle,
    ...config,
  });
  // an idle connection that the server drops must not end the process; the next query opens a new one
  p.on('error', (error) => console.error(`database connection lost: ${error.message}`));
  return p;
};

/** For reading, and for single statements that wait for nobody: what waits for a lock must never use these up. */
export const pool = (): Pool => (pools().read ??= made({ max: 8, query_timeout: LIMITS.read }));

/** For statements and transactions that may wait for another's. */
export const writePool = (): Pool => (pools().write ??= made({ max: 8, query_timeout: LIMITS.write }));

export const closePool = async (): Promise<void> => {
  const { read, write } = pools();
  holder.livelyPools = {};
  await Promise.all([read?.end(), write?.end()]);
};

/** SQLSTATEs after which the same transaction may simply be run again. */
const RETRY = new Set(['40001', '40P01']);

/** A client that gave up waiting cannot be asked anything more: its connection may still be busy. */
const gaveUp = (error: unknown): boolean => error instanceof Error && error.message === 'Query read timeout';

/** Runs work in one transaction; serialization failures and deadlocks are tried three times. */
export const transaction = async <T>(work: (client: PoolClient) => Promise<T>): Promise<T> => {
  for (let attempt = 1; ; attempt++) {
    const client = await writePool().connect();
    let broken: Error | undefined;
    // a server that dies in between ends the query with an error of its own; the event must not end the process
    const onLost = (error: Error): void => {
      broken = error;
    };
    client.on('error', onLost);
    try {
      await client.query('begin');
      const result = await work(client);
      await client.query('commit');
      return result;
    } catch (error) {
      if (gaveUp(error)) broken = error as Error;
      else
        try {
          await client.query('rollback');
        } catch (lost) {
          broken = lost as Error;
        }
      if (attempt < 3 && RETRY.has((error as { code?: string }).code ?? '')) continue;
      throw error;
    } finally {
      client.off('error', onLost);
      client.release(broken);
    }
  }
};
