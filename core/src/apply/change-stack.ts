import type { CastLayer } from '../cast/cast.ts';
import type { StepUse } from '../changes/change.ts';
import type { ListedChange } from '../changes/listed.ts';
import { placedOver } from '../changes/placed-over.ts';
import type { Correction, PartFigures, PartColours, Passes } from '../corrections/correction.ts';
import { correctionOf } from '../corrections/registry.ts';
import { doesNothing, passesOf, settingsOf } from '../corrections/shared.ts';
import { wholeValues } from '../fields/values.ts';
import type { MixtureInput } from '../mixtures/find-mixtures.ts';
import { tileRuns, type TileRuns } from '../mixtures/tile-runs.ts';
import { KeptMixtures } from '../mixtures/kept.ts';
import type { IdIndex } from '../idindex/id-index.ts';
import { MaskPipeline, type MaskOver } from '../masks/pipeline.ts';
import type { TileMask } from '../masks/tile-mask.ts';
import { sameValue } from '../fields/same-value.ts';
import type { MemberPick } from '../picks/member-pick.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { plainMemory, TileStore, type Allocate } from '../planes/tile-store.ts';
import { dilatedTiles, TILE_PIXELS, tilesAcross } from '../planes/tiles.ts';
import { missingOf } from './missing-picks.ts';
import { asRec709, partColours } from './part-colours.ts';
import { recipeOf, recipeOver } from './recipe.ts';
import type { KeptTiles, StackInput, StackLayer } from './stack-input.ts';

type Steps = StackLayer['steps'];
/** What `findMixtures` tells of a tile. */
type Mixed = ArrayBufferLike | undefined;

interface Applied extends StackLayer {
  /** With its corrections it tells layers apart; masks have tiles of their own that changed. */
  plainEdges: boolean;
  /** Pixels that its corrections read around each pixel. */
  reach: number;
  /** Of the layer in which all its members are, if its edges are clean. */
  index: IdIndex | undefined;
  /** 1 where the mask changed in the last update. */
  changed: Uint8Array;
  kept: { store: TileStore; below: KeptTiles } | undefined;
}

export interface StackEnv {
  /** Memory of all that other threads have to see. */
  allocate?: Allocate;
  find?: (kind: string) => Correction | undefined;
  /** Other passes of the picture; may be filled later: corrections wait for what they need. */
  passes?: Passes;
  /** Another stack of the same picture: mixed pixels that it has taken apart need not be taken apart again. */
  beside?: ChangeStack | undefined;
}

/**
 * The change list of a picture as layers, each of which pulls from the one below. It knows which tiles an edit touches,
 * and keeps what lies below the change that is being edited, and below those that read neighbours, so that a slider
 * costs one change, not the list. It computes nothing itself: {@link input} is what {@link TileComputer} needs.
 */
export class ChangeStack {
  readonly result: RgbPlanes;
  readonly tilesX: number;
  readonly tilesY: number;
  private readonly allocate: Allocate;
  private readonly find: (kind: string) => Correction | undefined;
  private readonly passes: Passes;
  private readonly pipelines = new Map<string, MaskPipeline>();
  /** What was measured under the mask of a change, as long as that stays. */
  private readonly measurements = new Map<
    string,
    { mask: TileMask; found: Map<string, PartFigures | undefined> }
  >();
  /** Tiles in which the mask of a change has become another since that was asked for. */
  private readonly moved = new Map<string, Uint8Array>();
  /** Masks over all changes of a heading, by its id. */
  private readonly overs = new Map<string, MaskOver & { pipeline: MaskPipeline }>();
  private changes: readonly ListedChange[] = [];
  private layers: Applied[] = [];
  /** Of each ID layer in use what its mixed pixels are made of, as far as that was wanted. */
  private readonly mixtures: Map<IdIndex, { kept: KeptMixtures; runs?: TileRuns }>;

  constructor(
    readonly source: RgbPlanes,
    private readonly cast: readonly CastLayer[],
    { allocate = plainMemory, find = correctionOf, passes = {}, beside }: StackEnv = {},
  ) {
    this.mixtures = beside?.mixtures ?? new Map<IdIndex, { kept: KeptMixtures; runs?: TileRuns }>();
    this.allocate = allocate;
    this.find = find;
    this.passes = passes;
    const plane = (from: Float32Array) => {
      const copy = new Float32Array(allocate(from.byteLength));
      copy.set(from);
      return copy;
    };
    this.result = { ...source, r: plane(source.r), g: plane(source.g), b: plane(source.b) };
    this.tilesX = tilesAcross(source.width);
    this.tilesY = tilesAcross(source.height);
  }

  get tileCount(): number {
    return this.tilesX * this.tilesY;
  }

  /** The mask of a change of the current list, or of a heading over some of it. */
  mask(changeId: string | undefined): TileMask | undefined {
    const change = this.changes.find((c) => c.id === changeId);
    return change ? this.pipeline(change).mask : this.overs.get(changeId ?? '')?.mask;
  }

  /** 1 where a correction of the current list can only guess, by pixel of the picture. */
  guessed(): Uint8Array {
    const guessed = new Uint8Array(this.source.width * this.source.height);
    for (const { changeId, steps } of this.layers)
      for (const { kind, values, measured } of steps) {
        const correction = this.find(kind)!;
        if (correction.works !== 'pixel' || !correction.doubts || !measured) continue;
        const part = partColours(this.source, this.mask(changeId)!, this.passes);
        const own = correction.rec709 ? asRec709(part, this.source.toScreen) : part;
        const doubted = correction.doubts(own, values, measured);
        own.at.forEach((p, i) => (guessed[p] ||= doubted[i]!));
      }
    return guessed;
  }

  /** Tiles in which the mask of a change may be another than when this was last asked for. */
  takeMoved(changeId: string): Uint8Array {
    const moved = this.moved.get(changeId) ?? new Uint8Array(this.tileCount);
    this.moved.delete(changeId);
    return moved;
  }

  /** Its mask before the edge is refined. */
  unrefined(changeId: string | undefined): TileMask | undefined {
    const change = this.changes.find((c) => c.id === changeId);
    return change && this.pipeline(change).unrefined;
  }

  /** Picks of a change that mean nothing in this picture. */
  missing(changeId: string): MemberPick[] {
    const change = this.changes.find((c) => c.id === changeId);
    return change ? missingOf(change, this.cast) : [];
  }

  /** Corrections of a change that do something; unknown kinds, idle values and what needs a pass that is not there are left out. */
  private stepsOf(uses: readonly StepUse[]): Steps {
    return uses.flatMap(({ on, kind, values }) => {
      const correction = on ? this.find(kind) : undefined;
      if (!correction || doesNothing(correction, values)) return [];
      const whole = wholeValues(settingsOf(correction), values);
      if (passesOf(correction, whole).some((name) => !this.passes[name])) return [];
      return [{ kind, values: whole }];
    });
  }

  /** The mask of a change, brought up to date; `changed` collects the tiles that this touches. */
  private pipeline(change: ListedChange, changed?: Uint8Array): MaskPipeline {
    let pipeline = this.pipelines.get(change.id);
    if (!pipeline) this.pipelines.set(change.id, (pipeline = this.newPipeline()));
    const over = change.over && this.overs.get(change.over.id);
    const now = pipeline.update(recipeOf(change), over);
    if (!now.includes(1)) return pipeline;
    const moved = this.moved.get(change.id) ?? new Uint8Array(this.tileCount);
    this.moved.set(change.id, moved);
    now.forEach((c, t) => {
      if (!c) return;
      moved[t] = 1;
      if (changed) changed[t] = 1;
    });
    return pipeline;
  }

  private newPipeline(): MaskPipeline {
    return new MaskPipeline(this.cast, this.source, { allocate: this.allocate });
  }

  /** Brings the masks over changes up to date. */
  private updateOvers(changes: readonly ListedChange[]): void {
    const headings = new Map(changes.flatMap(({ over }) => (over ? [[over.id, over]] : [])));
    for (const id of this.overs.keys()) if (!headings.has(id)) this.overs.delete(id);
    for (const [id, heading] of headings) {
      const recipe = recipeOver(heading);
      if (!recipe) {
        this.overs.delete(id);
        continue;
      }
      const last = this.overs.get(id);
      const pipeline = last?.pipeline ?? this.newPipeline();
      const changed = pipeline.update(recipe);
      if (last && last.mask === pipeline.mask && !changed.includes(1)) continue;
      this.overs.set(id, { pipeline, mask: pipeline.mask, changed, edits: (last?.edits ?? 0) + 1 });
    }
  }

  private layerOf(change: ListedChange, steps: Steps, before: Applied | undefined): Applied {
    const changed = new Uint8Array(this.tileCount);
    const pipeline = this.pipeline(change, changed);
    const { mask } = pipeline;
    let reach = 0;
    let spread = 0;
    let area = false;
    for (const { kind, values } of steps) {
      const correction = this.find(kind)!;
      if (correction.works !== 'area') continue;
      area = true;
      reach += Math.ceil(correction.reach(values, this.source));
      spread += Math.ceil(correction.spread?.(values, this.source) ?? 0);
    }
    const covered = Uint8Array.from({ length: this.tileCount }, (_, t) => (mask.has(t) ? 1 : 0));
    const members = change.plainEdges || area ? undefined : pipeline.members;
    const own = this.measured(change.id, mask, changed, steps);
    return {
      changeId: change.id,
      steps: own,
      plainEdges: change.plainEdges,
      index: members?.index,
      clean: members && {
        mixtures: this.mixturesIn(members.index).kept.data,
        chosen: members.chosen,
        others: members.others,
      },
      mask: mask.data,
      writes: dilatedTiles(covered, this, spread),
      reach,
      changed: dilatedTiles(changed, this, spread),
      kept: before?.kept,
    };
  }

  /** Corrections with what they have to know of all that the mask covers; found once for a mask. */
  private measured(changeId: string, mask: TileMask, changed: Uint8Array, steps: Steps): Steps {
    const wanted = steps.flatMap(({ kind, values }) => {
      const correction = this.find(kind)!;
      return correction.works === 'pixel' && correction.measure ? [{ correction, values }] : [];
    });
    let known = this.measurements.get(changeId);
    if (!known || known.mask !== mask || changed.includes(1)) {
      if (wanted.length === 0) {
        this.measurements.delete(changeId);
        return steps;
      }
      this.measurements.set(changeId, (known = { mask, found: new Map() }));
    }
    let part: PartColours | undefined;
    return steps.map((step) => {
      const { correction, values } = wanted.find((w) => w.values === step.values) ?? {};
      if (!correction?.measure) return step;
      const key = JSON.stringify([step.kind, correction.needs?.(values!)]);
      if (!known.found.has(key)) {
        part ??= partColours(this.source, mask, this.passes);
        const own = correction.rec709 ? asRec709(part, this.source.toScreen) : part;
        known.found.set(key, correction.measure(own, values!));
      }
      return { ...step, measured: known.found.get(key) };
    });
  }

  /**
   * Takes a new list. Nothing is computed but masks.
   * @param edited the change whose values are being moved, if any
   * @returns numbers of the tiles whose pixels have to be computed
   */
  update(listed: readonly ListedChange[], edited?: string): number[] {
    const old = this.layers;
    const changes = listed.map((c): ListedChange => {
      const placed = placedOver(c, this.source);
      return c.over ? { ...placed, over: placedOver(c.over, this.source) } : placed;
    });
    this.changes = changes;
    this.updateOvers(changes);
    for (const id of this.pipelines.keys())
      if (!changes.some((c) => c.id === id)) {
        this.pipelines.delete(id);
        this.moved.delete(id);
        this.measurements.delete(id);
      }
    const now = changes.flatMap((change): Applied[] => {
      const steps = change.on ? this.stepsOf(change.corrections) : [];
      if (steps.length === 0) return [];
      return [
        this.layerOf(
          change,
          steps,
          old.find((a) => a.changeId === change.id),
        ),
      ];
    });
    // Lists that agree at both ends differ only in between.
    const same = (a?: Applied, b?: Applied) =>
      a !== undefined &&
      b !== undefined &&
      a.changeId === b.changeId &&
      a.plainEdges === b.plainEdges &&
      sameValue(a.steps, b.steps);
    let from = 0;
    while (same(old[from], now[from])) from++;
    let oldEnd = old.length;
    let nowEnd = now.length;
    while (oldEnd > from && nowEnd > from && same(old[oldEnd - 1], now[nowEnd - 1])) {
      oldEnd--;
      nowEnd--;
    }
    const dirty = new Uint8Array(this.tileCount);
    const mark = (tiles: Uint8Array) => {
      for (let t = 0; t < dirty.length; t++) if (tiles[t]) dirty[t] = 1;
    };
    now.forEach((layer, i) => {
      // Below the first one that differs lies what lay there, but for those that stood between in the old list.
      const stood = old.findIndex((a) => a.changeId === layer.changeId);
      if (i === from) for (const gone of old.slice(from, Math.max(from, stood))) mark(gone.writes);
      this.keep(layer, layer.changeId === edited || layer.reach > 0, dirty);
      if (i === from) for (const gone of old.slice(from, oldEnd)) mark(gone.writes);
      if (layer.reach > 0) {
        const reached = dilatedTiles(dirty, this, layer.reach);
        for (let t = 0; t < dirty.length; t++) if (reached[t] && layer.writes[t]) dirty[t] = 1;
      }
      mark(i >= from && i < nowEnd ? layer.writes : layer.changed);
    });
    if (from >= now.length) for (const gone of old.slice(from, oldEnd)) mark(gone.writes);
    this.layers = now;
    const list: number[] = [];
    for (let t = 0; t < dirty.length; t++) if (dirty[t]) list.push(t);
    return list;
  }

  /** Keeps what lies below a layer, or gives it up; `dirty` are the tiles that change below it. */
  private keep(layer: Applied, wanted: boolean, dirty: Uint8Array): void {
    if (!wanted) {
      layer.kept = layer.below = undefined;
      return;
    }
    if (!layer.kept) {
      const store = new TileStore(this.tileCount, 3 * TILE_PIXELS, this.allocate);
      const valid = new Uint8Array(this.allocate(this.tileCount));
      layer.kept = { store, below: { data: store.data, valid } };
    }
    const { store, below } = layer.kept;
    const around = dilatedTiles(layer.writes, this, layer.reach);
    for (let t = 0; t < dirty.length; t++) {
      if (dirty[t]) below.valid[t] = 0;
      if (around[t]) store.take(t);
      else {
        store.drop(t);
        below.valid[t] = 0;
      }
    }
    layer.below = below;
  }

  private mixturesIn(index: IdIndex): { kept: KeptMixtures; runs?: TileRuns } {
    let own = this.mixtures.get(index);
    if (!own) {
      own = { kept: new KeptMixtures(this.tileCount, this.allocate) };
      this.mixtures.set(index, own);
    }
    return own;
  }

  /**
   * The tiles whose mixed pixels are not taken apart yet, an ID layer an entry; until they are, edges are plain there.
   * Each is work for `findMixtures`, and what comes of it for {@link takeMixtures}.
   */
  mixturesDue(): MixtureInput[] {
    const due = new Map<IdIndex, Uint8Array>();
    for (const { index, mask } of this.layers) {
      if (!index) continue;
      let tiles = due.get(index);
      if (!tiles) due.set(index, (tiles = new Uint8Array(this.tileCount)));
      const { kept } = this.mixturesIn(index);
      for (let t = 0; t < tiles.length; t++) if (mask.where[t]! >= 0 && !kept.knows(t)) tiles[t] = 1;
    }
    return [...due].flatMap(([index, marked]) => {
      const tiles = Uint32Array.from([...marked.keys()].filter((t) => marked[t]));
      if (tiles.length === 0) return [];
      const own = this.mixturesIn(index);
      own.runs ??= tileRuns(index, this.allocate);
      return [{ planes: this.source, runs: own.runs, tiles }];
    });
  }

  /**
   * Takes what was found in the tiles of a piece of work, as far as it got. Nothing may be being computed.
   * @returns numbers of the tiles whose pixels have to be computed again
   */
  takeMixtures({ runs, tiles }: MixtureInput, found: readonly Mixed[]): number[] {
    const own = [...this.mixtures.values()].find((m) => m.runs === runs);
    const anew: number[] = [];
    tiles.forEach((t, i) => {
      if (!own || i >= found.length || own.kept.knows(t)) return;
      own.kept.take(t, found[i]);
      if (found[i]) anew.push(t);
    });
    return this.mixedAnew(anew);
  }

  /**
   * Mixed pixels of these tiles are taken apart since they were computed, here or in the stack that this one is beside.
   * @returns numbers of the tiles whose pixels have to be computed again
   */
  mixedAnew(tiles: readonly number[]): number[] {
    const dirty = new Uint8Array(this.tileCount);
    for (const t of tiles) dirty[t] = 1;
    for (const layer of this.layers) {
      if (layer.kept) for (let t = 0; t < dirty.length; t++) if (dirty[t]) layer.kept.below.valid[t] = 0;
      if (layer.reach === 0) continue;
      const reached = dilatedTiles(dirty, this, layer.reach);
      for (let t = 0; t < dirty.length; t++) if (reached[t] && layer.writes[t]) dirty[t] = 1;
    }
    return [...dirty.keys()].filter((t) => dirty[t]);
  }

  /** What computing these tiles takes. */
  input(tiles: readonly number[], shown?: StackInput['shown']): StackInput {
    return {
      source: this.source,
      result: this.result,
      layers: this.layers.map(({ changeId, steps, mask, writes, below, clean }) => ({
        changeId,
        steps,
        mask,
        writes,
        below,
        clean,
      })),
      passes: this.passes,
      tiles: Uint32Array.from(tiles),
      shown,
    };
  }
}
