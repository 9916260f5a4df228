/** The CRC of PNG (ISO 3309), by a table. */
const TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});
function crc(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const b of bytes) c = TABLE[(c ^ b) & 255]! ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

/** A piece of a PNG: a name of four letters, and what it holds. */
export interface PngChunk {
  name: string;
  data: Uint8Array;
}

/** What every PNG begins with. */
export const PNG_SIGNATURE = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a);

/** A chunk as it stands in a file: length, name, what it holds, and the CRC of these. */
function chunkBytes({ name, data }: PngChunk): Uint8Array {
  const chunk = new Uint8Array(12 + data.length);
  const view = new DataView(chunk.buffer);
  view.setUint32(0, data.length);
  for (let i = 0; i < 4; i++) chunk[4 + i] = name.charCodeAt(i);
  chunk.set(data, 8);
  view.setUint32(8 + data.length, crc(chunk.subarray(4, 8 + data.length)));
  return chunk;
}

/** A PNG of these chunks. */
export function signedWith(chunks: readonly PngChunk[]): Uint8Array {
  const parts = [PNG_SIGNATURE, ...chunks.map(chunkBytes)];
  const out = new Uint8Array(parts.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/** A PNG with some chunks right after its header, where those about colour belong. */
export function withChunks(png: Uint8Array, chunks: readonly PngChunk[]): Uint8Array {
  const made = chunks.map(chunkBytes);
  // The signature, and a header of 13 bytes with what stands around it.
  const header = 8 + 25;
  const out = new Uint8Array(png.length + made.reduce((sum, c) => sum + c.length, 0));
  out.set(png.subarray(0, header));
  let at = header;
  for (const chunk of made) {
    out.set(chunk, at);
    at += chunk.length;
  }
  out.set(png.subarray(header), at);
  return out;
}

/** An ICC profile as a chunk (PNG, 11.3.2.3). */
export function profileChunk(profile: Uint8Array, deflate: (bytes: Uint8Array) => Uint8Array): PngChunk {
  const packed = deflate(profile);
  const data = new Uint8Array(5 + packed.length);
  // Its name, a zero, and the way it is packed.
  data.set([0x69, 0x63, 0x63, 0, 0]);
  data.set(packed, 5);
  return { name: 'iCCP', data };
}
/** That values are linear light or plain data: a gamma of 1. */
export const LINEAR_CHUNK: PngChunk = { name: 'gAMA', data: Uint8Array.of(0, 1, 0x86, 0xa0) };
