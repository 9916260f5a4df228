import type { Pool } from '../database/pool.ts';
import { machineFaultInWords } from '../database/faults.ts';
import type { Settings } from '../settings.ts';
import type { JobKind } from './kind.ts';
import type { FromLane, ToLane } from './messages.ts';

/**
 * The program of a lane's process: does the jobs that the worker sends, one after another, and says how they go. It
 * writes no job's state. It ends with the worker.
 */
export function serveLane(kinds: readonly JobKind[], pool: Pool, settings: Settings): void {
  const say = (message: FromLane) => process.send?.(message);
  let current:
    | { abort: AbortController; keep: AbortController; attention: object; hear?: (attention: object) => void }
    | undefined;

  async function run(order: Extract<ToLane, { do: 'run' }>): Promise<void> {
    const { job } = order;
    const { id } = job;
    const own: NonNullable<typeof current> = {
      abort: new AbortController(),
      keep: new AbortController(),
      attention: job.attention ?? {},
    };
    current = own;
    if (order.keep) own.keep.abort();
    try {
      const kind = kinds.find((k) => k.kind === job.kind);
      if (!kind) throw new Error(`Nobody here knows how to do a job of the kind "${job.kind}".`);
      const outcome = await kind.run(job, {
        pool,
        settings,
        signal: own.abort.signal,
        keep: own.keep.signal,
        attend(hear) {
          own.hear = hear;
          hear(own.attention);
        },
        publish: (details) => say({ say: 'publish', id, details }),
        progress: (done, message) => say({ say: 'progress', id, done, message }),
        look: (png) => say({ say: 'look', id, png }),
      });
      say({ say: 'done', id, ...outcome });
    } catch (thrown) {
      const error = thrown instanceof Error ? thrown : new Error(String(thrown));
      say({
        say: 'failed',
        id,
        message: machineFaultInWords(error) ?? error.message,
        ...(error.stack ? { stack: error.stack } : {}),
      });
    } finally {
      current = undefined;
    }
  }

  process.on('message', (order: ToLane) => {
    if (order.do === 'run') void run(order);
    else if (order.do === 'cancel') current?.abort.abort(new Error('Cancelled'));
    else if (order.do === 'keep') current?.keep.abort();
    else if (current) {
      current.attention = order.attention;
      current.hear?.(order.attention);
    }
  });
  process.on('disconnect', () => process.exit(0));
  // Ctrl-C reaches every process of a terminal; the worker ends this one when it is time.
  process.on('SIGINT', () => undefined);
  say({ say: 'ready' });
}
