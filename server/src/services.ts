import type { Pool } from './database/pool.ts';
import type { EventHub } from './events/hub.ts';
import type { Queue } from './queue/queue.ts';
import type { Settings } from './settings.ts';

/** What the routes work with. */
export interface Services {
  /** For small calls, which always get through. */
  pool: Pool;
  /** For bytes on their way in and out. */
  transfers: Pool;
  queue: Queue;
  events: EventHub;
  settings: Settings;
}
