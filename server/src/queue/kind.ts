import type { Client, Pool } from '../database/pool.ts';
import type { Settings } from '../settings.ts';
import type { ClaimedJob, JobRow } from './jobs.ts';
import type { LaneName } from './lanes.ts';
import type { Queue } from './queue.ts';

/** What a job gets to work with, in the lane's process. */
export interface JobContext {
  pool: Pool;
  settings: Settings;
  /** Aborted when the job is cancelled. */
  signal: AbortSignal;
  /** Aborted when a render shall end with what there is. */
  keep: AbortSignal;
  /** Hears what one looks at of what the job is making: at once what that is now, then whenever it changes. */
  attend(hear: (attention: object) => void): void;
  /** Hands over what there is before the job is done, see {@link JobKind.publish}. */
  publish(details: unknown): void;
  /** Tells how far the job is, 0 to 1, and in words. */
  progress(done: number, message: string): void;
  /** Shows what the job is making, as a PNG. */
  look(png: Uint8Array): void;
}

/** What a job's work has come to. `details` are for {@link JobKind.finish} and must survive JSON. */
export interface Outcome<D = unknown> {
  message: string;
  result?: object;
  details: D;
}

/** Where jobs live: what follows from the end of one may be another one. */
export interface JobHome {
  pool: Pool;
  queue: Queue;
}

/**
 * One kind of job. The work runs in the lane's process and may take long, take much memory, or die. What it stores is
 * out of sight until `finish`, which the worker runs in the one transaction that also ends the job: either both are
 * there or neither.
 */
export interface JobKind<D = unknown> {
  kind: string;
  lane: LaneName;
  /** The work is ended after so many minutes. */
  minutes: number;
  /** Throws to fail; the error's message is for the user. */
  run(job: JobRow, context: JobContext): Promise<Outcome<D>>;
  /** Before the files come into sight that the job has stored. */
  beforeFiles?(client: Client, job: JobRow): Promise<void>;
  finish?(client: Client, job: JobRow, details: D): Promise<void>;
  /** Makes public, in the worker, what a running job has handed over. */
  publish?(home: JobHome, job: ClaimedJob, details: unknown): Promise<void>;
  /** After a job is over, however it ended; also after it was cancelled. */
  after?(home: JobHome, job: Pick<JobRow, 'id' | 'shot_id' | 'version_id'>): Promise<void>;
  /** A job failed; the message is what the user is told. */
  failed?(client: Client, job: JobRow, message: string): Promise<void>;
}

/** Registers a kind of job; only the compiler knows what `details` are. */
export const defineJob = <D>(kind: JobKind<D>): JobKind => kind as JobKind;

/** A job cannot be done; the message is for the user. */
export class JobError extends Error {
  override name = 'JobError';
}
