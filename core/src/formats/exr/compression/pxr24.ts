import { ExrError } from '../errors.ts';
import type { BlockLayout, Compression } from './compression.ts';
import { blockPlanes } from './block-rows.ts';

const damaged = () => new ExrError('damaged', 'A PXR24 block of the file cannot be unpacked.');

/** Bytes that a sample of each type takes in the packed stream: floats have lost their lowest byte. */
const PACKED = { uint: 4, half: 2, float: 3 } as const;

/**
 * PXR24: each row of a channel is split into planes of bytes, highest first, which are differences from the sample to
 * the left; all of a block goes through zlib. Floats keep 24 bits.
 */
export const pxr24: Compression = {
  name: 'pxr24',
  number: 5,
  linesPerBlock: 16,
  loses: ({ type }) => type === 'float',
  decode(data, size, layout: BlockLayout, zlib) {
    const planes = blockPlanes(layout);
    const packed = planes.reduce((sum, p) => sum + p.columns * p.rows * PACKED[p.channel.type], 0);
    let coded: Uint8Array;
    try {
      coded = zlib.inflate(data, packed);
    } catch {
      throw damaged();
    }
    if (coded.length !== packed) throw damaged();
    const raw = new Uint8Array(size);
    const view = new DataView(raw.buffer);
    let at = 0;
    for (let y = layout.yFirst, row = new Map<object, number>(); y <= layout.yLast; y++)
      for (const p of planes) {
        if (y % p.channel.ySampling !== 0) continue;
        const index = row.get(p) ?? 0;
        row.set(p, index + 1);
        let to = p.starts[index]!;
        const n = p.columns;
        const { type } = p.channel;
        let sum = 0;
        for (let x = 0; x < n; x++) {
          if (type === 'half') {
            sum = (sum + ((coded[at + x]! << 8) | coded[at + n + x]!)) & 0xffff;
            view.setUint16(to, sum, true);
            to += 2;
          } else {
            const low = type === 'uint' ? coded[at + 3 * n + x]! : 0;
            const step =
              (coded[at + x]! << 24) | (coded[at + n + x]! << 16) | (coded[at + 2 * n + x]! << 8) | low;
            sum = (sum + step) | 0;
            view.setInt32(to, sum, true);
            to += 4;
          }
        }
        at += n * PACKED[type];
      }
    return raw;
  },
};
