import type PgBoss from 'pg-boss';
import type { Pool } from './database/pool.ts';
import type { EventHub } from './events/hub.ts';
import type { Settings } from './settings.ts';

/** What the routes work with. */
export interface Services {
  pool: Pool;
  boss: PgBoss;
  events: EventHub;
  settings: Settings;
}
