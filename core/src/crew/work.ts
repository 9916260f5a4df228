/**
 * A kind of computation in numbered pieces that do not need each other, so that several threads can share them. What it
 * works on is plain data; arrays that are written lie in memory that all threads see.
 */
export interface Work<I, R = void> {
  /** Stable name, by which threads know what is meant. */
  kind: string;
  pieces(input: I): number;
  /** Gets ready; the function that is returned does one piece and may have something to tell: plain data. */
  begin(input: I): (piece: number) => R;
}

/** A kind of work with its input forgotten, for lists of them. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyWork = Work<any, unknown>;

export interface ShareOptions {
  signal?: AbortSignal | undefined;
  /** Share of the pieces that are done, 0 to 1. */
  onProgress?: ((done: number) => void) | undefined;
}

/** Those who do the work: one thread, or several that share memory. */
export interface Crew {
  /** Threads that compute, the caller's included. */
  size: number;
  /** Memory that all of them see, zeroed. */
  allocate(bytes: number): ArrayBufferLike;
  /**
   * Does all pieces of a work. The caller's thread takes part, a slice of time after the other, so that it goes on
   * answering. Resolves with what each piece has told. Rejects with what a piece threw, or with the signal's reason; no piece runs any more by then.
   */
  share<I, R>(work: Work<I, R>, input: I, options?: ShareOptions): Promise<R[]>;
}
