import { computeStack, type ChangeStack, type Crew, type ListedChange } from '@zesty-crow/core';
import type { OpenFrame } from './open-frame.ts';

/**
 * Work beside the picture on the screen: one piece after the other, each once there is nothing to do for the picture; what
 * nobody waits for is given up as soon as there is.
 */
export class BesidePicture {
  private last: Promise<unknown> = Promise.resolve();
  private background: AbortController | undefined;

  /** @param rest resolves when there is nothing to do for the picture */
  constructor(private readonly rest: () => Promise<void>) {}

  /** Does something in its turn; undefined if `still` does not hold any more then. */
  do<T>(still: () => boolean, work: () => Promise<T>): Promise<T | undefined> {
    const before = this.last;
    const own = (async () => {
      await before.catch(() => undefined);
      await this.rest();
      return still() ? work() : undefined;
    })();
    this.last = own;
    return own;
  }

  /** The same for nobody who waits: undefined if it was given up. */
  inBackground<T>(
    still: () => boolean,
    closed: AbortSignal,
    work: (signal: AbortSignal) => Promise<T>,
  ): Promise<T | undefined> {
    return this.do(still, async () => {
      const own = (this.background = new AbortController());
      try {
        return await work(AbortSignal.any([own.signal, closed]));
      } catch (error) {
        if (own.signal.aborted) return undefined;
        throw error;
      }
    });
  }

  /** There is something to do for the picture. */
  giveUp(): void {
    this.background?.abort();
  }
}

/**
 * Computes another state of the open picture. What is taken apart of mixed pixels on the way is the picture's, too.
 * @param wake called when that makes tiles of the picture due
 */
export async function computeBeside(
  open: OpenFrame,
  stack: ChangeStack,
  changes: ListedChange[],
  crew: Crew,
  wake: () => void,
): Promise<void> {
  const onMixed = (tiles: readonly number[]) => {
    for (const tile of open.stack.mixedAnew(tiles)) open.toCompute[tile] = 1;
    wake();
  };
  await computeStack(stack, changes, { crew, onMixed });
}
