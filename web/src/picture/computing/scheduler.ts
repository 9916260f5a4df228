import { breathe } from '@zesty-crow/core/crew';

/** Does one piece of work of its kind; false if there is none. */
export type WorkSource = () => Promise<boolean> | boolean;

export interface SchedulerHooks {
  /** Called between any two pieces of work: takes what has come meanwhile. */
  take(): void;
  /** True if something waits to be taken. */
  waiting(): boolean;
  /** All work is done. */
  rested(): void;
  /** A piece of work has failed; nothing is tried again by itself. */
  failed(error: unknown): void;
}

/**
 * Does work by rank, one piece after the other: after each piece the first source that has any is asked again, so that
 * what comes meanwhile and matters more goes first. Messages are heard between pieces. It knows nothing of the work.
 */
export class Scheduler {
  private running = false;

  constructor(
    private readonly sources: readonly WorkSource[],
    private readonly hooks: SchedulerHooks,
  ) {}

  /** True while anything is being done. */
  get busy(): boolean {
    return this.running;
  }

  /** Resolves when there is nothing to do. */
  async rest(): Promise<void> {
    while (this.running) await breathe();
  }

  /** Looks for work, unless that is being done already. */
  wake(): void {
    void this.run();
  }

  private async run(): Promise<void> {
    if (this.running) return;
    this.running = true;
    try {
      do this.hooks.take();
      while (await this.once());
    } catch (error) {
      this.hooks.failed(error);
    } finally {
      this.running = false;
    }
    // Something may have come while it was found that nothing is left.
    if (this.hooks.waiting()) return this.run();
    this.hooks.rested();
  }

  /** Does the next piece; false if there is none. */
  private async once(): Promise<boolean> {
    for (const source of this.sources)
      if (await source()) {
        await breathe();
        return true;
      }
    return false;
  }
}
