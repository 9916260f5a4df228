import {
  alone,
  castOf,
  ChangeStack,
  coloursAlong,
  computeStack,
  computeTiles,
  displayByte,
  findMixtures,
  halvingsAt,
  limitsOf,
  weighPixels,
  idsAt,
  maskContour,
  meanUnder,
  maskOfMembers,
  noMask,
  membersWithin,
  slotsByDepth,
  NO_ID,
  layerKindOf,
  layersNamed,
  middleOfMember,
  pictureTile,
  openFrame,
  passesNeeded,
  pictureKey,
  picturesNeeded,
  readFillPictures,
  type PictureValue,
  reducedTile,
  showCutOut,
  showDimming,
  showIds,
  showMask,
  asFloats,
  colourLayers,
  compareFrames,
  countWarnings,
  coveredBy,
  differenceTile,
  meansIn,
  scopeOf,
  boundsUnder,
  smallMask,
  smallPicture,
  type TileMask,
  showWarnings,
  type CubeTable,
  type DisplayUse,
  type Region,
  type Watched,
  dimmingAround,
  maskOfPlanes,
  memberThumbnail,
  explainRanks,
  idsPicture,
  passPicture,
  rankCounts,
  ranksNeeded,
  chromaticities,
  onScreen,
  primariesName,
  through,
  type ExrHeader,
  type ListedChange,
  ROLES,
  wallOf,
  type WallPass,
  TILE,
  TILE_PIXELS,
  tileBounds,
  unnamed,
  unpackIndex,
  type CastLayer,
  type Comparison,
  type Crew,
  type Frame,
  type IdIndex,
  type Passes,
  type RgbPlanes,
  factsOf,
  relinkReport,
  type LayerFacts,
} from '@zesty-crow/core';
import { breathe } from '@zesty-crow/core/crew';
import { readBeside, stateOfFrame } from './beside.ts';
import { DueTiles } from './due-tiles.ts';
import type {
  Answers,
  Failure,
  Opened,
  PassPicture,
  PictureEvents,
  PictureFile,
  Probe,
  Query,
  SamplePlace,
  SampleValues,
  ShownTile,
  Surface,
  Swatches,
  VersionFiles,
  ViewDisplay,
  ViewState,
} from './messages.ts';

/** Memory that a frame may need in a page, in bytes. */
const MOST_MEMORY = 3 * 2 ** 30;
/** Opacity, of 255, of the black over what is not picked. */
const DIMMED = 115;
/** Longest side of a picture up to which a pass is read together with all others. */
const SMALL = 700;
/** Longer side of the small picture of a change's part. */
const SMALL_PART = 72;
/** Of a mask in the sheet, for screens of twice the density. */
const SMALL_MASK = 112;
/** The same on the wall, where it shows at a glance where something is. */
const DIMMED_WALL = 190;
/** Work between two looks at the messages, in milliseconds. */
const SLICE = 10;
/** A computation that has run this long gives way to a newer view; a shorter one is worth ending. */
const PATIENCE = 45;
/** So long mixed pixels are taken apart before anything else is looked after, in milliseconds, and in how many tiles first. */
const APART_MS = 30;
const FIRST_TILES = 6;
/** So long nothing must have moved before swatches are computed, in milliseconds. */
const REST = 120;
const SURFACES: readonly Surface[] = ['view', 'before', 'dim', 'mask', 'warn'];

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

/** What belongs to one opened frame; another one takes its place as a whole. */
interface Open {
  frame: Frame;
  wall: readonly WallPass[];
  planes: RgbPlanes;
  stack: ChangeStack;
  /** Layers that have arrived. */
  cast: CastLayer[];
  names: Map<string, Map<number, string>>;
  /** Layers that are still to come, and those that will not. */
  coming: Set<string>;
  /** Planes of other passes that corrections read; filled as they are wanted. */
  passes: Record<string, readonly Float32Array[]>;
  /** Passes that are or were being read, and when that is over. */
  asked: Map<string, Promise<void>>;
  /** How many of those are still being read. */
  reading: number;
  /** RGBA of the corrected picture, tile after tile. */
  bytes: Uint8Array;
  toCompute: Uint8Array;
  shown: Record<Surface, DueTiles>;
  dimmed: Uint8Array;
  /** What it is compared with, if that is not the picture as rendered. */
  other: Other | undefined;
  watched: Watched | undefined;
  /** Where presets are tried. */
  trial: ChangeStack | undefined;
  /** Where other states of the whole list are computed. */
  state: ChangeStack | undefined;
}

/** Another state of the picture, or another picture of its size. */
interface Other {
  key: string;
  /** Absent until it has been read. */
  planes: RgbPlanes | undefined;
  stack: ChangeStack | undefined;
  /** Tiles that are still to be computed. */
  due: Uint8Array;
}

/** A frame of another version, and the frame that it was read for. */
interface OtherVersion {
  key: string;
  of: Frame;
  planes: RgbPlanes;
  cast: readonly CastLayer[];
  passes: Passes;
}

const RENDERED = JSON.stringify({ kind: 'rendered' });
const sameDisplay = (a: ViewDisplay, b: ViewDisplay) =>
  a.stops === b.stops && a.gamma === b.gamma && a.transform === b.transform && a.table === b.table;

/** The question was asked of a frame that is not open any more. */
export class ClosedError extends Error {
  override name = 'ClosedError';
}

const EMPTY_VIEW: ViewState = {
  changes: [],
  openChange: undefined,
  look: 'picture',
  display: { stops: 0, gamma: 1, transform: 'srgb' },
  against: { kind: 'rendered' },
  gain: 4,
  warnings: [],
  layer: undefined,
  limitOf: undefined,
  ground: 'chequers',
  wanted: { before: false, dim: false, mask: false, outline: false, warn: false },
  visible: undefined,
  scale: 1,
};

/**
 * One open frame and how it is looked at: reads the picture's own channels first, then one ID layer after the other,
 * computes what is due, visible tiles first, and answers questions meanwhile. It knows no worker and no screen.
 * The latest view wins; every failure is told, and none hangs: questions that cannot be answered any more are rejected.
 */
export class PictureSession {
  private view: ViewState = EMPTY_VIEW;
  /** The outline is another one than was told. */
  private outlineDue = false;
  /** What waits for the computation that is under way: masks are changed in place, and other threads read them. */
  private next: { view: ViewState; revision: number } | undefined;
  /** Number of the view that is shown. */
  private revision = 0;
  private arrived: CastLayer[] = [];
  private arrivedPasses: [Open, Passes][] = [];
  private open_: Open | undefined;
  private events: PictureEvents | undefined;
  private readonly crew: Crew;
  private pumping = false;
  private begun = 0;
  private computing: { abort: AbortController; since: number } | undefined;
  private layersKnown = new Set<() => void>();
  private swatches: Swatches = {};
  private staleSwatches = new Set<string>();
  /** What each change was when it was last looked at. */
  private readonly changeKeys = new Map<string, string>();
  private resting: ReturnType<typeof setTimeout> | undefined;
  /** Corrections that could not be computed, until their change is another one. */
  private failures: Failure[] = [];
  private opening = new AbortController();

  constructor(private readonly env: SessionEnv) {
    this.crew = env.crew ?? alone;
  }

  /**
   * Opens a frame of a version; what was open before stays on the screen until its picture is there. Resolves when all
   * ID layers have arrived or failed. Rejects with the reason if the picture cannot be opened, or is not wanted any more.
   */
  async open(
    version: VersionFiles,
    number: number | undefined,
    events: PictureEvents,
    signal?: AbortSignal,
  ): Promise<void> {
    this.opening.abort(new ClosedError('Another picture was opened.'));
    const opening = (this.opening = new AbortController());
    const stop = AbortSignal.any([opening.signal, ...(signal ? [signal] : [])]);
    this.events = events;
    const frame = await openFrame(
      version.files,
      number,
      (file, onShare) => this.env.read(file, onShare, stop),
      {
        crew: this.crew,
        maxMemory: MOST_MEMORY,
        interpretation: version.interpretation,
        signal: stop,
        onProgress: (share) => events.progress(0.5 * share, 'Loading'),
      },
    );
    const planes = await frame.picture({
      signal: stop,
      onProgress: (share) => events.progress(0.5 + 0.5 * share, 'Reading'),
    });
    stop.throwIfAborted();
    this.take(frame, planes);
    await this.readLayers(stop, (layer) => this.storedIndex(version, layer, number, frame, stop));
  }

  /** Replaces what was open. */
  private take(frame: Frame, planes: RgbPlanes): void {
    const last = this.open_;
    this.computing?.abort.abort();
    this.arrived = [];
    const cast: CastLayer[] = [];
    const passes: Open['passes'] = {};
    const stack = new ChangeStack(planes, cast, { allocate: (bytes) => this.crew.allocate(bytes), passes });
    const sound = frame.layers.filter((l) => l.sound);
    const count = stack.tileCount;
    const same = last?.dimmed.length === count ? last : undefined;
    const wall = wallOf(frame.header, frame.beauty, frame.layers);
    this.open_ = {
      frame,
      wall,
      planes,
      stack,
      cast,
      names: new Map(),
      coming: new Set(sound.map((l) => l.name)),
      passes,
      asked: new Map(),
      reading: 0,
      bytes: new Uint8Array(this.crew.allocate(count * 4 * TILE_PIXELS)),
      toCompute: new Uint8Array(count),
      // Dimming begins as it is everywhere without a mask; what a frame before has undimmed is to be dimmed again.
      shown: {
        view: new DueTiles(count, false),
        before: new DueTiles(count, false),
        dim: same?.shown.dim ?? new DueTiles(count, true),
        mask: new DueTiles(count, false),
        warn: new DueTiles(count, true),
      },
      dimmed: same?.dimmed ?? new Uint8Array(count),
      other: undefined,
      watched: undefined,
      trial: undefined,
      state: undefined,
    };
    this.swatches = {};
    this.changeKeys.clear();
    this.failures = [];
    const opened: Opened = {
      width: frame.width,
      height: frame.height,
      display: frame.display,
      dataWindow: frame.header.dataWindow,
      displayWindow: frame.header.displayWindow,
      hasPicture: frame.beauty !== undefined,
      layers: sound.map((l) => l.name),
      passes: frame.passes.map((p) => p.name),
      hasDepth: depthOf(wall) !== undefined,
      primaries: primariesOf(frame.header.attributes),
      toScreen: planes.toScreen,
      white: planes.white,
      wall,
      choice: frame.choice,
      colourLayers: colourLayers(frame.header, frame.taken),
      roles: frame.roleRows,
      channels: frame.header.channels.map((c) => c.name),
      findings: [...frame.findings],
    };
    this.events!.opened(opened);
    this.begun = performance.now();
    if (this.next) ({ view: this.view, revision: this.revision } = this.next);
    this.next = undefined;
    this.follow(undefined, this.view);
    void this.pump();
  }

  /** Reads the ID layers, the one in use first, then those that changes name. */
  private async readLayers(
    signal: AbortSignal,
    stored: (layer: string) => Promise<IdIndex | undefined>,
  ): Promise<void> {
    const open = this.open_!;
    /** Names of the layers that are still to come, those in use first. */
    const coming = () => {
      const named = this.view.changes.flatMap(layersNamed);
      const first = [this.view.layer, ...named].filter((n) => n !== undefined && open.coming.has(n));
      return [...new Set([...(first as string[]), ...open.coming])];
    };
    const made = new Set<string>();
    // The picture comes first.
    await this.rest();
    for (;;) {
      signal.throwIfAborted();
      const name = coming().find((n) => !made.has(n));
      if (name === undefined) break;
      const known = await stored(name);
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
          this.events!.layerFailed(name, error instanceof Error ? error.message : String(error));
          for (const known of this.layersKnown) known();
          this.layersKnown.clear();
        }
    }
  }

  /** Makes layers from the files: those of one file are had for one reading of it. */
  private async makeLayers(open: Open, names: readonly string[], signal: AbortSignal): Promise<void> {
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
    open: Open,
    layers: readonly (readonly [name: string, index: IdIndex])[],
    signal: AbortSignal,
  ): Promise<void> {
    signal.throwIfAborted();
    for (const [name, index] of layers)
      this.arrived.push(
        castOf(
          open.frame.layers.find((l) => l.name === name)!,
          index,
        ),
      );
    void this.pump();
    while (layers.some(([name]) => open.coming.has(name))) {
      await breathe();
      signal.throwIfAborted();
    }
  }

  /** The index as it was kept. It only spares time: without it, or with a damaged one, it is made from the file. */
  private async storedIndex(
    { indexes }: VersionFiles,
    layer: string,
    number: number | undefined,
    { width, height }: Frame,
    signal: AbortSignal,
  ): Promise<IdIndex | undefined> {
    if (indexes === undefined || !this.env.storedIndex) return undefined;
    const bytes = await this.env.storedIndex(indexes, layer, number, signal).catch(() => undefined);
    signal.throwIfAborted();
    return bytes && unpackIndex(bytes, width, height);
  }

  private addLayer(open: Open, layer: CastLayer): void {
    if (!open.coming.has(layer.name)) return;
    open.cast.push(layer);
    // In the order of the file, whichever came first.
    const order = open.frame.layers.map((l) => l.name);
    open.cast.sort((a, b) => order.indexOf(a.name) - order.indexOf(b.name));
    open.names.set(layer.name, new Map(layer.members.map((m) => [m.id, m.name])));
    open.coming.delete(layer.name);
    const { name, family, members, unseen } = layer;
    this.events!.layer({ name, family, members, unseen });
    this.begun = performance.now();
    this.updateStack(open);
    if (this.view.layer === layer.name && this.view.look === 'ids') open.shown.view.touch();
    this.maskMoved(open, false);
    for (const known of this.layersKnown) known();
    this.layersKnown.clear();
  }

  /**
   * Shows it like this from now on.
   * @param revision a number of the view, told when it has been computed
   */
  show(view: ViewState, revision = 0): void {
    this.next = { view, revision };
    this.background?.abort();
    this.begun = performance.now();
    if (this.computing && performance.now() - this.computing.since > PATIENCE) this.computing.abort.abort();
    void this.pump();
  }

  /** Marks what a new view makes due. */
  private follow(last: ViewState | undefined, now: ViewState): void {
    const open = this.open_;
    if (!open) return;
    const { shown } = open;
    for (const surface of SURFACES) shown[surface].want(halvingsAt(now.scale));
    const maskKey = (v: ViewState | undefined) => {
      const c = v?.changes.find((c) => c.id === v.openChange);
      return JSON.stringify([c?.who, c?.edge, c?.fence, c?.brush, c?.over, v?.openHeading]);
    };
    const limitKey = (v: ViewState | undefined) =>
      v?.limitOf === undefined ? '' : JSON.stringify(usedBy(v, v.limitOf)?.values);
    void this.readPasses(open, [...now.changes, ...(now.othersChanges ?? [])]);
    this.updateStack(open);
    if ((last?.look === 'mask') !== (now.look === 'mask')) shown.before.touch();
    if (now.look === 'mask' && limitKey(last) !== limitKey(now)) shown.view.touch();
    if (last?.look !== now.look || last.layer !== now.layer) shown.view.touch();
    if (last?.ground !== now.ground && now.look === 'cutout') shown.view.touch();
    if (!last || !sameDisplay(last.display, now.display)) {
      shown.view.touch();
      shown.before.touch();
      open.watched = undefined;
    }
    if (now.look === 'difference' && last?.gain !== now.gain) shown.view.touch();
    if (last && last.warnings.join() !== now.warnings.join()) this.watch(open);
    const another = last?.openChange !== now.openChange;
    if (another || maskKey(last) !== maskKey(now)) this.maskMoved(open, another || !last);
    else if (last && halvingsAt(last.scale) !== halvingsAt(now.scale)) this.tellOutline(open);
    else if (this.outlineDue && now.wanted.outline) this.tellOutline(open);
  }

  /**
   * Reads passes that corrections want and that have not been asked for; the stack takes them when they are there.
   * Resolves when all that these changes want are, or will not be.
   */
  private async readPasses(open: Open, changes: ViewState['changes']): Promise<void> {
    const there = new Set(open.frame.passes.map((p) => p.name));
    const wanted = passesNeeded(changes).filter((n) => there.has(n));
    const fresh = wanted.filter((n) => !open.asked.has(n));
    const reading = fresh.length ? this.readFresh(open, fresh) : undefined;
    for (const name of fresh) open.asked.set(name, reading!);
    const pictures = picturesNeeded(changes);
    for (const picture of pictures) {
      const key = pictureKey(picture.file);
      if (!open.asked.has(key)) open.asked.set(key, this.readFill(open, picture));
    }
    const names = [...wanted, ...pictures.map((p) => pictureKey(p.file))];
    await Promise.all(names.flatMap((n) => open.asked.get(n) ?? []));
  }

  private async readFresh(open: Open, names: readonly string[]): Promise<void> {
    const { signal } = this.opening;
    open.reading++;
    try {
      const planes = await open.frame.passPlanes(names, { signal });
      this.arrivedPasses.push([open, planes]);
    } catch (error) {
      if (!signal.aborted) this.notThere(open, names, error);
    } finally {
      open.reading--;
    }
    void this.pump();
  }

  /** Reads a picture file that is laid into this one. */
  private async readFill(open: Open, picture: PictureValue): Promise<void> {
    const { signal } = this.opening;
    const key = pictureKey(picture.file);
    try {
      const { readPicture } = this.env;
      if (!readPicture) throw new Error(`The picture ${picture.name} is not at hand.`);
      open.reading++;
      try {
        const planes = await readFillPictures([picture], () => readPicture(picture, signal), {
          crew: this.crew,
          signal,
        });
        this.arrivedPasses.push([open, planes]);
      } finally {
        open.reading--;
      }
    } catch (error) {
      if (!signal.aborted) this.notThere(open, [key], error);
    }
    void this.pump();
  }

  /** What corrections wanted could not be read: each of them says so. */
  private notThere(open: Open, names: readonly string[], error: unknown): void {
    if (this.open_ !== open) return;
    const message = error instanceof Error ? error.message : String(error);
    for (const change of this.view.changes)
      for (const use of change.corrections)
        if (passesNeeded([{ ...change, corrections: [use] }]).some((n) => names.includes(n)))
          this.failures.push({ changeId: change.id, kind: use.kind, message });
  }

  private updateStack(open: Open): void {
    const { changes, openChange } = this.view;
    // A change waits until all layers that it names are there: half of its mask would be another mask.
    const ready = changes.filter((c) => layersNamed(c).every((name) => !open.coming.has(name)));
    for (const tile of open.stack.update([...ready, ...this.empty(open)], openChange))
      open.toCompute[tile] = 1;
    for (const c of changes) {
      const key = JSON.stringify([
        c.on,
        c.who,
        c.edge,
        c.fence,
        c.brush,
        c.over,
        c.plainEdges,
        c.corrections,
      ]);
      const edited = this.changeKeys.get(c.id) !== key;
      if (edited || c.id === openChange) this.staleSwatches.add(c.id);
      if (edited) this.failures = this.failures.filter((f) => f.changeId !== c.id);
      this.changeKeys.set(c.id, key);
    }
    this.failures = this.failures.filter((f) => changes.some((c) => c.id === f.changeId));
    this.compareWith(open, ready);
  }

  /** The open heading as if it stood over a change that does nothing: then its mask is there, whatever is under it. */
  private empty(open: Open): ViewState['changes'] {
    const over = this.view.openHeading;
    if (!over || !layersNamed(over).every((name) => !open.coming.has(name))) return [];
    const nothing = { words: '', on: false, done: false, plainEdges: true, corrections: [] };
    return [{ ...noMask(), ...nothing, id: `under ${over.id}`, over }];
  }

  /**
   * The open change's mask is another one: dimming, outline and looks at masks follow.
   * @param whole it is the mask of another change, or of another picture
   */
  private maskMoved(open: Open, whole: boolean): void {
    const { openChange, look } = this.view;
    const { dim, mask: beside, view, before } = open.shown;
    // Unrefined it may have changed elsewhere.
    if (look === 'mask') before.touch();
    const mask = open.stack.mask(openChange);
    const moved = openChange === undefined ? undefined : open.stack.takeMoved(openChange);
    for (let t = 0; t < open.dimmed.length; t++) {
      const has = mask?.has(t) ? 1 : 0;
      const another = has !== open.dimmed[t];
      open.dimmed[t] = has;
      if (!whole && !another && !moved?.[t]) continue;
      if (has || another) dim.touch(t);
      beside.touch(t);
      if (look === 'mask' || look === 'cutout') view.touch(t);
    }
    this.tellOutline(open);
  }

  /** Its outline, as fine as it is seen; while nobody wants it, it waits. */
  private tellOutline(open: Open): void {
    this.outlineDue = !this.view.wanted.outline;
    if (this.outlineDue) return;
    const mask = open.stack.mask(this.view.openChange);
    this.events!.outline(mask ? maskContour(mask, halvingsAt(this.view.scale)) : new Float32Array(0));
  }

  // ---- computing

  /** True while anything is being computed. */
  get busy(): boolean {
    return this.pumping;
  }

  private due(open: Open): boolean {
    const { wanted } = this.view;
    return SURFACES.some((s) => (s === 'view' || wanted[s]) && open.shown[s].any);
  }

  private tilesAtATime = FIRST_TILES;

  /**
   * Takes mixed pixels under masks apart, some tiles at a time, so that a hand that moves something waits for no more
   * than those; until then edges are mixed plainly. False if there is nothing left.
   */
  private async takeApart(open: Open, first: boolean): Promise<boolean> {
    const [due] = open.stack.mixturesDue();
    if (!due) return false;
    // All but the edges is there.
    if (first) this.settle(open, false);
    const marked = new Uint8Array(open.stack.tileCount);
    for (const t of due.tiles) marked[t] = 1;
    const tiles = Uint32Array.from(this.order(open, marked).slice(0, this.tilesAtATime));
    const some = { ...due, tiles };
    const begun = performance.now();
    const found = await this.crew.share(findMixtures, some);
    const each = Math.max(0.1, performance.now() - begun) / tiles.length;
    this.tilesAtATime = Math.min(64, Math.max(1, Math.round(APART_MS / each)));
    for (const tile of open.stack.takeMixtures(some, found)) open.toCompute[tile] = 1;
    const { other } = open;
    const anew = [...tiles].filter((_, i) => found[i]);
    for (const tile of other?.stack?.mixedAnew(anew) ?? []) other!.due[tile] = 1;
    return true;
  }

  /** Resolves when nothing is due. */
  private async rest(): Promise<void> {
    while (this.pumping) await breathe();
  }

  /** Computes and sends what is due until nothing is. */
  private async pump(): Promise<void> {
    if (this.pumping) return;
    this.pumping = true;
    let refined = false;
    try {
      for (;;) {
        const open = this.open_;
        // What is new is told again as soon as all but its edges is there.
        if (this.takeNext(open)) refined = false;
        if (!open) break;
        if (open.toCompute.includes(1)) await this.compute(open);
        else if (this.otherDue(open)) await this.computeOther(open);
        else if (this.due(open)) await this.showDue(open);
        else if (!(await this.takeApart(open, !refined))) break;
        else refined = true;
        await breathe();
      }
    } catch (error) {
      // Nothing is tried again by itself: it would fail again.
      this.open_?.toCompute.fill(0);
      this.events?.problem(error instanceof Error ? error.message : String(error));
    } finally {
      this.pumping = false;
    }
    // Something may have come while it was found that nothing is left.
    if (this.next || this.arrived.length || this.arrivedPasses.length) return this.pump();
    if (this.open_) this.settle(this.open_, true);
  }

  /** Takes the newest view and the layers that have come; nothing is being computed now. True if there was another view. */
  private takeNext(open: Open | undefined): boolean {
    const last = this.view;
    const moved = this.next !== undefined;
    if (this.next) {
      ({ view: this.view, revision: this.revision } = this.next);
      this.next = undefined;
      this.follow(last, this.view);
    }
    const layers = this.arrived.splice(0);
    if (open) for (const layer of layers) this.addLayer(open, layer);
    for (const [of, planes] of this.arrivedPasses.splice(0)) {
      if (of !== open) continue;
      Object.assign(of.passes, planes);
      this.updateStack(of);
    }
    return moved;
  }

  /** Tiles marked in `due`, those on the screen first, from its middle outwards. */
  private order(open: Open, due: Uint8Array): number[] {
    const { tilesX } = open.stack;
    const { visible } = this.view;
    const tiles: number[] = [];
    for (let t = 0; t < due.length; t++) if (due[t]) tiles.push(t);
    if (!visible) return tiles;
    const [cx, cy] = [(visible.x0 + visible.x1) / 2, (visible.y0 + visible.y1) / 2];
    const rank = tiles.map((t) => {
      const x = (t % tilesX) * TILE;
      const y = Math.floor(t / tilesX) * TILE;
      const seen = x < visible.x1 && x + TILE > visible.x0 && y < visible.y1 && y + TILE > visible.y0;
      return (seen ? 0 : 1e9) + Math.hypot(x + TILE / 2 - cx, y + TILE / 2 - cy);
    });
    return tiles
      .map((_, i) => i)
      .sort((a, b) => rank[a]! - rank[b]!)
      .map((i) => tiles[i]!);
  }

  private async compute(open: Open): Promise<void> {
    const tiles = this.order(open, open.toCompute);
    const ready = new Uint8Array(this.crew.allocate(tiles.length));
    const { look, scale } = this.view;
    const halvings = halvingsAt(scale);
    const { display } = this;
    const input = open.stack.input(tiles, { bytes: open.bytes, display, halvings, ready });
    const abort = new AbortController();
    this.computing = { abort, since: performance.now() };
    const sent = new Uint8Array(tiles.length);
    const collect = () => {
      const done: number[] = [];
      tiles.forEach((t, i) => {
        if (!ready[i] || sent[i]) return;
        sent[i] = 1;
        open.toCompute[t] = 0;
        done.push(t);
      });
      if (done.length === 0 || this.open_ !== open) return;
      const { view } = open.shown;
      open.watched = undefined;
      if (look !== 'picture') for (const t of done) view.touch(t);
      else
        this.events!.tiles(
          'view',
          done.map((t): ShownTile => {
            const from = t * 4 * TILE_PIXELS;
            const data = open.bytes.slice(from, from + 4 * (TILE >> halvings) ** 2);
            return { tile: t, halvings, known: view.send(t, true), data: new Uint8ClampedArray(data.buffer) };
          }),
        );
    };
    try {
      const told = await this.crew.share(computeTiles, input, { signal: abort.signal, onProgress: collect });
      const all = [...this.failures, ...told.flat()];
      this.failures = [...new Map(all.map((f) => [`${f.changeId} ${f.kind}`, f])).values()];
    } catch (error) {
      if (!abort.signal.aborted) throw error;
    } finally {
      collect();
      this.computing = undefined;
    }
  }

  /** Shows what is due, for one slice of time. */
  private async showDue(open: Open): Promise<void> {
    const { wanted, scale } = this.view;
    const halvings = halvingsAt(scale);
    const until = performance.now() + SLICE;
    for (const surface of SURFACES) {
      if (surface !== 'view' && !wanted[surface]) continue;
      const tiles = open.shown[surface];
      const out: ShownTile[] = [];
      for (const t of this.order(open, tiles.due)) {
        if (performance.now() > until) break;
        const data = this.shown(open, surface, t, halvings);
        out.push({ tile: t, halvings, known: tiles.send(t), data: new Uint8ClampedArray(data.buffer) });
      }
      if (out.length) this.events!.tiles(surface, out);
    }
  }

  private shown(open: Open, surface: Surface, t: number, halvings: number): Uint8Array<ArrayBuffer> {
    const { look, openChange, layer, gain } = this.view;
    const { display } = this;
    const cover = () => open.stack.mask(openChange)?.tile(t);
    const reduced = (bytes: ArrayLike<number>) => reducedTile(bytes, t, open.planes, halvings);
    if (surface === 'before' && look === 'mask')
      return reduced(showMask(open.stack.unrefined(openChange)?.tile(t)));
    const compared = open.other?.planes ?? open.planes;
    if (surface === 'before') return pictureTile(compared, t, display, halvings);
    if (surface === 'warn') return reduced(this.warned(open, t, halvings));
    if (look === 'difference') return differenceTile(open.stack.result, compared, t, gain, display, halvings);
    if (surface === 'mask') return reduced(showMask(cover()));
    if (surface === 'dim') return reduced(showDimming(cover(), DIMMED));
    if (look === 'mask') return reduced(showMask(this.limited(open, t, cover())));
    if (look === 'cutout') {
      const { ground } = this.view;
      const under = ground === 'picture' ? this.under(open, t) : undefined;
      return reduced(showCutOut(pictureTile(open.stack.result, t, display), cover(), ground, under));
    }
    const shown = look === 'ids' ? open.cast.find((l) => l.name === layer) : undefined;
    return shown ? reduced(showIds(shown.index, t)) : pictureTile(open.stack.result, t, display, halvings);
  }

  /** The look-up table that was told last. */
  private table: CubeTable | undefined;

  private get display(): DisplayUse {
    const { table: takes, ...display } = this.view.display;
    return takes && this.table ? { ...display, table: { ...this.table, takes } } : display;
  }

  /** A picture that cut-outs lie on, and whose frame it is as large as. */
  private laid: { data: Uint8ClampedArray; width: number; height: number } | undefined;

  private under(open: Open, t: number) {
    const { width, height } = open.planes;
    if (this.laid?.width !== width || this.laid.height !== height) return undefined;
    const { x0, y0, x1 } = tileBounds(t, open.stack.tilesX, width, height);
    return { data: this.laid.data, from: 4 * (y0 * width + x0), stride: 4 * width, across: x1 - x0 };
  }

  private layUnder(open: Open, data: Uint8ClampedArray | undefined): undefined {
    const { width, height } = open.planes;
    this.laid = data && { data, width, height };
    if (this.view.look === 'cutout') open.shown.view.touch();
    void this.pump();
    return undefined;
  }

  /** Coverage of a tile, times how much the limit that is looked at lets through. */
  private limited(open: Open, t: number, cover: Float32Array | undefined): Float32Array | undefined {
    const { limitOf: id } = this.view;
    const use = id === undefined ? undefined : usedBy(this.view, id);
    const limits = use && limitsOf(use.values);
    if (!limits || !cover) return cover;
    const { planes, stack } = open;
    const weigh = weighPixels(limits, planes, open.passes);
    const { x0, y0, x1, y1 } = tileBounds(t, stack.tilesX, planes.width, planes.height);
    const out = cover.slice();
    for (let y = y0; y < y1; y++)
      for (let x = x0, p = y * planes.width + x0, i = (y - y0) * TILE; x < x1; x++, p++, i++)
        if (out[i]! > 0) out[i]! *= weigh(p);
    return out;
  }

  /** @param edges mixed pixels have been taken apart, too */
  private settle(open: Open, edges: boolean): void {
    const missing: { [id: string]: number } = {};
    for (const { id } of this.view.changes) {
      const lost = open.coming.size > 0 ? 0 : open.stack.missing(id).length;
      if (lost) missing[id] = lost;
    }
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      void this.refreshSwatches(open);
      if (!open.watched && this.view.warnings.length) this.watch(open);
    }, REST);
    this.events!.settled({
      missing,
      failures: this.failures,
      milliseconds: performance.now() - this.begun,
      revision: this.revision,
      whole: edges && open.reading === 0 && open.coming.size === 0 && this.next === undefined,
    });
  }

  /** Mean colours under masks that moved: nobody reads them while a value is being dragged. */
  private async refreshSwatches(open: Open): Promise<void> {
    for (const id of [...this.staleSwatches]) {
      if (this.pumping || this.open_ !== open) return;
      const mask = open.stack.mask(id);
      if (!mask) continue;
      const means = meanUnder(mask, [open.planes, open.stack.result])?.map((rgb) => {
        const { toScreen } = open.planes;
        return toScreen ? through(toScreen, rgb) : rgb;
      });
      const area = boundsUnder(mask);
      const small = (of: RgbPlanes) => smallPicture(of, area!, SMALL_PART, this.display);
      this.swatches[id] = means && {
        before: css(means[0]!),
        after: css(means[1]!),
        mean: means[1]!,
        pictures: area && {
          before: small(open.planes),
          after: small(open.stack.result),
          mask: smallMask(mask, SMALL_MASK),
        },
      };
      this.staleSwatches.delete(id);
      await breathe();
    }
    if (this.open_ === open) this.events!.swatches({ ...this.swatches });
  }

  // ---- what it is compared with, and what is wrong with it

  /** Brings what before is up to date with the view; `ready` are the changes whose layers are there. */
  private compareWith(open: Open, ready: ViewState['changes']): void {
    const { against, openChange } = this.view;
    const key = JSON.stringify(against.kind === 'without' ? [against, openChange] : against);
    if ((open.other?.key ?? RENDERED) !== key) {
      open.other = undefined;
      this.touchCompared(open);
      if (key === RENDERED) return;
      if (against.kind === 'version') {
        const there = this.otherVersion;
        const read = there?.key === against.key && there.of === open.frame ? there : undefined;
        const stack = read && against.changed ? this.stackOf(read) : undefined;
        const due = new Uint8Array(stack?.tileCount ?? 0);
        open.other = { key, planes: stack?.result ?? read?.planes, stack, due };
      } else {
        const stack = this.stackBeside(open);
        open.other = { key, planes: stack.result, stack, due: new Uint8Array(stack.tileCount) };
      }
    }
    const { stack, due } = open.other ?? {};
    if (!stack || !due) return;
    const chosen = against.kind === 'only' ? against.changeId : openChange;
    const listed =
      against.kind === 'version'
        ? this.view.changes
        : against.kind === 'variant'
          ? (this.view.othersChanges ?? []).filter((c) => ready.some((r) => r.id === c.id))
          : ready.map((c) => ({ ...c, on: c.on && (c.id === chosen) === (against.kind === 'only') }));
    for (const tile of stack.update(listed)) due[tile] = 1;
  }

  /** The changes on another version. */
  private stackOf({ planes, cast, passes }: OtherVersion): ChangeStack {
    return new ChangeStack(planes, cast, { allocate: (bytes) => this.crew.allocate(bytes), passes });
  }

  /** One more stack of the open picture, for other states of it. */
  private stackBeside({ planes, cast, passes, stack }: Open): ChangeStack {
    return new ChangeStack(planes, cast, {
      allocate: (bytes) => this.crew.allocate(bytes),
      passes,
      beside: stack,
    });
  }

  private touchCompared(open: Open): void {
    open.shown.before.touch();
    if (this.view.look === 'difference') open.shown.view.touch();
  }

  /** What it is compared with is computed only where it is looked at. */
  private otherDue(open: Open): boolean {
    const seen = this.view.wanted.before || this.view.look === 'difference';
    return seen && open.other?.due.includes(1) === true;
  }

  private async computeOther(open: Open): Promise<void> {
    const { stack, due } = open.other!;
    // Mixed pixels of another version are not those of this one.
    if (this.view.against.kind === 'version')
      for (const mixed of stack!.mixturesDue()) {
        const found = await this.crew.share(findMixtures, mixed);
        for (const tile of stack!.takeMixtures(mixed, found)) due[tile] = 1;
      }
    const tiles = this.order(open, due);
    due.fill(0);
    await this.crew.share(computeTiles, stack!.input(tiles));
    for (const t of tiles) {
      open.shown.before.touch(t);
      if (this.view.look === 'difference') open.shown.view.touch(t);
    }
  }

  /** The frame of another version that was read last, for the frame that it was read for. */
  private otherVersion: OtherVersion | undefined;

  private async readOther(
    open: Open,
    { key, version, frame }: Extract<Query, { ask: 'readOther' }>,
  ): Promise<undefined> {
    const { signal } = this.opening;
    const other = await this.frameOf(version, frame, signal);
    const { changes } = this.view;
    const { planes, cast } = await readBeside(other, changes.flatMap(layersNamed), signal);
    const { width, height } = open.planes;
    if (planes?.width !== width || planes.height !== height)
      throw new Error('That version has another size, so that the two cannot be laid over each other.');
    const there = new Set(other.passes.map((p) => p.name));
    const wanted = passesNeeded(changes).filter((n) => there.has(n));
    const passes = await other.passPlanes(wanted, { signal });
    this.otherVersion = { key, of: open.frame, planes, cast, passes };
  }

  private frameOf(version: VersionFiles, frame: number | undefined, signal: AbortSignal): Promise<Frame> {
    return openFrame(version.files, frame, (file) => this.env.read(file, () => undefined, signal), {
      crew: this.crew,
      maxMemory: MOST_MEMORY,
      interpretation: version.interpretation,
      signal,
    });
  }

  /** Looks where pixels are not as they should be, marks them, and tells how many there are. */
  private watch(open: Open): void {
    const { warnings, changes, display } = this.view;
    open.shown.warn.touch();
    if (warnings.length === 0) return;
    open.watched = {
      now: open.stack.result,
      rendered: open.planes,
      covered: warnings.includes('outside')
        ? coveredBy(
            changes.filter((c) => c.on).map((c) => open.stack.mask(c.id)),
            open.planes,
          )
        : undefined,
      guessed: warnings.includes('guessed') ? open.stack.guessed() : undefined,
      gain: 2 ** display.stops,
    };
    this.events!.warnings(countWarnings(open.watched, warnings));
    void this.pump();
  }

  private warned(open: Open, t: number, halvings: number): Uint8ClampedArray {
    const { watched } = open;
    return watched
      ? showWarnings(watched, t, this.view.warnings, halvings)
      : new Uint8ClampedArray(4 * TILE_PIXELS);
  }

  // ---- questions

  /** Answers a question about the frame that is open. Rejects with {@link ClosedError} when it is closed meanwhile. */
  async ask<Q extends Query>(query: Q): Promise<Answers[Q['ask']]> {
    const open = this.open_;
    if (!open) return none(query) as Answers[Q['ask']];
    const wanted = query.layer;
    while (wanted !== undefined && open.coming.has(wanted)) await this.nextLayer(open);
    return (await this.answer(open, query)) as Answers[Q['ask']];
  }

  /** Resolves when another layer is there, or will not come. Rejects when the frame is closed meanwhile. */
  private async nextLayer(open: Open): Promise<void> {
    await new Promise<void>((resolve) => this.layersKnown.add(resolve));
    if (this.open_ !== open) throw new ClosedError('Another picture was opened.');
  }

  /** Planes of the passes that were looked at last; there is not room for all of a large file. */
  private passesRead: { open: Open; name: string; planes: Promise<Float32Array[]> }[] = [];

  private planesOfPass = (open: Open, { name, channels }: WallPass) => this.planesOf(open, name, channels);

  private planesOf(open: Open, name: string, channels: readonly string[]): Promise<Float32Array[]> {
    const known = this.passesRead.find((p) => p.open === open && p.name === name);
    if (known) return known.planes;
    const planes = open.frame
      .channels((c) => channels.includes(c))
      .then((found) => channels.flatMap((c) => found.filter((f) => f.name === c).map((f) => asFloats(f))));
    this.passesRead = [{ open, name, planes }, ...this.passesRead.filter((p) => p.open === open)].slice(0, 3);
    return planes;
  }

  /** Passes made smaller, all for one reading of the files; in the order in which sizes were asked for. */
  private readonly reduced = new WeakMap<Frame, Map<number, Promise<ReadonlyMap<string, Float32Array>>>>();

  /** A pass as it hangs on the wall. */
  private async small(open: Open, pass: WallPass, side: number): Promise<PassPicture> {
    const { frame } = open;
    const by = Math.max(1, Math.ceil(Math.max(frame.width, frame.height) / side));
    const known = this.reduced.get(frame) ?? new Map<number, Promise<ReadonlyMap<string, Float32Array>>>();
    this.reduced.set(frame, known);
    const elsewhere = new Set(
      open.wall.filter((p) => p.look === 'ids' || p.name === 'picture').flatMap((p) => p.channels),
    );
    // What can be picked from comes first.
    while (open.coming.size > 0) await this.nextLayer(open);
    const coming =
      known.get(by) ?? frame.reduced((name) => !elsewhere.has(name), by, { signal: this.opening.signal });
    known.set(by, coming);
    const planes = await coming;
    const [width, height] = [Math.ceil(frame.width / by), Math.ceil(frame.height / by)];
    const own = pass.channels.flatMap((c) => planes.get(c) ?? []);
    const look = pass.look === 'ids' ? 'range' : pass.look;
    const [r, g, b] = own;
    if (look === 'light' && !pass.display && r && g && b) {
      const shown = onScreen({ width, height, r, g, b, toScreen: open.planes.toScreen });
      return passPicture([shown.r, shown.g, shown.b], { width, height }, look, side);
    }
    return passPicture(own, { width, height }, look, side, pass.display);
  }

  /** What a pass looks like, or what is at one of its pixels. */
  private async onWall(
    open: Open,
    query: Extract<Query, { ask: 'pass' | 'passValues' }>,
  ): Promise<Answers['pass' | 'passValues']> {
    const { frame } = open;
    const pass = open.wall.find((p) => p.name === query.name);
    if (!pass) return none(query) as Answers['pass'];
    if (query.ask === 'passValues') {
      const { width, height } = frame;
      if (query.x < 0 || query.y < 0 || query.x >= width || query.y >= height) return [];
      const planes = await this.planesOfPass(open, pass);
      return planes.map((p, i) => ({ channel: pass.channels[i]!, value: p[query.y * width + query.x]! }));
    }
    const layer = open.cast.find((l) => l.name === pass.name);
    if (pass.look === 'ids' && query.channel === undefined) {
      if (!layer) return undefined;
      const described = frame.layers.find((l) => l.name === pass.name);
      const shown = idsPicture(layer.index, query.side);
      if (described?.kind !== 'cryptomatte') return shown;
      const needed = ranksNeeded(layer.index);
      const ranks = explainRanks(needed, described.info.ranks.length);
      return { ...shown, ranks, rankCounts: rankCounts(needed) };
    }
    if (query.channel === undefined && pass.name === 'picture') {
      // It is there already, whatever it is made of.
      const { r, g, b } = onScreen(open.planes);
      return passPicture(g === r ? [r] : [r, g, b], frame, 'light', query.side);
    }
    if (query.channel === undefined && query.side <= SMALL) return this.small(open, pass, query.side);
    const planes = await this.planesOfPass(open, pass);
    const own = query.channel === undefined ? -1 : pass.channels.indexOf(query.channel);
    const { display } = pass;
    const look = pass.look === 'ids' ? 'range' : pass.look;
    const [r, g, b] = planes;
    if (own < 0 && look === 'light' && !display && r && g && b) {
      const { width, height } = frame;
      const shown = onScreen({ width, height, r, g, b, toScreen: open.planes.toScreen });
      return passPicture([shown.r, shown.g, shown.b], frame, look, query.side);
    }
    return passPicture(own < 0 ? planes : [planes[own]!], frame, look, query.side, display);
  }

  /** Channels as the file holds them: shares as they are, anything else between its smallest and largest value. */
  private async source(
    { frame }: Open,
    query: Extract<Query, { ask: 'source' | 'roleKey' }>,
  ): Promise<Answers['source' | 'roleKey']> {
    const channels = await frame.channels((n) => query.channels.includes(n));
    const own = query.channels.flatMap((n) => channels.find((c) => c.name === n) ?? []);
    const planes = own.map((c) => asFloats(c));
    if (query.ask === 'roleKey') {
      const values = planes.map((p) => p[query.y * frame.width + query.x]!);
      return ROLES.find((k) => k.role === query.role)?.keyOf?.(own, values);
    }
    const shares = planes.every((p) => p.every((v) => v <= 1.001));
    return passPicture(planes, frame, shares ? 'share' : 'range', query.side);
  }

  private async answer(open: Open, query: Query): Promise<Answers[Query['ask']]> {
    switch (query.ask) {
      case 'probe':
        return this.probe(open, query.x, query.y);
      case 'pass':
      case 'passValues':
        return this.onWall(open, query);
      case 'source':
      case 'roleKey':
        return this.source(open, query);
      case 'channelMask':
        return this.channelMask(open, query);
      case 'compare':
        return this.compare(open, query);
      case 'scope':
        return this.scope(open, query);
      case 'samples':
        return query.places.map((place) => this.sampled(open, place));
      case 'readOther':
        return this.readOther(open, query);
      case 'meanInVersion':
        return this.meanInVersion(query);
      case 'tried':
        return this.tried(open, query);
      case 'stateOf':
        return this.stateOf(open, query);
      case 'frameState':
        return this.frameState(open, query);
      case 'middleOf': {
        const layer = open.cast.find((l) => l.name === query.layer);
        return middleOfMember(layer, query.member, open.planes);
      }
      case 'relink':
        return this.relink(open, query);
      case 'partBounds': {
        const mask = open.stack.mask(query.changeId);
        return mask && boundsUnder(mask);
      }
      case 'useTable':
        return this.useTable(open, query.table);
      case 'layUnder':
        return this.layUnder(open, query.data);
      case 'coloursAlong': {
        const mask = open.stack.mask(query.changeId);
        return mask ? coloursAlong(open.planes, mask, query.axis, query.channel, query.pieces) : [];
      }
    }
    const layer = open.cast.find((l) => l.name === query.layer);
    if (!layer) return none(query);
    switch (query.ask) {
      case 'membersAlong':
        return along(open, layer, query);
      case 'membersWithin':
        return named(open, layer, membersWithin(layer.index, query.line, query.which));
      case 'membersByDepth':
        return this.byDepth(open, layer, query);
      case 'memberOutline':
        return outlineOf(layer, query.ids, halvingsAt(this.view.scale));
      case 'meanOf':
        return shownMean(open.planes, maskOfMembers(layer.index, query.ids));
      case 'thumbnail':
        return memberThumbnail(layer.index, query.id, query.width, query.height);
      case 'dimming':
        return dimmingAround(layer.index, query.ids, query.side, DIMMED_WALL);
    }
  }

  private useTable(open: Open, table: CubeTable | undefined): undefined {
    // Other threads read it, too.
    const data = table && new Float32Array(this.crew.allocate(table.data.byteLength));
    data?.set(table!.data);
    this.table = table && { ...table, data: data! };
    open.shown.view.touch();
    open.shown.before.touch();
    void this.pump();
    return undefined;
  }

  private async meanInVersion({
    version,
    frame: number,
    change,
  }: Extract<Query, { ask: 'meanInVersion' }>): Promise<Answers['meanInVersion']> {
    const { signal } = this.opening;
    const frame = await this.frameOf(version, number, signal);
    const { planes, cast } = await readBeside(frame, layersNamed(change), signal);
    if (!planes) return undefined;
    const stack = new ChangeStack(planes, cast, { allocate: (bytes) => this.crew.allocate(bytes) });
    stack.update([{ ...change, corrections: [] }]);
    const mask = stack.mask(change.id);
    return mask && shownMean(planes, mask);
  }

  private async relink(
    open: Open,
    { version, frame: number, owners }: Extract<Query, { ask: 'relink' }>,
  ): Promise<Answers['relink']> {
    const wanted = [...new Set(owners.flatMap((o) => o.who.map((p) => p.layer)))];
    for (const name of wanted) while (open.coming.has(name)) await this.nextLayer(open);
    const now = open.cast.filter((l) => wanted.includes(l.name)).map((l) => factsOf(l, open.planes));
    return relinkReport(owners, now, await this.factsIn(version, number, wanted));
  }

  /** What members of some layers of another version are told again by. */
  private async factsIn(
    version: VersionFiles | undefined,
    number: number | undefined,
    wanted: readonly string[],
  ): Promise<LayerFacts[] | undefined> {
    if (!version) return undefined;
    const { signal } = this.opening;
    const { planes, cast } = await readBeside(await this.frameOf(version, number, signal), wanted, signal);
    return cast.map((l) => factsOf(l, planes));
  }

  /** Computes the part in a state beside the picture's, one after the other, and shows it small. */
  private async tried(
    open: Open,
    { change, side }: Extract<Query, { ask: 'tried' }>,
  ): Promise<Answers['tried']> {
    const mask = open.stack.mask(change.id);
    const area = mask && boundsUnder(mask);
    if (!area) return undefined;
    return this.aside(open, async () => {
      const stack = (open.trial ??= this.stackBeside(open));
      await this.computeBeside(open, stack, [{ ...change, on: true }]);
      return smallPicture(stack.result, area, side, this.display);
    });
  }

  /** Computes the frame with other changes; those that came before are kept, and only what differs is computed. */
  private async stateOf(
    open: Open,
    { changes, side }: Extract<Query, { ask: 'stateOf' }>,
  ): Promise<Answers['stateOf']> {
    for (const name of changes.flatMap(layersNamed)) while (open.coming.has(name)) await this.nextLayer(open);
    await this.readPasses(open, changes);
    return this.aside(open, async () => {
      const stack = (open.state ??= this.stackBeside(open));
      await this.computeBeside(open, stack, changes);
      const { width, height } = open.planes;
      return smallPicture(stack.result, { x0: 0, y0: 0, x1: width, y1: height }, side, this.display);
    });
  }

  /** Computes another state of the open picture; what it takes apart of mixed pixels is the picture's, too. */
  private async computeBeside(open: Open, stack: ChangeStack, changes: ListedChange[]): Promise<void> {
    const onMixed = (tiles: readonly number[]) => {
      for (const tile of open.stack.mixedAnew(tiles)) open.toCompute[tile] = 1;
      void this.pump();
    };
    await computeStack(stack, changes, { crew: this.crew, onMixed });
  }

  /** Another frame of a version as its changes make it, once there is nothing else to do; whatever is done ends it. */
  private async frameState(
    open: Open,
    { version, frame: number, changes, side }: Extract<Query, { ask: 'frameState' }>,
  ): Promise<Answers['frameState']> {
    return this.aside(open, async () => {
      const own = (this.background = new AbortController());
      const signal = AbortSignal.any([own.signal, this.opening.signal]);
      try {
        const frame = await this.frameOf(version, number, signal);
        return await stateOfFrame(frame, changes, {
          crew: this.crew,
          signal,
          display: this.display,
          side,
          readPicture: this.env.readPicture,
          stored: (layer, of) => this.storedIndex(version, layer, number, of, signal),
        });
      } catch (error) {
        if (own.signal.aborted) return undefined;
        throw error;
      }
    });
  }
  /** What is computed for nobody who waits. */
  private background: AbortController | undefined;

  /** Does something beside the picture, one after the other, once there is nothing to do for that. */
  private aside<T>(open: Open, work: () => Promise<T>): Promise<T | undefined> {
    const before = this.trying;
    const own = (async () => {
      await before.catch(() => undefined);
      await this.rest();
      return this.open_ === open ? work() : undefined;
    })();
    this.trying = own;
    return own;
  }
  /** What is being tried: the state that it is tried in is one for all. */
  private trying: Promise<unknown> = Promise.resolve();

  private regionOf(open: Open, where: 'frame' | SamplePlace): Region | undefined {
    if (where === 'frame') return { of: 'frame' };
    if ('changeId' in where) {
      const mask = open.stack.mask(where.changeId);
      return mask && { of: 'mask', mask };
    }
    const half = (where.side - 1) / 2;
    const [x0, y0] = [where.x - half, where.y - half];
    return { of: 'area', area: { x0, y0, x1: x0 + where.side, y1: y0 + where.side } };
  }

  private scope(open: Open, { name, where, most }: Extract<Query, { ask: 'scope' }>): Answers['scope'] {
    const region = this.regionOf(open, where);
    const scope = scopeOf(name);
    if (!region || !scope) return undefined;
    return scope.count(open.stack.result, region, most);
  }

  private sampled(open: Open, place: SamplePlace): SampleValues {
    const region = this.regionOf(open, place);
    const means = region && meansIn([open.planes, open.stack.result], region);
    return means && { before: means[0]!, after: means[1]! };
  }

  private async byDepth(
    open: Open,
    layer: CastLayer,
    { ids, way }: Extract<Query, { ask: 'membersByDepth' }>,
  ): Promise<Answers['membersByDepth']> {
    const pass = depthOf(open.wall);
    const [depth] = pass ? await this.planesOfPass(open, pass) : [];
    if (!depth) return [];
    const slots = ids.flatMap((id) => layer.index.slotOf.get(id) ?? []);
    return named(open, layer, slotsByDepth(layer.index, depth, slots, way));
  }

  private async channelMask(
    open: Open,
    { mask, side }: Extract<Query, { ask: 'channelMask' }>,
  ): Promise<Answers['channelMask']> {
    const { frame } = open;
    const channels = mask.channels.map((c) => c.channel);
    if (!channels.every((c) => frame.header.channels.some((h) => h.name === c))) return undefined;
    // Kept like a pass: a value is dragged while it is looked at.
    const planes = await this.planesOf(open, `mask of ${channels.join(' ')}`, channels);
    const cover = new Float32Array(frame.width * frame.height);
    maskOfPlanes(mask, planes, cover);
    return passPicture([cover], frame, 'share', side);
  }

  private async compare(
    open: Open,
    { version, frame, side }: Extract<Query, { ask: 'compare' }>,
  ): Promise<Comparison> {
    const { signal } = this.opening;
    const before = await this.frameOf(version, frame, signal);
    return compareFrames(before, open.frame, side, { signal });
  }

  private probe(open: Open, x: number, y: number): Probe | undefined {
    const { width, height } = open.planes;
    if (x < 0 || y < 0 || x >= width || y >= height) return undefined;
    const p = y * width + x;
    const at = ({ r, g, b }: RgbPlanes): [number, number, number] => [r[p]!, g[p]!, b[p]!];
    return {
      x,
      y,
      before: at(open.planes),
      after: at(open.stack.result),
      layers: open.cast.map((layer) => ({ layer: layer.name, ids: here(open, layer, x, y) })),
      mask: open.stack.mask(this.view.openChange)?.at(x, y) ?? 0,
    };
  }

  /** Ends it: nothing is told any more, and waiting questions are rejected. */
  close(): void {
    this.opening.abort(new ClosedError('The picture was closed.'));
    this.computing?.abort.abort();
    clearTimeout(this.resting);
    this.open_ = undefined;
    for (const known of this.layersKnown) known();
    this.layersKnown.clear();
  }
}

/** A correction of the open change. */
const usedBy = (view: ViewState, id: string) =>
  view.changes.find((c) => c.id === view.openChange)?.corrections.find((u) => u.id === id);

/** What the primaries of a file are called; a file that does not say has those of Rec. 709. */
const primariesOf = (attributes: ExrHeader['attributes']): string => {
  const stated = chromaticities(attributes);
  return stated ? primariesName(stated) : 'Rec. 709';
};

const css = (rgb: readonly number[]) => `rgb(${rgb.map((v) => Math.round(displayByte(v))).join(' ')})`;

const none = (query: Query): Answers[Query['ask']] =>
  query.ask === 'membersAlong' ||
  query.ask === 'membersWithin' ||
  query.ask === 'membersByDepth' ||
  query.ask === 'coloursAlong' ||
  query.ask === 'samples' ||
  query.ask === 'passValues'
    ? []
    : query.ask === 'memberOutline'
      ? new Float32Array(0)
      : undefined;

function here(open: Open, layer: CastLayer, x: number, y: number): Probe['layers'][number]['ids'] {
  const names = open.names.get(layer.name);
  return idsAt(layer.index, x, y).map(({ slot, coverage }) => {
    const id = layer.index.ids[slot]!;
    return { id, name: names?.get(id) ?? unnamed(id), coverage };
  });
}

/** Members with the largest coverage on the pixels along a line. */
function along(
  open: Open,
  layer: CastLayer,
  { x0, y0, x1, y1 }: Extract<Query, { ask: 'membersAlong' }>,
): Answers['membersAlong'] {
  const { width, height } = open.planes;
  const steps = Math.max(1, Math.ceil(Math.hypot(x1 - x0, y1 - y0)));
  const found = new Map<number, string>();
  for (let i = 0; i <= steps; i++) {
    const x = Math.floor(x0 + ((x1 - x0) * i) / steps);
    const y = Math.floor(y0 + ((y1 - y0) * i) / steps);
    if (x < 0 || y < 0 || x >= width || y >= height) continue;
    const top = here(open, layer, x, y)[0];
    if (top) found.set(top.id, top.name);
  }
  return [...found].map(([id, name]) => ({ id, name }));
}

/** Members by their slots; what no ID covers is none. */
const named = (open: Open, layer: CastLayer, slots: readonly number[]) =>
  slots.flatMap((slot) => {
    const id = layer.index.ids[slot]!;
    return id === NO_ID ? [] : [{ id, name: open.names.get(layer.name)?.get(id) ?? unnamed(id) }];
  });

/** The pass that tells how far away each pixel is. */
const depthOf = (wall: readonly WallPass[]) =>
  wall.find((p) => layerKindOf(p.layer, p.channels.length)?.kind === 'depth');

/** Mean of what is not shared at the edge, in the primaries of the screen. */
function shownMean(planes: RgbPlanes, mask: TileMask): [number, number, number] | undefined {
  const mean = meanUnder(mask, [planes])?.[0];
  return mean && planes.toScreen ? through(planes.toScreen, mean) : mean;
}

/** Outline of members together, for showing what a click would take, or where something is. */
const outlineOf = (layer: CastLayer, ids: readonly number[], level: number): Float32Array =>
  maskContour(maskOfMembers(layer.index, ids), level);
