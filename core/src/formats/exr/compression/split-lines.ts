import type { SplitBlock } from '../../../kernels/exr.ts';
import { sampledColumns } from '../layout.ts';
import { BYTES_PER_SAMPLE } from '../types.ts';
import type { BlockLayout, PutLine } from './compression.ts';

/** Hands out the wanted lines of a block that the kernel holds, weaving nothing else. */
export function putSplitLines(
  block: SplitBlock,
  { channels, dataWindow, yFirst, yLast }: BlockLayout,
  wanted: readonly boolean[],
  put: PutLine,
): void {
  const counts = channels.map((c) => sampledColumns(c, dataWindow) * BYTES_PER_SAMPLE[c.type]);
  let at = 0;
  for (let y = yFirst; y <= yLast; y++)
    for (let i = 0; i < channels.length; i++) {
      if (y % channels[i]!.ySampling !== 0) continue;
      const count = counts[i]!;
      if (wanted[i]) put(i, y, block.bytes(at, count));
      at += count;
    }
}
