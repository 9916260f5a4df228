import type { Pool } from './pool.ts';

/** Channel on which every change of a job is announced, with the job's id. */
export const JOB_CHANNEL = 'zesty_crow_job';

/** Channel on which a change of a shot is announced, with the shot's id. */
export const SHOT_CHANNEL = 'zesty_crow_shot';

export const announce = (pool: Pool, channel: string, id: string) =>
  pool.query('select pg_notify($1, $2)', [channel, id]);
