import PgBoss from 'pg-boss';
import { announce, JOB_CHANNEL } from '../database/announce.ts';
import type { Pool } from '../database/pool.ts';
import { insertJob, type NewJob, type ToldJob } from './jobs.ts';
import { LANES, type LaneName } from './lanes.ts';

/**
 * The queue hands out job ids, one queue a lane, and nothing more: it tries nothing again, because it has no heartbeat.
 * What a job is, who has it, how far it got and how often it was begun stands in our own table
 * (docs/decisions/job-table.md).
 */
export class Queue {
  private constructor(
    private readonly boss: PgBoss,
    private readonly laneOf: (kind: string) => LaneName,
  ) {}

  static async open(
    database: string,
    laneOf: (kind: string) => LaneName,
    onError: (error: Error) => void,
  ): Promise<Queue> {
    const boss = new PgBoss({ connectionString: database, schema: 'queue', max: 3 });
    boss.on('error', onError);
    await boss.start();
    for (const name of LANES) await boss.createQueue(name, { name, retryLimit: 0, expireInHours: 20 });
    return new Queue(boss, laneOf);
  }

  /** Offers a job that waits to the workers. */
  async offer(lane: LaneName, id: string): Promise<void> {
    await this.boss.send(lane, { id });
  }

  /** Records a job and offers it. */
  async enqueue(pool: Pool, job: NewJob): Promise<ToldJob> {
    const row = await insertJob(pool, job);
    await this.offerAll(pool, [row]);
    return row;
  }

  /**
   * Offers jobs that were recorded in a transaction, once that is through, and tells of them. Those of a process that dies
   * before this are offered by the next worker that looks for what waits.
   */
  async offerAll(pool: Pool, jobs: readonly Pick<ToldJob, 'id' | 'kind'>[]): Promise<void> {
    if (jobs.length > 0)
      await this.boss.insert(jobs.map(({ id, kind }) => ({ name: this.laneOf(kind), data: { id } })));
    for (const { id } of jobs) await announce(pool, JOB_CHANNEL, id);
  }

  /** Takes ids from a lane's queue, one after another. */
  async take(lane: LaneName, work: (id: string) => Promise<void>): Promise<void> {
    const worker: string = await this.boss.work<{ id: string }>(
      lane,
      { pollingIntervalSeconds: 0.5, batchSize: 1 },
      async ([job]) => {
        if (job) await work(job.data.id);
        // The next one at once: it is waited only where there is none.
        this.boss.notifyWorker(worker);
      },
    );
  }
}
