import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';

/** SHA-256 of a file in hex, piece by piece: it may be larger than memory, and the page stays alive. */
export async function sumOf(file: Blob): Promise<string> {
  const hash = sha256.create();
  const reader = file.stream().getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return bytesToHex(hash.digest());
    hash.update(value);
  }
}
