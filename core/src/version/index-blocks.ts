import type { Crew, ShareOptions, Work } from '../crew/work.ts';
import { linesOf } from '../formats/exr/block-count.ts';
import { blockReader, type BlockLines } from '../formats/exr/blocks.ts';
import type { PutLine } from '../formats/exr/compression/compression.ts';
import { BAND, rowsOfBand } from '../idindex/band.ts';
import { joinBands, type IdIndex } from '../idindex/id-index.ts';
import { runsOfRows, type RunsOfRows } from '../kernels/ids.ts';
import { boxHeight, boxWidth } from '../planes/box.ts';
import { halfTable } from '../planes/half.ts';

/** Numbers of the channels that hold IDs and coverages of a layer, rank by rank. */
type RankChannels = readonly { id: number; coverage: number }[];

/** A file's blocks, and the layers that are wanted of it. */
export interface IndexBlocks extends BlockLines {
  layers: readonly RankChannels[];
}

/** The channels of a layer among those of a file's blocks; undefined where its ranks are not 32-bit IDs of every pixel. */
export function rankChannels(
  blocks: Omit<BlockLines, 'wanted'>,
  names: readonly { id: string; coverage: string }[],
): RankChannels | undefined {
  const { channels } = blocks;
  // A band of rows is read by whole blocks.
  if (BAND % linesOf(blocks.compression) !== 0) return undefined;
  const at = (name: string) => channels.findIndex((c) => c.name === name);
  const ranks = names.map((r) => ({ id: at(r.id), coverage: at(r.coverage) }));
  const plain = ranks.every(({ id, coverage }) =>
    [channels[id], channels[coverage]].every((c) => c?.xSampling === 1 && c.ySampling === 1),
  );
  if (!plain || ranks.some((r) => channels[r.id]!.type !== 'float' || channels[r.coverage]!.type === 'uint'))
    return undefined;
  return ranks;
}

/** What it takes to make the indexes of some layers from the blocks of a file. */
export function indexBlocksOf(
  blocks: Omit<BlockLines, 'wanted'>,
  layers: readonly RankChannels[],
): IndexBlocks {
  const used = new Set(layers.flat().flatMap((r) => [r.id, r.coverage]));
  return { ...blocks, layers, wanted: blocks.channels.map((_, i) => used.has(i)) };
}

/**
 * Runs of ID layers, made while the file's blocks are unpacked: a band of rows is unpacked into memory of the thread and
 * forgotten, so that no layer ever stands in memory as planes. Several layers of a file are had for one reading of it.
 */
export const runsOfBlocks: Work<IndexBlocks, RunsOfRows[]> = {
  kind: 'id-blocks',
  pieces: ({ dataWindow }) => Math.ceil(boxHeight(dataWindow) / BAND),
  begin(input) {
    const { layers, dataWindow: box, channels } = input;
    const ranks = layers.flat();
    const width = boxWidth(box);
    const height = boxHeight(box);
    const lines = linesOf(input.compression);
    const read = blockReader(input);
    const plane = () => new Float32Array(width * BAND);
    const coverage = ranks.map(plane);
    const ids = ranks.map(() => new Uint32Array(width * BAND));
    const idBytes = ids.map((p) => new Uint8Array(p.buffer));
    const coverageBytes = coverage.map((p) => new Uint8Array(p.buffer));
    /** What the lines of each channel are. */
    const uses = channels.map((_, i) => ({
      ids: idBytes.filter((_, r) => ranks[r]!.id === i),
      coverage: ranks.flatMap((r, k) => (r.coverage === i ? [k] : [])),
    }));
    const values = halfTable();
    return (band) => {
      const [y0, y1] = rowsOfBand(band, height);
      const put: PutLine = (channel, y, line) => {
        const row = y - box.yMin - y0;
        const use = uses[channel]!;
        for (const target of use.ids) target.set(line, row * 4 * width);
        for (const rank of use.coverage)
          if (channels[channel]!.type === 'float') coverageBytes[rank]!.set(line, row * 4 * width);
          else {
            const halves = new Uint16Array(line.slice().buffer);
            for (let x = 0; x < width; x++) coverage[rank]![row * width + x] = values[halves[x]!]!;
          }
      };
      // A whole number of blocks makes a band.
      for (let block = y0 / lines; block < Math.ceil(y1 / lines); block++) read(block, put);
      let first = 0;
      return layers.map(({ length }) => {
        const [from, to] = [first, (first += length)];
        const planes = { width, ids: ids.slice(from, to), coverage: coverage.slice(from, to) };
        return runsOfRows(planes, y0, y1, y0);
      });
    };
  },
};

/** The indexes of ID layers from the blocks of their file, shared by a crew. */
export async function indexesOfBlocks(
  crew: Crew,
  blocks: IndexBlocks,
  options: ShareOptions,
): Promise<IdIndex[]> {
  const bands = await crew.share(runsOfBlocks, blocks, options);
  const { dataWindow: box, layers } = blocks;
  return layers.map((_, i) =>
    joinBands(
      boxWidth(box),
      boxHeight(box),
      bands.map((band) => band[i]!),
    ),
  );
}
