import type { Crew } from '../crew/work.ts';
import type { BlockLines } from '../formats/exr/blocks.ts';
import { ExrError } from '../formats/exr/errors.ts';
import type { ExrChannel } from '../formats/exr/types.ts';
import type { ImageReader } from '../formats/reader.ts';
import type { DescribedLayer } from '../idlayers/load.ts';
import type { NamedPart } from './file-parts.ts';
import type { MergedHeader } from './merge.ts';
import { placeChannel, sameBox } from './place.ts';
import { VersionError } from './version-error.ts';

/** One file of a frame, or one part of it, in memory that the crew sees. */
export interface FramePart extends NamedPart {
  name: string;
  bytes: Uint8Array;
  reader: ImageReader;
  /** Its place among the parts of the file that can be read. */
  part: number;
}

export interface ReadShare {
  signal?: AbortSignal | undefined;
  onProgress?: ((share: number) => void) | undefined;
}

/** Runs a piece of work on a file; what is wrong with the file is told with its name. */
export async function about<T>(name: string | undefined, work: () => T | Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof ExrError)
      throw new VersionError(`${name ? `${name}: ` : ''}${error.message}`, { cause: error });
    throw error;
  }
}

/** Reads what the files of a frame hold: channels by their names in the frame, or blocks of lines. */
export class PartReader {
  constructor(
    readonly parts: readonly FramePart[],
    private readonly merged: MergedHeader,
    private readonly crew: Crew,
  ) {}

  /** Reads some of the channels that are in the files, and no others. */
  async stored(wanted: (name: string) => boolean, { signal, onProgress }: ReadShare): Promise<ExrChannel[]> {
    const { fileOf, header } = this.merged;
    const allocate = (bytes: number) => this.crew.allocate(bytes);
    const found = new Map<string, ExrChannel>();
    for (const [i, part] of this.parts.entries()) {
      const { ownName } = part;
      const names = new Map(
        part.header.channels.flatMap(({ name }): [string, string][] =>
          fileOf.get(name) === i && wanted(name) ? [[ownName.get(name)!, name]] : [],
        ),
      );
      if (names.size === 0) continue;
      const { channels } = await about(part.name, () =>
        part.reader.read(part.bytes, this.crew, {
          part: part.part,
          channels: (c) => names.has(c.name),
          maxBytes: Infinity,
          signal,
          onProgress: (done) => onProgress?.((i + done) / this.parts.length),
        }),
      );
      for (const c of channels) {
        const name = names.get(c.name)!;
        found.set(name, placeChannel({ ...c, name }, part.header.dataWindow, header.dataWindow, allocate));
      }
    }
    onProgress?.(1);
    return header.channels.flatMap((c) => found.get(c.name) ?? []);
  }

  /** The number of the part that holds all ranks of a layer; undefined if they are spread, or of another kind. */
  partOf({ ranks }: DescribedLayer): number | undefined {
    const parts = new Set(
      (ranks ?? []).flatMap((r) => [r.id, r.coverage]).map((name) => this.merged.fileOf.get(name)),
    );
    return parts.size === 1 ? [...parts][0] : undefined;
  }

  /** The part that holds all of some channels; undefined if they are spread, or no file holds them. */
  partOfChannels(names: readonly string[]): FramePart | undefined {
    const own = new Set(names.map((n) => this.merged.fileOf.get(n)));
    const [only] = own;
    return own.size === 1 && only !== undefined ? this.parts[only] : undefined;
  }

  /** Blocks of lines of a part that has the window of the frame. */
  blocksOf(number: number): Omit<BlockLines, 'wanted'> | undefined {
    const { reader, bytes, part, header } = this.parts[number]!;
    return sameBox(header.dataWindow, this.merged.header.dataWindow) ? reader.blocks(bytes, part) : undefined;
  }

  /**
   * The parts that are made of blocks of lines, and what their channels are called in the frame, in the order of the
   * file; undefined for one that another part brings.
   */
  ownBlocks(): { name: string; blocks: Omit<BlockLines, 'wanted'>; names: (string | undefined)[] }[] {
    return this.parts.flatMap(({ name, ownName }, number) => {
      const blocks = this.blocksOf(number);
      if (!blocks) return [];
      const nameOf = new Map([...ownName].map(([inFrame, inFile]) => [inFile, inFrame]));
      const names = blocks.channels.map((c) => {
        const inFrame = nameOf.get(c.name)!;
        return this.merged.fileOf.get(inFrame) === number ? inFrame : undefined;
      });
      return [{ name, blocks, names }];
    });
  }
}
