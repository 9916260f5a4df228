import pg from 'pg';

export type Pool = pg.Pool;
export type Client = pg.PoolClient;

// File sizes are bigint; they stay far below 2^53.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** A pool of connections. Lost idle connections are replaced by the pool, so their errors are only noted. */
export function openPool(database: string, onError: (error: Error) => void): Pool {
  const pool = new pg.Pool({ connectionString: database, max: 12, connectionTimeoutMillis: 10_000 });
  pool.on('error', onError);
  return pool;
}

/** Runs `work` in a transaction; rolls back if it throws. */
export async function inTransaction<T>(pool: Pool, work: (client: Client) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  let broken: Error | undefined;
  try {
    await client.query('begin');
    const result = await work(client);
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch((e: Error) => (broken = e));
    throw error;
  } finally {
    client.release(broken);
  }
}
