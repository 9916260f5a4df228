import pg from 'pg';
import type { Pool } from '../database/pool.ts';
import { JOB_CHANNEL, SHOT_CHANNEL } from '../database/announce.ts';
import { jobById } from '../queue/jobs.ts';

/** Something that happened, as it is sent to browsers. */
export interface ServerEvent {
  /** A job that changed, one that is not there any more, or a shot that changed. */
  event: 'job' | 'job-gone' | 'shot';
  data: object;
}

/** Passes on what PostgreSQL announces to everyone who listens. */
export class EventHub {
  private readonly listeners = new Set<(event: ServerEvent) => void>();
  private client: pg.Client | undefined;
  private stopped = false;

  constructor(
    private readonly pool: Pool,
    private readonly database: string,
    private readonly onError: (error: Error) => void,
  ) {}

  async start(): Promise<void> {
    const client = new pg.Client({ connectionString: this.database });
    this.client = client;
    client.on('error', (error) => {
      this.onError(error);
      // The database was restarted, most likely: listen again as soon as it answers.
      if (!this.stopped) setTimeout(() => void this.start().catch(this.onError), 1000);
    });
    client.on(
      'notification',
      ({ channel, payload }) => void this.pass(channel, payload ?? '').catch(this.onError),
    );
    await client.connect();
    await client.query(`listen ${JOB_CHANNEL}`);
    await client.query(`listen ${SHOT_CHANNEL}`);
  }

  private async pass(channel: string, id: string): Promise<void> {
    if (this.listeners.size === 0) return;
    const event =
      channel === JOB_CHANNEL ? await this.jobEvent(id) : { event: 'shot' as const, data: { id } };
    for (const listener of this.listeners) listener(event);
  }

  private async jobEvent(id: string): Promise<ServerEvent> {
    const job = await jobById(this.pool, id);
    return job ? { event: 'job', data: job } : { event: 'job-gone', data: { id } };
  }

  subscribe(listener: (event: ServerEvent) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  async stop(): Promise<void> {
    this.stopped = true;
    await this.client?.end();
  }
}
