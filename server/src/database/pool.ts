import pg from 'pg';

export type Pool = pg.Pool;
export type Client = pg.PoolClient;

// File sizes are bigint; they stay far below 2^53.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/**
 * A pool of connections. A lost connection is replaced when the next one is asked for; its error is noted. That holds
 * for connections in use, too: the query under way fails and is answered, but the process lives on.
 * @param max connections at once; who asks for one more waits, at most ten seconds
 */
export function openPool(database: string, onError: (error: Error) => void, max = 12): Pool {
  const pool = new pg.Pool({ connectionString: database, max, connectionTimeoutMillis: 10_000 });
  pool.on('error', onError);
  // The pool listens only while a connection rests; one that breaks while it is lent out would end the process.
  pool.on('connect', (client) => client.on('error', onError));
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
