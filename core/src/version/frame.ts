import { castOf, type CastLayer } from '../cast/cast.ts';
import type { Passes } from '../corrections/correction.ts';
import type { Crew } from '../crew/work.ts';
import { reducedPlane } from '../display/pass-picture.ts';
import type { BlockLines } from '../formats/exr/blocks.ts';
import { asFloats } from '../formats/exr/samples.ts';
import type { ExrChannel } from '../formats/exr/types.ts';
import { buildIdIndexBy, type IdIndex } from '../idindex/id-index.ts';
import type { DescribedLayer } from '../idlayers/load.ts';
import type { RankPlanes } from '../idlayers/rank-planes.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { beautyPlanes, type PictureChoice } from './beauty.ts';
import { cameraViewOf } from './camera-view.ts';
import { countBlocks, joinStats, newStats, statsOfPlane, type ChannelStats } from './channel-stats.ts';
import type { Derived } from './derived.ts';
import { factsOfFrame, type FrameFacts, type Known } from './frame-facts.ts';
import { indexBlocksOf, indexesOfBlocks, rankChannels } from './index-blocks.ts';
import { mergeHeaders, type MergedHeader } from './merge.ts';
import type { OpenPicture } from './open-picture.ts';
import { about, PartReader, type FramePart, type ReadShare } from './part-reader.ts';
import { passPlanes } from './passes.ts';
import { reduceBlocks } from './reduced-blocks.ts';
import { surveyRoles } from './role-channels.ts';

/** What a frame is made with, beside its files. */
export interface FrameOptions extends Known {
  crew: Crew;
  /** Which part is the picture, and gives the frame; the first by default. */
  picture?: number;
  /** Number of the frame in its sequence. */
  number?: number | undefined;
}

/**
 * One frame of a version whose headers are known and whose pixels are read when they are asked for: the picture's own
 * channels first, then one ID layer after the other. Throws {@link VersionError} for files that do not fit together.
 */
export class Frame implements FrameFacts {
  readonly header: FrameFacts['header'];
  readonly width: number;
  readonly height: number;
  readonly display: FrameFacts['display'];
  readonly beauty: FrameFacts['beauty'];
  readonly layers: FrameFacts['layers'];
  readonly choice: FrameFacts['choice'];
  readonly roles: FrameFacts['roles'];
  readonly passes: FrameFacts['passes'];
  readonly findings: FrameFacts['findings'];
  readonly roleRows: FrameFacts['roleRows'];
  readonly taken: FrameFacts['taken'];
  readonly derived: FrameFacts['derived'];
  readonly crew: Crew;
  private readonly number: number | undefined;
  private readonly files: PartReader;

  private constructor(
    readonly parts: readonly FramePart[],
    private readonly merged: MergedHeader,
    options: FrameOptions,
  ) {
    this.crew = options.crew;
    this.number = options.number;
    this.files = new PartReader(parts, merged, options.crew);
    const facts = factsOfFrame(merged, options);
    this.header = facts.header;
    this.width = facts.width;
    this.height = facts.height;
    this.display = facts.display;
    this.beauty = facts.beauty;
    this.layers = facts.layers;
    this.choice = facts.choice;
    this.roles = facts.roles;
    this.passes = facts.passes;
    this.findings = facts.findings;
    this.roleRows = facts.roleRows;
    this.taken = facts.taken;
    this.derived = facts.derived;
  }

  static async of(parts: readonly FramePart[], options: FrameOptions): Promise<Frame> {
    const merged = await about(undefined, () =>
      mergeHeaders(
        parts.map((p) => p.header),
        options.picture,
      ),
    );
    let frame = new Frame(parts, merged, options);
    const found = frame.choice.doubt && (await frame.addedUp(frame.choice.doubt));
    if (found !== undefined) {
      const choice = { layers: [found], why: 'the parts of the light add up to it' };
      frame = new Frame(parts, merged, { ...options, choice });
    }
    const surveyed = await frame.survey();
    if (!surveyed) return frame;
    const findings = [...(options.findings ?? []), ...surveyed.findings];
    return new Frame(parts, merged, {
      ...options,
      choice: frame.choice,
      computed: surveyed.computed,
      members: surveyed.members,
      findings,
    });
  }

  /** Looks for members in the pixels of passes that have no list of them; undefined if there is no such pass. */
  private async survey() {
    const { header, roles, beauty, width, height, crew } = this;
    if (roles.length === 0) return undefined;
    return surveyRoles(header, roles, {
      width,
      height,
      crew,
      channels: header.channels,
      beauty: beauty
        ? [beauty.r, beauty.g, beauty.b].map((name) => header.channels.find((c) => c.name === name)!)
        : [],
      read: async (names) => {
        const channels = await this.channels((name) => names.includes(name));
        return new Map(channels.map((c) => [c.name, asFloats(c)]));
      },
    });
  }

  /**
   * Which of several layers parts of the light add up to, pixel for pixel in a small picture: within a fiftieth of how
   * light it is. Undefined if none.
   */
  private async addedUp({
    candidates,
    lights,
  }: NonNullable<PictureChoice['doubt']>): Promise<string | undefined> {
    const by = Math.max(1, Math.ceil(Math.max(this.width, this.height) / 200));
    const green = (layer: string) => `${layer}.G`;
    const wanted = new Set([...candidates, ...lights].map(green));
    const planes = await this.reduced((name) => wanted.has(name), by);
    const sum = new Float64Array(planes.get(green(lights[0]!))!.length);
    for (const light of lights) planes.get(green(light))!.forEach((v, i) => (sum[i]! += v));
    const off = (layer: string): number => {
      let [away, all] = [0, 0];
      planes.get(green(layer))!.forEach((v, i) => {
        away += Math.abs(v - sum[i]!);
        all += Math.abs(v);
      });
      return all > 0 ? away / all : Infinity;
    };
    const [nearest] = candidates.map((layer) => ({ layer, off: off(layer) })).sort((a, b) => a.off - b.off);
    return nearest && nearest.off < 0.02 ? nearest.layer : undefined;
  }

  /** Reads some channels, and no others; those that no file holds are computed. */
  async channels(wanted: (name: string) => boolean, options: ReadShare = {}): Promise<ExrChannel[]> {
    const needed = new Set(this.header.channels.map((c) => c.name).filter(wanted));
    // From the last on: what a group is computed from may be of one before.
    const due = new Set<Derived>();
    for (const g of [...this.derived].reverse()) {
      if (!g.channels.some((c) => needed.has(c.name))) continue;
      for (const c of g.from) needed.add(c.name);
      due.add(g);
    }
    const found = new Map(
      (await this.files.stored((name) => needed.has(name), options)).map((c) => [c.name, c] as const),
    );
    for (const g of this.derived) {
      if (!due.has(g)) continue;
      const planes = g.from.map((c) => asFloats(found.get(c.name)!));
      const out = g.channels.map(() => new Float32Array(this.crew.allocate(4 * this.width * this.height)));
      // Nothing of the frame but its size: threads get it.
      await g.make(planes, out, { width: this.width, height: this.height }, this.crew);
      g.channels.forEach((c, i) => found.set(c.name, { ...c, type: 'float', data: out[i]! }));
    }
    return this.header.channels.flatMap((c) => {
      const own = wanted(c.name) ? found.get(c.name) : undefined;
      if (!own) return [];
      const { encoding: _, ...rest } = own;
      return [c.encoding ? { ...rest, encoding: c.encoding } : rest];
    });
  }

  /** Scene-linear colours of the picture; mid grey where there is none. */
  async picture(options?: ReadShare): Promise<RgbPlanes> {
    const { beauty } = this;
    const names = beauty ? [beauty.r, beauty.g, beauty.b] : [];
    const channels = names.length ? await this.channels((name) => names.includes(name), options) : [];
    return this.planes(channels);
  }

  private planes(channels: ExrChannel[]): RgbPlanes {
    const planes = beautyPlanes({ header: this.header, channels }, this.beauty, (bytes) =>
      this.crew.allocate(bytes),
    );
    const view = cameraViewOf(this.header.attributes);
    return {
      ...planes,
      ...(view ? { view } : {}),
      ...(this.number === undefined ? {} : { frameNumber: this.number }),
    };
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
    const [index] = await this.indexes([layer], options);
    return index!;
  }

  /** Indexes of sound ID layers: those that one file holds are made while it is read once. */
  async indexes(layers: readonly DescribedLayer[], options: ReadShare = {}): Promise<IdIndex[]> {
    const found = new Map<DescribedLayer, IdIndex>();
    const byPart = new Map<number, { layer: DescribedLayer; ranks: ReturnType<typeof rankChannels> }[]>();
    for (const layer of layers) {
      const part = this.files.partOf(layer);
      const blocks = part === undefined ? undefined : this.files.blocksOf(part);
      const own = (name: string) => this.parts[part!]!.ownName.get(name)!;
      const ranks =
        blocks &&
        rankChannels(
          blocks,
          layer.ranks!.map((r) => ({ id: own(r.id), coverage: own(r.coverage) })),
        );
      if (ranks) byPart.set(part!, [...(byPart.get(part!) ?? []), { layer, ranks }]);
    }
    for (const [part, wanted] of byPart) {
      const blocks = indexBlocksOf(
        this.files.blocksOf(part)!,
        wanted.map((w) => w.ranks!),
      );
      const indexes = await about(this.parts[part]!.name, () => indexesOfBlocks(this.crew, blocks, options));
      wanted.forEach(({ layer }, i) => found.set(layer, indexes[i]!));
    }
    for (const layer of layers) {
      if (found.has(layer)) continue;
      const names = new Set(layer.channels);
      const channels = await this.channels((name) => names.has(name), options);
      const { width, height } = this;
      const planes = layer.decode(channels, { width, height });
      found.set(layer, await buildIdIndexBy(this.crew, planes, options.signal));
    }
    return layers.map((l) => found.get(l)!);
  }

  /** The part that holds all of some channels; undefined if they are spread, or no file holds them. */
  partOfChannels(names: readonly string[]): FramePart | undefined {
    return this.files.partOfChannels(names);
  }

  /**
   * Channels made smaller, `by` pixels across and down into one (means of what is finite), by name: to be looked at.
   * Every file is read once, and no channel stands in memory as a whole if its file is made of blocks of lines.
   */
  async reduced(
    wanted: (name: string) => boolean,
    by: number,
    options: ReadShare = {},
  ): Promise<ReadonlyMap<string, Float32Array>> {
    const [w, h] = [Math.ceil(this.width / by), Math.ceil(this.height / by)];
    const found = new Map<string, Float32Array>();
    for (const { name, blocks, names } of this.files.ownBlocks()) {
      const out = blocks.channels.map((c, i) => {
        const inFrame = names[i];
        const plain = c.xSampling === 1 && c.ySampling === 1;
        if (!plain || inFrame === undefined || !wanted(inFrame)) return undefined;
        const plane = new Float32Array(this.crew.allocate(4 * w * h));
        found.set(inFrame, plane);
        return plane;
      });
      if (!out.some(Boolean)) continue;
      const input = { ...blocks, wanted: out.map((p) => p !== undefined), by, out };
      await about(name, () => this.crew.share(reduceBlocks, input, options));
    }
    for (const c of await this.channels((name) => wanted(name) && !found.has(name), options))
      found.set(c.name, reducedPlane(asFloats(c), this.width, this.height, by));
    return found;
  }

  /** What the samples of all stored channels are, by name; every file is read once. */
  async stats(options: ReadShare = {}): Promise<ReadonlyMap<string, ChannelStats>> {
    const found = new Map<string, ChannelStats>();
    for (const { name, blocks, names } of this.files.ownBlocks()) {
      const input: BlockLines = { ...blocks, wanted: names.map((n) => n !== undefined) };
      const told = await about(name, () => this.crew.share(countBlocks, input, options));
      names
        .flatMap((n) => n ?? [])
        .forEach((n, i) => found.set(n, told.map((t) => t[i]!).reduce(joinStats, newStats())));
    }
    const stored = new Set(this.merged.header.channels.map((c) => c.name));
    for (const c of await this.files.stored((n) => stored.has(n) && !found.has(n), options))
      found.set(c.name, statsOfPlane(asFloats(c), this.width));
    return found;
  }

  /** Members of every sound layer, from indexes alone: header, names and areas, without the picture. */
  async cast({ signal, onProgress }: ReadShare = {}): Promise<CastLayer[]> {
    const sound = this.layers.filter((l) => l.sound);
    const indexes = await this.indexes(sound, { signal, onProgress });
    return sound.map((layer, i) => castOf(layer, indexes[i]!));
  }

  /** Everything: all channels, ID layers, and members. */
  async all({ signal, onProgress }: ReadShare = {}): Promise<OpenPicture> {
    const { header, width, height, display, beauty, findings } = this;
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
      display,
      ...(beauty ? { beauty } : {}),
      planes: this.planes(channels),
      layers,
      cast,
      passes: this.passes,
      findings: [...findings],
    };
  }
}
