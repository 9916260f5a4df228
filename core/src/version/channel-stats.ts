import type { Work } from '../crew/work.ts';
import { blockReader, SPAN, type BlockLines } from '../formats/exr/blocks.ts';
import type { PutLine } from '../formats/exr/compression/compression.ts';
import type { Area } from '../planes/area.ts';
import { boxWidth } from '../planes/box.ts';
import { halfTable } from '../planes/half.ts';

/** What the samples of a channel are, all told. */
export interface ChannelStats {
  /** Of what is finite; from above to below where nothing is. */
  min: number;
  max: number;
  /** Samples below 0. */
  negative: number;
  /** Samples that 16-bit half cannot hold. */
  finer: number;
  /** Samples that are infinite or no number, and where: in pixels of the data window. */
  notFinite: number;
  places: Area[];
}

export const newStats = (): ChannelStats => ({
  min: Infinity,
  max: -Infinity,
  negative: 0,
  finer: 0,
  notFinite: 0,
  places: [],
});

const single = new Float32Array(1);
const singleBits = new Uint32Array(single.buffer);
/** True for a float that 16-bit half cannot hold exactly: it has 11 bits, and reaches from 2^-24 to 65504. */
function finerThanHalf(v: number): boolean {
  if (v === 0) return false;
  single[0] = v;
  if ((singleBits[0]! & 0x1fff) !== 0 || v > 65504 || v < -65504) return true;
  return v < 2 ** -14 && v > -(2 ** -14) && v * 2 ** 24 !== Math.trunc(v * 2 ** 24);
}

/** Most places that are kept of a channel: who has more has a fault everywhere. */
const MOST_PLACES = 200;

/** Takes one row of samples into account. `x` and `y` are where it begins, from the corner of the data window. */
export function countRow(
  stats: ChannelStats,
  row: ArrayLike<number>,
  length: number,
  x: number,
  y: number,
): void {
  let [first, last] = [Infinity, -1];
  for (let i = 0; i < length; i++) {
    const v = row[i]!;
    // Infinite and no number: both differ from themselves less themselves.
    if (v - v !== 0) {
      stats.notFinite++;
      first = Math.min(first, i);
      last = i;
      continue;
    }
    if (v < stats.min) stats.min = v;
    if (v > stats.max) stats.max = v;
    if (v < 0) stats.negative++;
    if (finerThanHalf(v)) stats.finer++;
  }
  if (last >= 0) addPlace(stats.places, { x0: x + first, y0: y, x1: x + last + 1, y1: y + 1 });
}

/** Adds a place, or makes the one above it larger. */
function addPlace(places: Area[], place: Area): void {
  const above = places.find((p) => p.y1 === place.y0 && p.x0 <= place.x1 && p.x1 >= place.x0);
  if (above) {
    above.y1 = place.y1;
    above.x0 = Math.min(above.x0, place.x0);
    above.x1 = Math.max(above.x1, place.x1);
  } else if (places.length < MOST_PLACES) places.push(place);
}

/** Two parts of a channel as one. */
export function joinStats(a: ChannelStats, b: ChannelStats): ChannelStats {
  const places = [...a.places];
  for (const p of b.places) addPlace(places, { ...p });
  return {
    min: Math.min(a.min, b.min),
    max: Math.max(a.max, b.max),
    negative: a.negative + b.negative,
    finer: a.finer + b.finer,
    notFinite: a.notFinite + b.notFinite,
    places,
  };
}

/** The same of a whole plane. */
export function statsOfPlane(
  plane: ArrayLike<number> & { subarray(a: number, b: number): ArrayLike<number> },
  width: number,
): ChannelStats {
  const stats = newStats();
  for (let y = 0; y * width < plane.length; y++)
    countRow(stats, plane.subarray(y * width, (y + 1) * width), width, 0, y);
  return stats;
}

/**
 * Looks at every sample of the wanted channels while a file's blocks are unpacked; tells for each block what its wanted
 * channels hold, in their order.
 */
export const countBlocks: Work<BlockLines, ChannelStats[]> = {
  kind: 'channel-stats',
  pieces: ({ spans }) => spans.length / SPAN,
  begin(input) {
    const { channels, wanted, dataWindow: box, spans } = input;
    const read = blockReader(input);
    const values = halfTable();
    const width = boxWidth(box);
    const bytes = new Uint8Array(4 * width);
    const row = {
      half: new Uint16Array(bytes.buffer),
      float: new Float32Array(bytes.buffer),
      uint: new Uint32Array(bytes.buffer),
    };
    const floats = new Float32Array(width);
    return (block) => {
      const stats = channels.map((_, i) => (wanted[i] ? newStats() : undefined));
      const x = spans[SPAN * block]! - box.xMin;
      const put: PutLine = (channel, y, line) => {
        const own = stats[channel];
        if (!own) return;
        bytes.set(line);
        const { type } = channels[channel]!;
        const length = line.length / (type === 'half' ? 2 : 4);
        if (type === 'half') for (let i = 0; i < length; i++) floats[i] = values[row.half[i]!]!;
        countRow(own, type === 'half' ? floats : row[type], length, x, y - box.yMin);
      };
      read(block, put);
      return stats.flatMap((s) => s ?? []);
    };
  },
};
