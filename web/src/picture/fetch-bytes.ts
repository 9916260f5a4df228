import type { Allocate } from '@zesty-crow/core';

export interface FetchOptions {
  allocate: Allocate;
  onShare?: (share: number) => void;
  signal?: AbortSignal;
}

/** All of a stream of which the length is known; undefined if it is of another one. */
async function collect(
  stream: ReadableStream<Uint8Array>,
  size: number,
  { allocate, onShare, signal }: FetchOptions,
): Promise<Uint8Array | undefined> {
  const bytes = new Uint8Array(allocate(size));
  let at = 0;
  const reader = stream.getReader();
  for (;;) {
    signal?.throwIfAborted();
    const { done, value } = await reader.read();
    if (done) break;
    if (at + value.length > size) return undefined;
    bytes.set(value, at);
    at += value.length;
    onShare?.(at / size);
  }
  return at === size ? bytes : undefined;
}

/** Bytes of a file from the server. Rejects with a sentence for people if they do not come whole. */
export async function fetchBytes(url: string, options: FetchOptions): Promise<Uint8Array> {
  const { signal } = options;
  const response = await fetch(url, signal ? { signal } : {});
  if (!response.ok || !response.body) throw new Error('The file could not be loaded from the server.');
  const size = Number(response.headers.get('content-length'));
  const bytes = await collect(response.body, size, options);
  if (!bytes) throw new Error('The file arrived incomplete. Reload the page.');
  return bytes;
}

/** Bytes of a file that is here. Rejects with a sentence for people if it has changed since it was dropped. */
export async function readBlob(file: Blob, options: FetchOptions): Promise<Uint8Array> {
  const bytes = await collect(file.stream(), file.size, options).catch((error: unknown) => {
    options.signal?.throwIfAborted();
    throw new Error('The file cannot be read any more. Drop it again.', { cause: error });
  });
  if (!bytes) throw new Error('The file has changed since it was dropped. Drop it again.');
  return bytes;
}
