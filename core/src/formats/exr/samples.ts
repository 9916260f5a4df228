import type { ExrChannel } from './types.ts';
import { plainMemory, type Allocate } from '../../planes/tile-store.ts';
import { halvesToFloats } from '../../planes/half.ts';

/**
 * Samples of a channel as floats; half is widened, uint converted. Float channels are not copied.
 * @param allocate memory for what is converted
 */
export function asFloats({ data }: ExrChannel, allocate: Allocate = plainMemory): Float32Array {
  if (data instanceof Float32Array) return data;
  const out = new Float32Array(allocate(4 * data.length));
  if (data instanceof Uint16Array) return halvesToFloats(data, out);
  out.set(data);
  return out;
}
