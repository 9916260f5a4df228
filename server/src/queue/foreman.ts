import { announce, JOB_CHANNEL } from '../database/announce.ts';
import { machineFaultInWords } from '../database/faults.ts';
import { inTransaction, type Pool } from '../database/pool.ts';
import {
  claimJob,
  endJob,
  jobById,
  MOST_TRIES,
  noteLook,
  noteProgress,
  putBack,
  reviveJobs,
  type ClaimedJob,
} from './jobs.ts';
import type { LaneName } from './lanes.ts';
import type { JobKind } from './kind.ts';
import type { Lane, LaneEnd } from './lane.ts';
import type { Queue } from './queue.ts';

/** Least time between two progress notes of a job, in milliseconds. */
const NOTE_EVERY = 250;

/**
 * Gives one lane its jobs and alone writes what becomes of them: claimed, how far, done, failed, put back. It listens
 * to what is announced of the job that is under way.
 */
export class Foreman {
  /** With what one looked at of it when that was told last, as JSON: news of its progress say the same again. */
  private current: { job: ClaimedJob; abort: AbortController; attention: string } | undefined;
  private stopping = false;

  constructor(
    private readonly pool: Pool,
    private readonly queue: Queue,
    private readonly name: LaneName,
    private readonly lane: Lane,
    private readonly kinds: readonly JobKind[],
    private readonly onError: (error: Error) => void,
    /** Seconds of silence after which others take its jobs for abandoned: it signs in four times as often. */
    private readonly patience: number,
  ) {}

  async start(): Promise<void> {
    await this.queue.take(this.name, (id) => this.work(id));
  }

  /** Something was announced of a job: cancelled, or to be kept as it is. */
  async heard(id: string): Promise<void> {
    const { current } = this;
    if (current?.job.id !== id) return;
    const job = await jobById(this.pool, id);
    if (job?.keep) this.lane.keep();
    const attention = JSON.stringify(job?.attention ?? null);
    if (job?.attention && attention !== current.attention) {
      current.attention = attention;
      this.lane.attend(job.attention);
    }
    // Cancelled, or begun anew with something else.
    if (!job || job.state === 'cancelled' || job.state === 'waiting')
      current.abort.abort(new Error('Cancelled'));
  }

  /** What was announced while nobody listened. */
  async missed(): Promise<void> {
    if (this.current) await this.heard(this.current.job.id);
  }

  private async work(id: string): Promise<void> {
    if (this.stopping) return;
    const job = await claimJob(this.pool, id);
    if (!job) return;
    const kind = this.kinds.find((k) => k.kind === job.kind);
    if (!kind) return putBack(this.pool, job, true);
    // What a try that died has left behind.
    await this.discard(job);
    const abort = new AbortController();
    this.current = { job, abort, attention: JSON.stringify(job.attention) };
    const state = { done: 0, message: '', noted: 0 };
    const note = async () => {
      state.noted = performance.now();
      if (!(await noteProgress(this.pool, job, state.done, state.message)))
        abort.abort(new Error('Cancelled'));
    };
    let published: Promise<void> = Promise.resolve();
    const attempt = (work: Promise<unknown>) => void work.catch(this.onError);
    const signIn = setInterval(() => attempt(note()), 250 * this.patience);
    try {
      const end = await this.lane.run(job, kind.minutes, abort.signal, {
        progress: (done, message) => {
          Object.assign(state, { done, message });
          if (performance.now() - state.noted > NOTE_EVERY) attempt(note());
        },
        publish: (details) => {
          published = published
            .then(() => kind.publish?.({ pool: this.pool, queue: this.queue }, job, details))
            .catch(this.onError);
        },
        look: (png) => attempt(noteLook(this.pool, job, png)),
      });
      // Nothing about it may be written any more by a note that is still on its way.
      clearInterval(signIn);
      await published;
      if (!this.stopping) await this.conclude(kind, job, end);
    } catch (error) {
      this.onError(error as Error);
    } finally {
      clearInterval(signIn);
      this.current = undefined;
    }
  }

  private async conclude(kind: JobKind, job: ClaimedJob, end: LaneEnd): Promise<void> {
    if (end.end === 'lost' && job.tries < MOST_TRIES) {
      await this.discard(job);
      await putBack(this.pool, job, false);
      return this.queue.offer(this.name, job.id);
    }
    if (end.end === 'done')
      try {
        const mine = await inTransaction(this.pool, async (client) => {
          if (!(await endJob(client, job, { state: 'done', message: end.message, result: end.result })))
            return false;
          await kind.beforeFiles?.(client, job);
          await client.query('update file set arriving = false where job_id = $1', [job.id]);
          await kind.finish?.(client, job, end.details);
          return true;
        });
        if (!mine) await this.discard(job);
      } catch (error) {
        this.onError(error as Error);
        await this.fail(kind, job, machineFaultInWords(error) ?? (error as Error).message);
      }
    else if (end.end === 'cancelled') await this.discard(job);
    else {
      if (end.end === 'failed' && end.stack) this.onError(new Error(end.stack));
      const tried = end.end === 'lost' ? ` It was begun ${job.tries} times.` : '';
      await this.fail(kind, job, `${end.message}${tried}`);
    }
    await announce(this.pool, JOB_CHANNEL, job.id);
    await kind.after?.({ pool: this.pool, queue: this.queue }, job);
  }

  private async fail(kind: JobKind, job: ClaimedJob, message: string): Promise<void> {
    await inTransaction(this.pool, async (client) => {
      if (await endJob(client, job, { state: 'failed', message })) await kind.failed?.(client, job, message);
    });
    await this.discard(job);
  }

  /** What a job has stored that will never be seen. */
  private async discard(job: ClaimedJob): Promise<void> {
    await this.pool.query('delete from file where job_id = $1 and arriving', [job.id]);
  }

  /** Looks for jobs that nobody does although somebody should. */
  async revive(): Promise<void> {
    const kinds = this.kinds.filter((k) => k.lane === this.name);
    const mine = this.current ? [this.current.job.id] : [];
    const { again, given } = await reviveJobs(
      this.pool,
      kinds.map((k) => k.kind),
      mine,
      this.patience,
    );
    for (const id of again) await this.queue.offer(this.name, id);
    for (const job of given) {
      await announce(this.pool, JOB_CHANNEL, job.id);
      const kind = kinds.find((k) => k.kind === job.kind);
      await inTransaction(this.pool, async (client) =>
        kind?.failed?.(client, { ...job, input: {} }, job.message),
      );
      await kind?.after?.({ pool: this.pool, queue: this.queue }, job);
    }
  }

  /** Ends what is under way and puts it back for the next start; that was no try. */
  async stop(): Promise<void> {
    this.stopping = true;
    const job = this.current?.job;
    await this.lane.stop();
    if (job) {
      await this.discard(job);
      await putBack(this.pool, job, true);
    }
  }
}
