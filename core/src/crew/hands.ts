import { inSlices } from './slices.ts';
import type { AnyWork, Crew, ShareOptions, Work } from './work.ts';

/** A line to another thread, however it is made. */
export interface Port {
  /** `given` are buffers that go over to the other side, without a copy. */
  post(message: unknown, given?: ArrayBuffer[]): void;
  listen(on: (message: unknown) => void): void;
}
/** The line to a hand, which may end by itself. */
export interface HandPort extends Port {
  ended(on: () => void): void;
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
  /** Pieces that this thread did and what they told. */
  told: [piece: number, result: unknown][];
  /** The piece that could not be done. */
  failed?: number;
}

const CALLED_OFF = 2 ** 30;

/** Memory of what pieces have told: arrays in a record. Nobody here needs it any more. */
function buffersOf(told: Done['told']): ArrayBuffer[] {
  const buffers = new Set<ArrayBuffer>();
  for (const [, result] of told)
    if (typeof result === 'object' && result !== null)
      for (const value of Object.values(result))
        if (ArrayBuffer.isView(value) && value.buffer instanceof ArrayBuffer) buffers.add(value.buffer);
  return [...buffers];
}

/** The other thread's side: takes pieces of what is ordered until there are none. */
export function serveHand(kinds: readonly AnyWork[], port: Port): void {
  port.listen((message) => {
    const { id, kind, input, pieces, next } = message as Order;
    const done: Done = { id, told: [] };
    let piece = 0;
    try {
      const run = kinds.find((k) => k.kind === kind)!.begin(input);
      while ((piece = Atomics.add(next, 0, 1)) < pieces) done.told.push([piece, run(piece)]);
    } catch {
      // Errors lose their class on the way: the one who ordered does this piece again and throws it.
      Atomics.store(next, 0, CALLED_OFF);
      done.failed = piece;
    }
    port.post(done, buffersOf(done.told));
  });
}

/** A crew of this thread and those behind the ports. Each takes the next piece when it has done one. */
export function crewOf(ports: readonly HandPort[]): Crew {
  let orders = 0;
  let hands = [...ports];
  /** Who waits for which hand's answer. */
  const waiting = new Map<HandPort, Map<number, (done: Done | undefined) => void>>();
  for (const port of ports) {
    const own = new Map<number, (done: Done | undefined) => void>();
    waiting.set(port, own);
    port.listen((message) => {
      const done = message as Done;
      own.get(done.id)?.(done);
      own.delete(done.id);
    });
    port.ended(() => {
      hands = hands.filter((h) => h !== port);
      for (const answer of own.values()) answer(undefined);
      own.clear();
    });
  }
  return {
    get size() {
      return hands.length + 1;
    },
    allocate: (bytes) => new SharedArrayBuffer(bytes),
    async share<I, R>(work: Work<I, R>, input: I, { signal, onProgress }: ShareOptions = {}): Promise<R[]> {
      signal?.throwIfAborted();
      const pieces = work.pieces(input);
      const next = new Int32Array(new SharedArrayBuffer(4));
      const id = ++orders;
      const results = new Map<number, R>();
      const run = work.begin(input);
      // One piece is not worth the way to another thread.
      const answers = hands.slice(0, pieces - 1).map(
        (port) =>
          new Promise<Done | undefined>((resolve) => {
            waiting.get(port)!.set(id, resolve);
            port.post({ id, kind: work.kind, input, pieces, next } satisfies Order);
          }),
      );
      try {
        await inSlices(
          () => {
            signal?.throwIfAborted();
            const piece = Atomics.add(next, 0, 1);
            if (piece >= pieces) return false;
            results.set(piece, run(piece));
            return true;
          },
          () => onProgress?.(Math.min(1, Atomics.load(next, 0) / pieces)),
        );
      } finally {
        Atomics.store(next, 0, CALLED_OFF);
        for (const answer of await Promise.all(answers))
          for (const [piece, result] of answer?.told ?? []) results.set(piece, result as R);
      }
      signal?.throwIfAborted();
      // What a hand could not do, or took with it when it ended.
      for (let piece = 0; piece < pieces; piece++) if (!results.has(piece)) results.set(piece, run(piece));
      onProgress?.(1);
      return Array.from({ length: pieces }, (_, piece) => results.get(piece)!);
    },
  };
}
