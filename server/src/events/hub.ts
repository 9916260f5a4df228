import { JOB_CHANNEL, SHOT_CHANNEL } from '../database/announce.ts';
import { Listener } from '../database/listener.ts';
import type { Pool } from '../database/pool.ts';
import { jobById } from '../queue/jobs.ts';
import type { DiskState, Job, ServerEvent } from '../contract.ts';

/** Passes on what PostgreSQL announces to everyone who listens. */
export class EventHub {
  private readonly listeners = new Set<(event: ServerEvent) => void>();
  private readonly listener: Listener;
  private diskState: DiskState = { free: Infinity, low: false };

  constructor(
    private readonly pool: Pool,
    database: string,
    onError: (error: Error) => void,
  ) {
    this.listener = new Listener(database, 'zesty-crow-events', [JOB_CHANNEL, SHOT_CHANNEL], {
      notification: (channel, id) => void this.pass(channel, id).catch(onError),
      // What happened while the database was away was missed: pages load anew what they show.
      again: () => this.tell({ event: 'missed', data: {} }),
      error: onError,
    });
  }

  start(): Promise<void> {
    return this.listener.start();
  }

  private async pass(channel: string, id: string): Promise<void> {
    if (this.listeners.size === 0) return;
    this.tell(channel === JOB_CHANNEL ? await this.jobEvent(id) : { event: 'shot', data: { id } });
  }

  private async jobEvent(id: string): Promise<ServerEvent> {
    const job = await jobById(this.pool, id);
    return job ? { event: 'job', data: job as Job } : { event: 'job-gone', data: { id } };
  }

  /** Tells every page. */
  tell(event: ServerEvent): void {
    for (const listener of this.listeners) listener(event);
  }

  /** Notes how full the disk is; pages are told when it becomes low and when it no longer is. */
  noteDisk(state: DiskState): void {
    const before = this.diskState;
    this.diskState = state;
    if (state.low !== before.low) this.tell({ event: 'disk', data: state });
  }
  disk(): DiskState {
    return this.diskState;
  }

  /** Returns how to stop listening. */
  subscribe(listener: (event: ServerEvent) => void): () => void {
    this.listeners.add(listener);
    if (this.diskState.low) listener({ event: 'disk', data: this.diskState });
    return () => this.listeners.delete(listener);
  }

  stop(): Promise<void> {
    return this.listener.stop();
  }
}
