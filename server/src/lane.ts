/** A lane's process, begun by the worker: does jobs, one after another. */
import { setPriority } from 'node:os';
import { pino } from 'pino';
import { openPool } from './database/pool.ts';
import { JOB_KINDS } from './job-kinds.ts';
import { serveLane } from './queue/lane-process.ts';
import { readSettings } from './settings.ts';

const log = pino({ name: `lane-${process.env['LANE']}`, level: process.env['LOG_LEVEL'] ?? 'warn' });
const settings = readSettings();
// It lets everybody else go first: somebody may be working on the same machine.
setPriority(process.env['LANE'] === 'quiet' ? 10 : 5);
serveLane(
  JOB_KINDS,
  openPool(settings.database, (error) => log.error(error), 3),
  settings,
);
