import { Pool, type PoolClient } from 'pg';

const globalPool = globalThis as unknown as { livelyPool?: Pool };

/** One pool for the process; the address comes from DATABASE_URL (set by bin/start and bin/test). */
export const pool = (): Pool => {
  if (!globalPool.livelyPool) {
    const connectionString = process.env.DATABASE_URL;
    if (!connectionString) throw new Error('DATABASE_URL is not set. Start the program with bin/start.');
    globalPool.livelyPool = new Pool({ connectionString, max: 10, connectionTimeoutMillis: 5000 });
    // an idle connection that the server drops must not end the process; the next query opens a new one
    globalPool.livelyPool.on('error', (error) => console.error(`database connection lost: ${error.message}`));
  }
  return globalPool.livelyPool;
};

export const closePool = async (): Promise<void> => {
  const p = globalPool.livelyPool;
  globalPool.livelyPool = undefined;
  await p?.end();
};

/** SQLSTATEs after which the same transaction may simply be run again. */
const RETRY = new Set(['40001', '40P01']);

/** Runs work in one transaction; serialization failures and deadlocks are tried three times. */
export const transaction = async <T>(work: (client: PoolClient) => Promise<T>): Promise<T> => {
  for (let attempt = 1; ; attempt++) {
    const client = await pool().connect();
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
