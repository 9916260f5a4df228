import { murmur3 } from './murmur3.ts';

const utf8 = new TextEncoder();

/** Plain 32-bit hash of a name's UTF-8 bytes, before the exponent rule. */
export function hashName(name: string): number {
  return murmur3(utf8.encode(name));
}

/**
 * The 32-bit ID stored for a name. An exponent of all zeros or all ones (a subnormal, infinity or NaN as a
 * float32) gets bit 23 flipped. Source: Cryptomatte specification, conversion `uint32_to_float32`.
 */
export function idOfName(name: string): number {
  const hash = hashName(name);
  const exponent = (hash >>> 23) & 255;
  return exponent === 0 || exponent === 255 ? (hash ^ (1 << 23)) >>> 0 : hash;
}

/** An ID as 8 lower-case hex digits. */
export const idToHex = (id: number): string => (id >>> 0).toString(16).padStart(8, '0');

/** The ID of 1 to 8 hex digits, or undefined if the text is not that. */
export const idFromHex = (text: string): number | undefined =>
  /^[0-9a-f]{1,8}$/i.test(text) ? parseInt(text, 16) : undefined;

/** The ID of what no ID covers. */
export const NO_ID = 0;

/** How an ID without a name is written wherever a name is expected. */
export const unnamed = (id: number): string => `id:${idToHex(id)}`;
