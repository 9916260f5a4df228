import type { Allocate } from '@zesty-crow/core';

export interface FetchOptions {
  allocate: Allocate;
  onShare?: (share: number) => void;
  signal?: AbortSignal;
}

/** Bytes of a file from the server. Rejects with a sentence for people if they do not come whole. */
export async function fetchBytes(
  url: string,
  { allocate, onShare, signal }: FetchOptions,
): Promise<Uint8Array> {
  const response = await fetch(url, signal ? { signal } : {});
  if (!response.ok || !response.body) throw new Error('The file could not be loaded from the server.');
  const size = Number(response.headers.get('content-length'));
  const bytes = new Uint8Array(allocate(size));
  let at = 0;
  const reader = response.body.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    if (at + value.length > size) break;
    bytes.set(value, at);
    at += value.length;
    onShare?.(at / size);
  }
  if (at !== size) throw new Error('The file arrived incomplete. Reload the page.');
  return bytes;
}
