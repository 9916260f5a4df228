import type { CastLayer } from '../cast/cast.ts';
import { sameValue } from '../fields/same-value.ts';
import { wholeValues } from '../fields/values.ts';
import type { FieldValue } from '../fields/field.ts';
import type { IdIndex } from '../idindex/id-index.ts';
import type { MemberPick } from '../picks/member-pick.ts';
import type { Size } from '../planes/size.ts';
import { dilatedTiles, TILE, TILE_PIXELS, tileBounds } from '../planes/tiles.ts';
import type { EdgeStep, EdgeUse } from './edge/edge-step.ts';
import { EDGE_STEPS } from './edge/registry.ts';
import { Refinement } from './edge/refinement.ts';
import { amountOf } from '../fields/amount.ts';
import { brush, sameStroke, strokeMeets, type Stroke } from './brush/stroke.ts';
import type { FenceKind, FenceUse } from './fence/fence-kind.ts';
import { shifted, wayOf } from './fence/follow.ts';
import { insideOf } from './fence/join-fence.ts';
import { FENCE_KINDS } from './fence/registry.ts';
import { fenceSettings } from './fence/settings.ts';
import type { Allocate } from '../planes/tile-store.ts';
import { TileMask } from './tile-mask.ts';
import { WhoMask } from './who/who-mask.ts';

/**
 * What a mask is made of, in this order: who is meant, how its edge is refined, which fence limits it, what a brush adds
 * and takes away.
 */
export interface MaskRecipe {
  who: readonly MemberPick[];
  edge: readonly EdgeUse[];
  fence: readonly FenceUse[];
  brush?: readonly Stroke[];
}

/** A mask that limits others, as it is after so many changes to it; `changed` are the tiles that the last one touched. */
export interface MaskOver {
  mask: TileMask;
  changed: Uint8Array;
  edits: number;
}

export interface MaskEnv {
  /** Memory of tiles, where other threads shall see it. */
  allocate?: Allocate | undefined;
  edgeSteps?: readonly EdgeStep[];
  fenceKinds?: readonly FenceKind[];
}

/** A shape of a fence as it lies in this frame. */
interface Shape {
  kind: FenceKind;
  values: Record<string, FieldValue>;
}

/**
 * The only way to a mask, for screen, export and command line: who, then each edge step, then the fence, then the brush,
 * and at last a mask over several of them. Every stage keeps its tiles, so that a change of the recipe costs the tiles that it touches, and ends where starting over ends.
 */
export class MaskPipeline {
  private readonly who: WhoMask;
  private edges: { mask: TileMask; step: EdgeStep; values: Record<string, FieldValue> }[] = [];
  private fence: { shapes: readonly Shape[]; mask: TileMask } | undefined;
  private painted: { strokes: readonly Stroke[]; mask: TileMask } | undefined;
  private over: { by: TileMask; edits: number; mask: TileMask } | undefined;
  private picks: readonly MemberPick[] | undefined;

  constructor(
    private readonly cast: readonly CastLayer[],
    private readonly size: Size,
    private readonly env: MaskEnv = {},
  ) {
    this.who = new WhoMask(cast, size, env.allocate);
  }

  /** The mask of who is meant, before its edge is refined. */
  get unrefined(): TileMask {
    return this.who.mask;
  }

  get mask(): TileMask {
    return this.over?.mask ?? this.drawn;
  }

  // What each stage makes of the one before, or that one's where it has nothing to do.
  private get refined(): TileMask {
    return this.edges.at(-1)?.mask ?? this.who.mask;
  }
  private get limited(): TileMask {
    return this.fence?.mask ?? this.refined;
  }
  private get drawn(): TileMask {
    return this.painted?.mask ?? this.limited;
  }

  /**
   * The members that the mask means, of the ID layer from which its first picks are: `chosen` holds 1 for their slots,
   * and `others` is true where it means everything but them.
   */
  get members(): { index: IdIndex; chosen: Uint8Array; others: boolean } | undefined {
    const { members } = this.who;
    const turned = this.edges.filter(({ step }) => step.complements);
    // Turned round in part it means neither these nor the others.
    if (!members || turned.some(({ values }) => amountOf(values) < 1)) return undefined;
    const others = turned.length % 2 === 1;
    return { index: members.index, chosen: members.chosen.map((c) => (others ? 1 - c : c)), others };
  }

  /** Picks that mean nothing in this picture. */
  get missing(): MemberPick[] {
    return this.who.missing;
  }

  /** Makes the mask that of the recipe. Returns a byte a tile, 1 where it may have changed. */
  update(recipe: MaskRecipe, over?: MaskOver): Uint8Array {
    const before = { refined: this.refined, limited: this.limited, drawn: this.drawn, mask: this.mask };
    let changed = new Uint8Array(this.who.mask.tileCount);
    if (!sameValue(recipe.who, this.picks)) {
      changed = this.who.update(recipe.who);
      this.picks = recipe.who;
    }
    changed = goesOn(before.refined, changed, this.refine(recipe.edge, changed), this.refined);
    changed = goesOn(before.limited, changed, this.limit(recipe.fence, changed), this.limited);
    changed = goesOn(before.drawn, changed, this.paint(recipe.brush ?? [], changed), this.drawn);
    changed = goesOn(before.mask, changed, this.cover(over, changed), this.mask);
    return changed;
  }

  private newMask(): TileMask {
    return new TileMask(this.size, this.env.allocate);
  }

  private refine(uses: readonly EdgeUse[], changed: Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> {
    const { edgeSteps = EDGE_STEPS } = this.env;
    const last = this.edges;
    this.edges = [];
    let input = this.who.mask;
    for (const use of uses) {
      const step = edgeSteps.find((s) => s.kind === use.kind);
      if (!step) continue;
      const values = wholeValues(step.fields, use.values);
      const known = last[this.edges.length];
      const mask = known?.mask ?? this.newMask();
      const reach = Math.ceil(step.reach(values));
      changed =
        known?.step === step && sameValue(known.values, values)
          ? dilatedTiles(changed, mask, reach)
          : dilatedTiles(
              // A step that makes something of nothing touches all.
              changed.map((c, t) => (c || step.ofNothing || input.has(t) || mask.has(t) ? 1 : 0)),
              mask,
              reach,
            );
      const refine = new Refinement(step, values, reach, input);
      changed = changed.map((c, t) => (c && mask.replace(t, refine.tile(t)) ? 1 : 0));
      this.edges.push({ mask, step, values });
      input = mask;
    }
    return changed;
  }

  private limit(uses: readonly FenceUse[], changed: Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> {
    const { fenceKinds = FENCE_KINDS } = this.env;
    const shapes = uses.flatMap((use) => {
      const kind = fenceKinds.find((k) => k.kind === use.kind);
      if (!kind) return [];
      const values = wholeValues(fenceSettings(kind), use.values);
      return [
        { kind, values: use.follow ? shifted(values, wayOf(use.follow, this.cast, this.size)) : values },
      ];
    });
    if (shapes.length === 0) {
      this.fence = undefined;
      return changed;
    }
    const input = this.refined;
    const mask = this.fence?.mask ?? this.newMask();
    if (!sameValue(this.fence?.shapes, shapes))
      changed = changed.map((c, t) => (c || input.has(t) || mask.has(t) ? 1 : 0));
    this.fence = { shapes, mask };
    const { width, height } = this.size;
    return changed.map((c, t) => {
      const from = c ? input.tile(t) : undefined;
      if (!from) return c && mask.replace(t, undefined) ? 1 : 0;
      const area = tileBounds(t, mask.tilesX, width, height);
      const w = area.x1 - area.x0;
      const inside = new Float32Array(w * (area.y1 - area.y0));
      insideOf(shapes, this.size, area, inside);
      const out = new Float32Array(TILE_PIXELS);
      for (let i = 0; i < inside.length; i++) {
        const at = Math.floor(i / w) * TILE + (i % w);
        out[at] = from[at]! * inside[i]!;
      }
      return mask.replace(t, out) ? 1 : 0;
    });
  }

  private paint(strokes: readonly Stroke[], changed: Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> {
    const input = this.limited;
    if (strokes.length === 0) {
      this.painted = undefined;
      return changed;
    }
    const last = this.painted;
    const mask = last?.mask ?? this.newMask();
    // Begun anew it holds nothing yet.
    if (!last) changed = changed.map((c, t) => (c || input.has(t) ? 1 : 0));
    const before = last?.strokes ?? [];
    let same = 0;
    while (same < strokes.length && before[same] !== undefined && sameStroke(before[same]!, strokes[same]!))
      same++;
    const { width, height } = this.size;
    const differing = [...before.slice(same), ...strokes.slice(same)];
    this.painted = { strokes, mask };
    return changed.map((c, t) => {
      const area = tileBounds(t, mask.tilesX, width, height);
      const due = c || differing.some((s) => strokeMeets(s, this.size, area));
      if (!due) return 0;
      // What is drawn on top of what was there needs nothing of that again.
      const painted =
        !c && last && same === before.length
          ? this.painting(last.mask, strokes.slice(same), t)
          : this.painting(input, strokes, t);
      return mask.replace(t, painted) ? 1 : 0;
    });
  }

  private painting(input: TileMask, strokes: readonly Stroke[], tile: number): Float32Array | undefined {
    const x0 = (tile % input.tilesX) * TILE;
    const y0 = Math.floor(tile / input.tilesX) * TILE;
    const whole = { x0, y0, x1: x0 + TILE, y1: y0 + TILE };
    const own = strokes.filter((s) => strokeMeets(s, this.size, whole));
    const from = input.tile(tile);
    if (own.length === 0) return from;
    const out = from?.slice() ?? new Float32Array(TILE_PIXELS);
    for (const s of own) brush(s, this.size, whole, out);
    const across = Math.min(TILE, this.size.width - x0);
    const down = Math.min(TILE, this.size.height - y0);
    // Outside the picture there is no mask.
    for (let y = 0; y < TILE; y++) out.fill(0, y * TILE + (y < down ? across : 0), (y + 1) * TILE);
    return out;
  }

  private cover(over: MaskOver | undefined, changed: Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> {
    const input = this.drawn;
    if (!over) {
      this.over = undefined;
      return changed;
    }
    const last = this.over;
    const mask = last?.mask ?? this.newMask();
    const behind = last?.by === over.mask ? over.edits - last.edits : Infinity;
    this.over = { by: over.mask, edits: over.edits, mask };
    return changed.map((c, t) => {
      const due = c || (behind === 1 && over.changed[t]) || (behind > 1 && (input.has(t) || mask.has(t)));
      if (!due) return 0;
      const [a, b] = [input.tile(t), over.mask.tile(t)];
      return mask.replace(t, a && b?.map((share, i) => share * a[i]!)) ? 1 : 0;
    });
  }
}

/**
 * Tiles in which what a stage gives is another than before the update.
 * @param came tiles in which what it was given is another; @param changed those in which its own mask is another
 */
function goesOn(
  before: TileMask,
  came: Uint8Array<ArrayBuffer>,
  changed: Uint8Array<ArrayBuffer>,
  now: TileMask,
): Uint8Array<ArrayBuffer> {
  if (before === now) return changed;
  // A mask in the place of another: where nothing new came, each is what it was.
  return came.map((c, t) => (c || !sameTile(before.tile(t), now.tile(t)) ? 1 : 0));
}

const sameTile = (a: Float32Array | undefined, b: Float32Array | undefined): boolean =>
  a === b || (a !== undefined && b !== undefined && a.every((c, i) => c === b[i]));

/** The mask of a recipe, made once. */
export function maskOf(
  { cast, ...size }: Size & { cast: readonly CastLayer[] },
  recipe: Partial<MaskRecipe>,
  env?: MaskEnv,
): TileMask {
  const pipeline = new MaskPipeline(cast, size, env);
  pipeline.update({ who: [], edge: [], fence: [], ...recipe });
  return pipeline.mask;
}
