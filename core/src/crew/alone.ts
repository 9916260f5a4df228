import { inSlices } from './slices.ts';
import type { Crew, ShareOptions, Work } from './work.ts';

/** One thread does everything: where memory cannot be shared, and where nothing is gained by it. */
export const alone: Crew = {
  size: 1,
  allocate: (bytes) => new ArrayBuffer(bytes),
  async share<I, R>(work: Work<I, R>, input: I, { signal, onProgress }: ShareOptions = {}): Promise<R[]> {
    const pieces = work.pieces(input);
    const run = work.begin(input);
    const told: R[] = [];
    let next = 0;
    await inSlices(
      () => {
        signal?.throwIfAborted();
        if (next >= pieces) return false;
        told.push(run(next++));
        return true;
      },
      () => onProgress?.(next / pieces),
    );
    onProgress?.(1);
    return told;
  },
};
