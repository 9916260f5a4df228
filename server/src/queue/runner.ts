import type { Pool } from '../database/pool.ts';
import type { Settings } from '../settings.ts';
import type { JobRow } from './jobs.ts';

/** What a job gets to work with. */
export interface JobContext {
  pool: Pool;
  settings: Settings;
  /** Aborted when the job is cancelled. */
  signal: AbortSignal;
  /** Aborted when a render shall end with what there is. */
  keep: AbortSignal;
  /** Tells how far the job is, 0 to 1, and in words. */
  progress(done: number, message: string): void;
}

/** Does one kind of job; returns its result and a sentence about it. Throws to fail. */
export type JobRunner = (job: JobRow, context: JobContext) => Promise<{ message: string; result?: object }>;
