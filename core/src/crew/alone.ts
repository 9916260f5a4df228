import { inSlices } from './slices.ts';
import type { Crew } from './work.ts';

/** One thread does everything: where memory cannot be shared, and where nothing is gained by it. */
export const alone: Crew = {
  size: 1,
  allocate: (bytes) => new ArrayBuffer(bytes),
  async share(work, input, { signal, onProgress } = {}) {
    const pieces = work.pieces(input);
    const run = work.begin(input);
    let next = 0;
    await inSlices(
      () => {
        signal?.throwIfAborted();
        if (next >= pieces) return false;
        run(next++);
        return true;
      },
      () => onProgress?.(next / pieces),
    );
    onProgress?.(1);
  },
};
