import { sampledColumns, sampledRows } from '../formats/exr/layout.ts';
import type { ExrChannel, Samples } from '../formats/exr/types.ts';
import { boxHeight, boxWidth, type Box2i } from '../planes/box.ts';
import type { Allocate } from '../planes/tile-store.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { fullChroma, isChroma } from './luma-chroma.ts';

/** True for boxes of the same pixels. */
export const sameBox = (a: Box2i, b: Box2i): boolean =>
  a.xMin === b.xMin && a.yMin === b.yMin && a.xMax === b.xMax && a.yMax === b.yMax;

function newLike(data: Samples, count: number, allocate: Allocate): Samples {
  const memory = allocate(count * data.BYTES_PER_ELEMENT);
  if (data instanceof Uint16Array) return new Uint16Array(memory);
  return data instanceof Float32Array ? new Float32Array(memory) : new Uint32Array(memory);
}

/**
 * A channel as it is in another window of the same picture: every pixel stays where it is, what was not stored is 0, and
 * nothing is resampled. A subsampled channel is brought to full size: chroma by its filter; of any other a sample stands
 * for the pixels from its own place to the next one's.
 * @param from the window that the channel was stored in
 */
export function placeChannel(channel: ExrChannel, from: Box2i, to: Box2i, allocate: Allocate): ExrChannel {
  const { xSampling, ySampling, data } = channel;
  const whole = xSampling === 1 && ySampling === 1;
  if (whole && sameBox(from, to)) return channel;
  // Only where it begins with a sample, as the format wants it.
  if (isChroma(channel) && from.xMin % 2 === 0 && from.yMin % 2 === 0) {
    const [width, height] = [boxWidth(from), boxHeight(from)];
    const data = fullChroma(asFloats(channel), width, height, new Float32Array(allocate(4 * width * height)));
    return placeChannel({ ...channel, type: 'float', xSampling: 1, ySampling: 1, data }, from, to, allocate);
  }
  const [columns, rows] = [sampledColumns(channel, from), sampledRows(channel, from)];
  const [firstColumn, firstRow] = [Math.ceil(from.xMin / xSampling), Math.ceil(from.yMin / ySampling)];
  const width = boxWidth(to);
  const out = newLike(data, width * boxHeight(to), allocate);
  const clamp = (v: number, count: number) => Math.min(count - 1, Math.max(0, v));
  for (let y = Math.max(from.yMin, to.yMin); y <= Math.min(from.yMax, to.yMax); y++) {
    const row = clamp(Math.floor(y / ySampling) - firstRow, rows) * columns;
    let at = (y - to.yMin) * width + Math.max(0, from.xMin - to.xMin);
    for (let x = Math.max(from.xMin, to.xMin); x <= Math.min(from.xMax, to.xMax); x++)
      out[at++] = data[row + clamp(Math.floor(x / xSampling) - firstColumn, columns)]!;
  }
  return { ...channel, xSampling: 1, ySampling: 1, data: out };
}
