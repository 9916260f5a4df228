import {
  castOf,
  openFrame,
  passesNeeded,
  pictureKey,
  picturesNeeded,
  layersNamed,
  readFillPictures,
  unpackIndex,
  type CastLayer,
  type Crew,
  type Frame,
  type IdIndex,
  type Passes,
  type PictureValue,
} from '@zesty-crow/core';
import { breathe } from '@zesty-crow/core/crew';
import type { PictureFile, VersionFiles, ViewState } from '../messages.ts';
import { ClosedError, type OpenFrame } from '../open-frame.ts';

/** Memory that a frame may need in a page, in bytes. */
const MOST_MEMORY = 3 * 2 ** 30;

/** What a session needs of the place where it runs. */
export interface SessionEnv {
  crew?: Crew;
  /** Bytes of a file, in memory that the crew sees. */
  read(file: PictureFile, onShare: (share: number) => void, signal: AbortSignal): Promise<Uint8Array>;
  /** Bytes of a picture file that is laid into the picture. */
  readPicture?(picture: PictureValue, signal: AbortSignal): Promise<Uint8Array>;
  /** Bytes of an index that was made before of these very files, if there is one. */
  storedIndex?(
    indexes: string,
    layer: string,
    frame: number | undefined,
    signal: AbortSignal,
  ): Promise<Uint8Array | undefined>;
}

/** What becomes of what is read. */
export interface LoaderHooks {
  /** Something has come that {@link FrameLoader.take} gives out. */
  arrived(): void;
  /** A layer of the open frame will not come. */
  layerFailed(name: string, error: unknown): void;
  /** Passes that corrections of the open frame read will not come. */
  passesFailed(open: OpenFrame, names: readonly string[], error: unknown): void;
  /** The view that decides which layers come first. */
  view(): ViewState;
  /** Resolves when nothing is being computed. */
  rest(): Promise<void>;
}

/**
 * Reads what belongs to a frame after its picture: ID layers, those in use first, and passes and pictures that
 * corrections want. What has come is kept until it is taken, when nothing is being computed; what does not come is told.
 */
export class FrameLoader {
  private arrivedLayers: CastLayer[] = [];
  private arrivedPasses: [OpenFrame, Passes][] = [];
  private readonly waiting = new Set<() => void>();

  constructor(
    private readonly env: SessionEnv,
    private readonly crew: Crew,
    private readonly hooks: LoaderHooks,
  ) {}

  /** Opens a frame of a version that is not the one on the screen, or is about to be. */
  openFrame(
    { files, interpretation }: VersionFiles,
    frame: number | undefined,
    signal: AbortSignal,
    onProgress?: (share: number) => void,
  ): Promise<Frame> {
    const read = (file: PictureFile, onShare: (share: number) => void) =>
      this.env.read(file, onProgress ? onShare : () => undefined, signal);
    return openFrame(files, frame, read, {
      crew: this.crew,
      maxMemory: MOST_MEMORY,
      interpretation,
      signal,
      ...(onProgress ? { onProgress } : {}),
    });
  }

  /** Forgets what has come for the frame before. */
  begin(): void {
    this.arrivedLayers = [];
  }

  /** True if something has come that was not taken. */
  get holds(): boolean {
    return this.arrivedLayers.length > 0 || this.arrivedPasses.length > 0;
  }

  /** Gives out what has come: the layers, and the passes of one frame. */
  take(open: OpenFrame | undefined): { layers: CastLayer[]; passes: Passes[] } {
    const layers = this.arrivedLayers.splice(0);
    const passes = this.arrivedPasses.splice(0).filter(([of]) => of === open);
    return { layers, passes: passes.map(([, planes]) => planes) };
  }

  /** Those who wait for a layer look again. */
  layersMoved(): void {
    for (const known of this.waiting) known();
    this.waiting.clear();
  }

  /** Resolves when another layer is there, or will not come. Rejects when the frame is closed meanwhile. */
  async nextLayer(isOpen: () => boolean): Promise<void> {
    await new Promise<void>((resolve) => this.waiting.add(resolve));
    if (!isOpen()) throw new ClosedError('Another picture was opened.');
  }

  /** Reads the ID layers of the open frame; resolves when all have come or failed. */
  async readLayers(
    open: OpenFrame,
    version: VersionFiles,
    frame: number | undefined,
    signal: AbortSignal,
  ): Promise<void> {
    /** Names of the layers that are still to come, those in use first. */
    const coming = () => {
      const { layer, changes } = this.hooks.view();
      const first = [layer, ...changes.flatMap(layersNamed)].filter(
        (n) => n !== undefined && open.coming.has(n),
      );
      return [...new Set([...(first as string[]), ...open.coming])];
    };
    const made = new Set<string>();
    // The picture comes first.
    await this.hooks.rest();
    for (;;) {
      signal.throwIfAborted();
      const name = coming().find((n) => !made.has(n));
      if (name === undefined) break;
      const known = await this.storedIndex(version, name, frame, open.frame, signal);
      if (known) await this.layersThere(open, [[name, known]], signal);
      else made.add(name);
    }
    try {
      await this.makeLayers(open, coming(), signal);
    } catch {
      // Which of them it was is found one by one.
      for (const name of coming())
        try {
          await this.makeLayers(open, [name], signal);
        } catch (error) {
          signal.throwIfAborted();
          open.coming.delete(name);
          this.hooks.layerFailed(name, error);
          this.layersMoved();
        }
    }
  }

  /** Makes layers from the files: those of one file are had for one reading of it. */
  private async makeLayers(open: OpenFrame, names: readonly string[], signal: AbortSignal): Promise<void> {
    const layers = names.map((name) => open.frame.layers.find((l) => l.name === name)!);
    const indexes = await open.frame.indexes(layers, { signal });
    await this.layersThere(
      open,
      names.map((name, i) => [name, indexes[i]!]),
      signal,
    );
  }

  /** Hands layers over; they are taken when nothing is being computed, which a hand on a slider may delay. */
  private async layersThere(
    open: OpenFrame,
    layers: readonly (readonly [name: string, index: IdIndex])[],
    signal: AbortSignal,
  ): Promise<void> {
    signal.throwIfAborted();
    for (const [name, index] of layers)
      this.arrivedLayers.push(
        castOf(
          open.frame.layers.find((l) => l.name === name)!,
          index,
        ),
      );
    this.hooks.arrived();
    while (layers.some(([name]) => open.coming.has(name))) {
      await breathe();
      signal.throwIfAborted();
    }
  }

  /** The index as it was kept. It only spares time: without it, or with a damaged one, it is made from the file. */
  async storedIndex(
    { indexes }: VersionFiles,
    layer: string,
    frame: number | undefined,
    { width, height }: Frame,
    signal: AbortSignal,
  ): Promise<IdIndex | undefined> {
    if (indexes === undefined || !this.env.storedIndex) return undefined;
    const bytes = await this.env.storedIndex(indexes, layer, frame, signal).catch(() => undefined);
    signal.throwIfAborted();
    return bytes && unpackIndex(bytes, width, height);
  }

  /**
   * Reads passes and pictures that corrections want and that have not been asked for. Resolves when all that these changes
   * want are there, or will not be.
   */
  async readPasses(open: OpenFrame, changes: ViewState['changes'], signal: AbortSignal): Promise<void> {
    const there = new Set(open.frame.passes.map((p) => p.name));
    const wanted = passesNeeded(changes).filter((n) => there.has(n));
    const fresh = wanted.filter((n) => !open.asked.has(n));
    const reading = fresh.length
      ? this.read(open, fresh, signal, () => open.frame.passPlanes(fresh, { signal }))
      : undefined;
    for (const name of fresh) open.asked.set(name, reading!);
    const pictures = picturesNeeded(changes);
    for (const picture of pictures) {
      const key = pictureKey(picture.file);
      if (!open.asked.has(key))
        open.asked.set(
          key,
          this.read(open, [key], signal, () => this.fill(picture, signal)),
        );
    }
    const names = [...wanted, ...pictures.map((p) => pictureKey(p.file))];
    await Promise.all(names.flatMap((n) => open.asked.get(n) ?? []));
  }

  private async read(
    open: OpenFrame,
    names: readonly string[],
    signal: AbortSignal,
    planes: () => Promise<Passes>,
  ): Promise<void> {
    open.reading++;
    try {
      this.arrivedPasses.push([open, await planes()]);
    } catch (error) {
      if (!signal.aborted) this.hooks.passesFailed(open, names, error);
    } finally {
      open.reading--;
    }
    this.hooks.arrived();
  }

  /** Reads a picture file that is laid into this one. */
  private async fill(picture: PictureValue, signal: AbortSignal): Promise<Passes> {
    const { readPicture } = this.env;
    if (!readPicture) throw new Error(`The picture ${picture.name} is not at hand.`);
    return readFillPictures([picture], () => readPicture(picture, signal), { crew: this.crew, signal });
  }
}
