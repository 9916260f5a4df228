import { inSlices } from './slices.ts';
import type { AnyWork, Crew } from './work.ts';

/** A line to another thread, however it is made. */
export interface Port {
  post(message: unknown): void;
  listen(on: (message: unknown) => void): void;
}

interface Order {
  id: number;
  kind: string;
  input: unknown;
  pieces: number;
  /** Next piece to take; becomes larger than any when the work is called off. */
  next: Int32Array;
}
interface Done {
  id: number;
  error?: unknown;
}

const CALLED_OFF = 2 ** 30;

/** The other thread's side: takes pieces of what is ordered until there are none. */
export function serveHand(kinds: readonly AnyWork[], port: Port): void {
  port.listen((message) => {
    const { id, kind, input, pieces, next } = message as Order;
    try {
      const run = kinds.find((k) => k.kind === kind)!.begin(input);
      for (;;) {
        const piece = Atomics.add(next, 0, 1);
        if (piece >= pieces) break;
        run(piece);
      }
      port.post({ id } satisfies Done);
    } catch (error) {
      Atomics.store(next, 0, CALLED_OFF);
      port.post({ id, error } satisfies Done);
    }
  });
}

/** A crew of this thread and those behind the ports. Each takes the next piece when it has done one. */
export function crewOf(ports: readonly Port[]): Crew {
  let orders = 0;
  const waiting = new Map<number, (done: Done) => void>();
  for (const port of ports)
    port.listen((message) => {
      const done = message as Done;
      waiting.get(done.id)?.(done);
    });
  return {
    size: ports.length + 1,
    allocate: (bytes) => new SharedArrayBuffer(bytes),
    async share(work, input, { signal, onProgress } = {}) {
      signal?.throwIfAborted();
      const pieces = work.pieces(input);
      const next = new Int32Array(new SharedArrayBuffer(4));
      const id = ++orders;
      // Short work is not worth the way to another thread.
      const helpers = ports.slice(0, Math.max(0, Math.min(ports.length, pieces - 1)));
      const others = new Promise<unknown>((resolve) => {
        let left = helpers.length;
        let failure: unknown;
        const settle = () => {
          waiting.delete(id);
          resolve(failure);
        };
        waiting.set(id, ({ error }) => {
          failure ??= error;
          if (--left === 0) settle();
        });
        if (left === 0) settle();
      });
      for (const port of helpers) port.post({ id, kind: work.kind, input, pieces, next } satisfies Order);
      let failure: unknown;
      try {
        const run = work.begin(input);
        await inSlices(
          () => {
            signal?.throwIfAborted();
            const piece = Atomics.add(next, 0, 1);
            if (piece >= pieces) return false;
            run(piece);
            return true;
          },
          () => onProgress?.(Math.min(1, Atomics.load(next, 0) / pieces)),
        );
      } catch (error) {
        failure = error;
        Atomics.store(next, 0, CALLED_OFF);
      }
      failure ??= await others;
      if (failure !== undefined) {
        await others;
        throw failure;
      }
      onProgress?.(1);
    },
  };
}
