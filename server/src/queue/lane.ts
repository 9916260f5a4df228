import { fork, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import type { JobRow } from './jobs.ts';
import type { LaneName } from './lanes.ts';
import type { Outcome } from './kind.ts';
import type { FromLane, ToLane } from './messages.ts';

/** How a job of a lane ended. `lost`: the process died under it, which says nothing about the job yet. */
export type LaneEnd =
  | ({ end: 'done' } & Outcome)
  | { end: 'failed'; message: string; stack?: string }
  | { end: 'cancelled' }
  | { end: 'lost'; message: string };

/** What is told while a job runs. */
export interface LaneEvents {
  progress(done: number, message: string): void;
  look(png: Uint8Array): void;
  publish(details: unknown): void;
}

export interface LaneOptions {
  /** Program of the process, see `serveLane`. */
  program: string;
  lane: LaneName;
  /** Resident memory at which the process is ended, in bytes. */
  memory: number;
  onError: (error: Error) => void;
}

/** A process that was asked to stop has so long to do it, in milliseconds. */
const GRACE = 2000;
const WATCH_EVERY = 250;
const FIRST_WAIT = 200;
const LONGEST_WAIT = 10_000;

/** Resident memory of a process in bytes, by Linux's proc file system; 0 where there is none. */
function residentMemory(pid: number): number {
  try {
    return 1024 * Number(/^VmRSS:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0);
  } catch {
    return 0;
  }
}

/**
 * A process that does the jobs of one lane, kept warm between them and started anew whenever it ends. Work that blocks,
 * grows without bounds or crashes is ended there without harm to anything else. Time and resident memory are bounded
 * from here: limits of the heap do not see typed arrays.
 */
export class Lane {
  private child: ChildProcess | undefined;
  private ready: Promise<ChildProcess>;
  private stopped = false;
  private wait = FIRST_WAIT;
  private running: { id: string; events: LaneEvents; end: (end: LaneEnd) => void } | undefined;

  constructor(private readonly options: LaneOptions) {
    this.ready = this.begin();
  }

  private begin(): Promise<ChildProcess> {
    return new Promise((resolve) => {
      const child = fork(this.options.program, [], {
        execArgv: process.execArgv,
        env: { ...process.env, LANE: this.options.lane },
        serialization: 'advanced',
      });
      this.child = child;
      child.on('message', (message: FromLane) => {
        if (message.say === 'ready') {
          this.wait = FIRST_WAIT;
          return resolve(child);
        }
        this.hear(message);
      });
      child.on('error', this.options.onError);
      child.once('exit', (code, signal) => {
        if (this.stopped) return;
        const how = signal ? `was ended by ${signal}` : `ended with code ${code}`;
        if (this.running) this.running.end({ end: 'lost', message: `The program that worked on it ${how}.` });
        else this.options.onError(new Error(`The program of the lane "${this.options.lane}" ${how}.`));
        const wait = this.wait;
        this.wait = Math.min(LONGEST_WAIT, this.wait * 2);
        this.ready = new Promise((again) =>
          setTimeout(() => again(this.stopped ? child : this.begin()), wait),
        );
        // Who waits for a process that never became ready waits for its successor.
        void this.ready.then(resolve);
      });
    });
  }

  private hear(message: Exclude<FromLane, { say: 'ready' }>): void {
    const { running } = this;
    if (!running || message.id !== running.id) return;
    if (message.say === 'progress') running.events.progress(message.done, message.message);
    else if (message.say === 'look') running.events.look(message.png);
    else if (message.say === 'publish') running.events.publish(message.details);
    else if (message.say === 'done')
      running.end({
        end: 'done',
        message: message.message,
        details: message.details,
        ...(message.result ? { result: message.result } : {}),
      });
    else
      running.end({
        end: 'failed',
        message: message.message,
        ...(message.stack ? { stack: message.stack } : {}),
      });
  }

  private tell(order: ToLane): void {
    if (this.child?.connected) this.child.send(order);
  }

  /** Ends the process at once; another one is begun. */
  private kill(): void {
    this.child?.kill('SIGKILL');
  }

  /** Asks the job to end with what there is. */
  keep(): void {
    this.tell({ do: 'keep' });
  }

  /** Tells the job what one looks at. */
  attend(attention: object): void {
    this.tell({ do: 'attend', attention });
  }

  /**
   * Does one job; the caller sends the next one when this is over.
   * @param signal asks the job to stop; if it has not after two seconds, its process is ended
   * @param minutes time after which it is ended, too
   */
  async run(job: JobRow, minutes: number, signal: AbortSignal, events: LaneEvents): Promise<LaneEnd> {
    await this.ready;
    if (signal.aborted) return { end: 'cancelled' };
    const { memory } = this.options;
    return new Promise((resolve) => {
      let grace: NodeJS.Timeout | undefined;
      let verdict: LaneEnd | undefined;
      const condemn = (message: string) => {
        verdict ??= { end: 'failed', message };
        this.kill();
      };
      const cancel = () => {
        this.tell({ do: 'cancel' });
        grace = setTimeout(() => this.kill(), GRACE);
      };
      const late = setTimeout(
        () => condemn(`It was not done after ${minutes} minutes and was ended.`),
        minutes * 60_000,
      );
      const watch = setInterval(() => {
        const used = this.child?.pid ? residentMemory(this.child.pid) : 0;
        if (used > memory)
          condemn(
            `It needs more memory than it may have (${(memory / 2 ** 30).toFixed(1)} GB) and was ended. A smaller file may work; the limit is the setting JOB_MEMORY_MB.`,
          );
      }, WATCH_EVERY);
      signal.addEventListener('abort', cancel, { once: true });
      this.running = {
        id: job.id,
        events,
        end: (end) => {
          this.running = undefined;
          clearTimeout(late);
          clearTimeout(grace);
          clearInterval(watch);
          signal.removeEventListener('abort', cancel);
          resolve(signal.aborted ? { end: 'cancelled' } : (verdict ?? end));
        },
      };
      this.tell({ do: 'run', job, keep: job.keep });
    });
  }

  async stop(): Promise<void> {
    this.stopped = true;
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGKILL');
    await ended;
  }
}
