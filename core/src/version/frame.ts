import { castOf, type CastLayer } from '../cast/cast.ts';
import type { Crew } from '../crew/work.ts';
import type { Finding } from '../findings/finding.ts';
import { ExrError } from '../formats/exr/errors.ts';
import type { ExrChannel, ExrHeader } from '../formats/exr/types.ts';
import type { ImageReader } from '../formats/reader.ts';
import { buildIdIndexBy, type IdIndex } from '../idindex/id-index.ts';
import { sizeOf } from '../idlayers/cryptomatte.ts';
import { describeIdLayers, type DescribedLayer } from '../idlayers/load.ts';
import type { RankPlanes } from '../idlayers/rank-planes.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { beautyPlanes, findBeauty, type BeautyChannels } from './beauty.ts';
import { indexBlocksOf, indexOfBlocks, type IndexBlocks } from './index-blocks.ts';
import type { NamedPart } from './file-parts.ts';
import { mergeHeaders, type MergedHeader } from './merge.ts';
import { placeChannel, sameBox } from './place.ts';
import { findPasses, passPlanes, type PassInfo } from './passes.ts';
import type { Passes } from '../corrections/correction.ts';
import type { OpenPicture } from './open-picture.ts';
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

/**
 * One frame of a version whose headers are known and whose pixels are read when they are asked for: the picture's own
 * channels first, then one ID layer after the other. Throws {@link VersionError} for files that do not fit together.
 */
export class Frame {
  readonly header: ExrHeader;
  readonly width: number;
  readonly height: number;
  /** Channels that are the picture; undefined for files of data passes only. */
  readonly beauty: BeautyChannels | undefined;
  readonly layers: readonly DescribedLayer[];
  /** Other passes, which corrections may read. */
  readonly passes: readonly PassInfo[];
  /** What the headers and manifests tell. */
  readonly findings: readonly Finding[];
  private readonly merged: MergedHeader;

  private constructor(
    private readonly parts: readonly FramePart[],
    merged: MergedHeader,
    sidecars: ReadonlyMap<string, string>,
    private readonly crew: Crew,
    findings: readonly Finding[],
  ) {
    this.merged = merged;
    this.header = merged.header;
    ({ width: this.width, height: this.height } = sizeOf(this.header));
    this.beauty = findBeauty(this.header);
    const described = describeIdLayers(this.header, sidecars);
    this.layers = described.layers;
    this.findings = [...findings, ...described.findings];
    this.passes = findPasses(this.header, this.beauty, this.layers);
  }

  static async of(
    parts: readonly FramePart[],
    sidecars: ReadonlyMap<string, string>,
    crew: Crew,
    findings: readonly Finding[] = [],
  ): Promise<Frame> {
    const merged = await about(undefined, () => mergeHeaders(parts.map((p) => p.header)));
    return new Frame(parts, merged, sidecars, crew, findings);
  }

  /** Reads some channels, and no others. */
  async channels(
    wanted: (name: string) => boolean,
    { signal, onProgress }: ReadShare = {},
  ): Promise<ExrChannel[]> {
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

  /** Scene-linear colours of the picture; mid grey where there is none. */
  async picture(options?: ReadShare): Promise<RgbPlanes> {
    const { beauty } = this;
    const names = beauty ? [beauty.r, beauty.g, beauty.b] : [];
    const channels = names.length ? await this.channels((name) => names.includes(name), options) : [];
    return this.planes(channels);
  }

  private planes(channels: ExrChannel[]): RgbPlanes {
    return beautyPlanes({ header: this.header, channels }, this.beauty, (bytes) => this.crew.allocate(bytes));
  }

  /** Planes of other passes by their names; those that are not there are left out. */
  async passPlanes(names: readonly string[], options?: ReadShare): Promise<Passes> {
    const wanted = this.passes.filter((p) => names.includes(p.name));
    const own = new Set(wanted.flatMap((p) => p.channels));
    const channels = own.size ? await this.channels((name) => own.has(name), options) : [];
    return passPlanes(wanted, channels, (bytes) => this.crew.allocate(bytes));
  }

  /** Index of a sound ID layer. */
  async index(layer: DescribedLayer, options: ReadShare = {}): Promise<IdIndex> {
    const blocks = this.blocksOf(layer);
    if (blocks) return indexOfBlocks(this.crew, blocks, options);
    const names = new Set(layer.channels);
    const channels = await this.channels((name) => names.has(name), options);
    const { width, height } = this;
    return buildIdIndexBy(this.crew, layer.decode(channels, { width, height }), options.signal);
  }

  /** The blocks of the file that holds all ranks of a layer; undefined if they are spread, or of another kind. */
  private blocksOf({ ranks }: DescribedLayer): IndexBlocks | undefined {
    if (!ranks || ranks.length === 0) return undefined;
    const files = new Set(
      ranks.flatMap((r) => [r.id, r.coverage]).map((name) => this.merged.fileOf.get(name)),
    );
    const [number] = files;
    if (files.size > 1 || number === undefined) return undefined;
    const { reader, bytes, part, header, ownName } = this.parts[number]!;
    const blocks = sameBox(header.dataWindow, this.header.dataWindow)
      ? reader.blocks(bytes, part)
      : undefined;
    const own = (name: string) => ownName.get(name)!;
    return (
      blocks &&
      indexBlocksOf(
        blocks,
        ranks.map((r) => ({ id: own(r.id), coverage: own(r.coverage) })),
      )
    );
  }

  /** Members of every sound layer, from indexes alone: header, names and areas, without the picture. */
  async cast({ signal, onProgress }: ReadShare = {}): Promise<CastLayer[]> {
    const sound = this.layers.filter((l) => l.sound);
    const cast: CastLayer[] = [];
    for (const layer of sound) {
      cast.push(castOf(layer, await this.index(layer, { signal })));
      onProgress?.(cast.length / sound.length);
    }
    return cast;
  }

  /** Everything: all channels, ID layers, and members. */
  async all({ signal, onProgress }: ReadShare = {}): Promise<OpenPicture> {
    const { header, width, height, beauty, findings } = this;
    const channels = await this.channels(() => true, {
      signal,
      onProgress: (share) => onProgress?.(0.8 * share),
    });
    const planesOf = (l: DescribedLayer): { planes?: RankPlanes } =>
      l.sound ? { planes: l.decode(channels, { width, height }) } : {};
    const layers = this.layers.map((l) => ({ ...l, ...planesOf(l) }));
    const cast: CastLayer[] = [];
    for (const l of layers)
      if (l.planes) cast.push(castOf(l, await buildIdIndexBy(this.crew, l.planes, signal)));
    onProgress?.(1);
    return {
      image: { header, channels },
      width,
      height,
      ...(beauty ? { beauty } : {}),
      planes: this.planes(channels),
      layers,
      cast,
      passes: this.passes,
      findings: [...findings],
    };
  }
}
