import pg from 'pg';

/** What a {@link Listener} tells. */
export interface Heard {
  notification(channel: string, payload: string): void;
  /** Listening again after the connection was lost: what was announced meanwhile was missed. */
  again(): void;
  error(error: Error): void;
}

const FIRST_WAIT = 250;
const LONGEST_WAIT = 5000;

/**
 * Listens to PostgreSQL's announcements for as long as the process lives: a lost connection, or a database that was
 * restarted, is found again with growing pauses.
 */
export class Listener {
  private client: pg.Client | undefined;
  private stopped = false;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly database: string,
    private readonly name: string,
    private readonly channels: readonly string[],
    private readonly heard: Heard,
  ) {}

  /** Resolves when it listens for the first time; rejects if the database cannot be reached then. */
  async start(): Promise<void> {
    const client = new pg.Client({
      connectionString: this.database,
      application_name: this.name,
      keepAlive: true,
      connectionTimeoutMillis: 10_000,
    });
    let lost = false;
    const lose = (error?: Error) => {
      if (error) this.heard.error(error);
      if (lost || this.stopped) return;
      lost = true;
      if (this.client === client) {
        this.client = undefined;
        this.findAgain(FIRST_WAIT);
      }
    };
    client.on('error', lose);
    client.on('end', () => lose());
    client.on('notification', ({ channel, payload }) => this.heard.notification(channel, payload ?? ''));
    await client.connect();
    for (const channel of this.channels) await client.query(`listen ${client.escapeIdentifier(channel)}`);
    if (this.stopped) await client.end();
    else this.client = client;
  }

  private findAgain(wait: number): void {
    this.timer = setTimeout(() => {
      this.start().then(
        () => this.heard.again(),
        (error: Error) => {
          this.heard.error(error);
          if (!this.stopped) this.findAgain(Math.min(LONGEST_WAIT, wait * 2));
        },
      );
    }, wait);
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.timer);
    await this.client?.end();
  }
}
