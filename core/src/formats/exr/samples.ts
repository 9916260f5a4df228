import type { ExrChannel } from './types.ts';
import { halvesToFloats } from '../../planes/half.ts';

/** Samples of a channel as floats; half is widened, uint converted. Float channels are not copied. */
export function asFloats(channel: ExrChannel): Float32Array {
  if (channel.data instanceof Uint16Array) return halvesToFloats(channel.data);
  return channel.data instanceof Float32Array ? channel.data : Float32Array.from(channel.data);
}
