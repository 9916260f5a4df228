/** Where the samples of each channel lie: lines and columns of subsampled channels included. */
import { type Box2i, boxHeight, boxWidth } from '../../planes/box.ts';
import { type ChannelInfo, BYTES_PER_SAMPLE } from './types.ts';

/** Samples of channel `c` on line `y` (absolute), 0 if the line holds none. */
export function samplesOnLine(c: ChannelInfo, box: Box2i, y: number): number {
  if (y % c.ySampling !== 0) return 0;
  return sampledColumns(c, box);
}

/** Samples of channel `c` on each line that holds any. */
export function sampledColumns(c: ChannelInfo, box: Box2i): number {
  return c.xSampling === 1
    ? boxWidth(box)
    : Math.floor(box.xMax / c.xSampling) - Math.ceil(box.xMin / c.xSampling) + 1;
}

/** Lines of the box on which channel `c` has samples. */
export function sampledRows(c: ChannelInfo, box: Box2i): number {
  return c.ySampling === 1
    ? boxHeight(box)
    : Math.floor(box.yMax / c.ySampling) - Math.ceil(box.yMin / c.ySampling) + 1;
}

/** Bytes of one uncompressed line. */
export function lineBytes(channels: readonly ChannelInfo[], box: Box2i, y: number): number {
  let sum = 0;
  for (const c of channels) sum += samplesOnLine(c, box, y) * BYTES_PER_SAMPLE[c.type];
  return sum;
}
