import type { Work } from '../crew/work.ts';
import { linesOf } from '../formats/exr/block-count.ts';
import { blockReader, type BlockLines } from '../formats/exr/blocks.ts';
import type { PutLine } from '../formats/exr/compression/compression.ts';
import { boxHeight, boxWidth } from '../planes/box.ts';
import { halfTable } from '../planes/half.ts';

/** A file's blocks, and where the wanted channels go, made smaller. */
export interface ReducedBlocks extends BlockLines {
  /** Pixels across and down that become one. */
  by: number;
  /** Of each wanted channel, row by row, as wide and high as the picture divided by `by`, rounded up. */
  out: readonly (Float32Array | undefined)[];
}

const common = (a: number, b: number): number => (b === 0 ? a : common(b, a % b));

/** Lines that a piece takes: whole blocks, and whole rows of what comes out. */
const bandOf = ({ by, compression }: ReducedBlocks): number => {
  const lines = linesOf(compression);
  return (by * lines) / common(by, lines);
};

/**
 * Means of squares of pixels, of many channels at once while a file's blocks are unpacked, so that forty passes are seen
 * for one reading of the file, and none of them stands in memory. What is not finite does not count; where nothing is,
 * there is NaN.
 */
export const reduceBlocks: Work<ReducedBlocks> = {
  kind: 'reduced-blocks',
  pieces: (input) => Math.ceil(boxHeight(input.dataWindow) / bandOf(input)),
  begin(input) {
    const { by, out, channels, dataWindow: box } = input;
    const [width, height] = [boxWidth(box), boxHeight(box)];
    const across = Math.ceil(width / by);
    const lines = linesOf(input.compression);
    const band = bandOf(input);
    const read = blockReader(input);
    const values = halfTable();
    const bytes = new Uint8Array(4 * width);
    const [floats, halves, whole] = [
      new Float32Array(bytes.buffer),
      new Uint16Array(bytes.buffer),
      new Uint32Array(bytes.buffer),
    ];
    const counts = out.map((plane) => plane && new Uint16Array((band / by) * across));
    return (piece) => {
      const first = piece * band;
      const last = Math.min(height, first + band);
      for (const count of counts) count?.fill(0);
      const put: PutLine = (channel, y, line) => {
        const plane = out[channel];
        const count = counts[channel];
        if (!plane || !count) return;
        bytes.set(line);
        const { type } = channels[channel]!;
        const row = Math.floor((y - box.yMin) / by);
        const [to, own] = [row * across, (row - first / by) * across];
        for (let x = 0, u = 0, left = by; x < width; x++) {
          const v = type === 'half' ? values[halves[x]!]! : type === 'float' ? floats[x]! : whole[x]!;
          // Infinite and no number: both differ from themselves less themselves.
          if (v - v === 0) {
            plane[to + u]! += v;
            count[own + u]!++;
          }
          if (--left === 0) [u, left] = [u + 1, by];
        }
      };
      for (let block = first / lines; block < Math.ceil(last / lines); block++) read(block, put);
      out.forEach((plane, i) => {
        const count = counts[i];
        if (!plane || !count) return;
        const from = (first / by) * across;
        for (let k = 0; k < Math.ceil((last - first) / by) * across; k++)
          plane[from + k] = count[k]! > 0 ? plane[from + k]! / count[k]! : NaN;
      });
    };
  },
};
