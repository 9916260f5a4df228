import {
  ChangeStack,
  computeTiles,
  findMixtures,
  layersNamed,
  passesNeeded,
  sameValue,
  type CastLayer,
  type Crew,
  type Frame,
  type Passes,
  type RgbPlanes,
} from '@zesty-crow/core';
import { readBeside } from './beside.ts';
import type { Against, ViewState } from './messages.ts';
import { stackBeside, type OpenFrame } from './open-frame.ts';

/** What it is compared with; the open change counts where it is about that. */
interface Compared {
  against: Against;
  openChange: string | undefined;
}

/** Another state of the picture, or another picture of its size. */
interface Other {
  of: Compared;
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

const RENDERED: Compared = { against: { kind: 'rendered' }, openChange: undefined };

/** What the open frame is compared with: as rendered, other changes, or another version's frame. */
export class ComparedWith {
  private other: Other | undefined;
  /** The frame of another version that was read last. */
  private version: OtherVersion | undefined;

  constructor(private readonly crew: Crew) {}

  /** A new frame is open. */
  reset(): void {
    this.other = undefined;
  }

  planes(open: OpenFrame): RgbPlanes {
    return this.other?.planes ?? open.planes;
  }

  /** True if something of it is still to be computed. */
  get due(): boolean {
    return this.other?.due.includes(1) === true;
  }

  /**
   * Brings it up to date with the view.
   * @param ready the changes whose layers are there
   * @returns true if it is something else now
   */
  update(open: OpenFrame, view: ViewState, ready: ViewState['changes']): boolean {
    const { against, openChange } = view;
    const of: Compared = { against, openChange: against.kind === 'without' ? openChange : undefined };
    const another = !sameValue(this.other?.of ?? RENDERED, of);
    if (another) this.other = against.kind === 'rendered' ? undefined : this.made(open, of);
    const { stack, due } = this.other ?? {};
    if (stack && due) for (const tile of stack.update(this.listed(view, ready))) due[tile] = 1;
    return another;
  }

  private made(open: OpenFrame, of: Compared): Other {
    const { against } = of;
    if (against.kind !== 'version') {
      const stack = stackBeside(open, this.crew);
      return { of, planes: stack.result, stack, due: new Uint8Array(stack.tileCount) };
    }
    const there = this.version;
    const read = there?.key === against.key && there.of === open.frame ? there : undefined;
    const stack = read && against.changed ? this.stackOf(read) : undefined;
    return { of, planes: stack?.result ?? read?.planes, stack, due: new Uint8Array(stack?.tileCount ?? 0) };
  }

  /** The changes on another version. */
  private stackOf({ planes, cast, passes }: OtherVersion): ChangeStack {
    return new ChangeStack(planes, cast, { allocate: (bytes) => this.crew.allocate(bytes), passes });
  }

  private listed(view: ViewState, ready: ViewState['changes']): ViewState['changes'] {
    const { against, openChange, changes, othersChanges } = view;
    if (against.kind === 'version') return changes;
    if (against.kind === 'variant')
      return (othersChanges ?? []).filter((c) => ready.some((r) => r.id === c.id));
    const only = against.kind === 'only';
    const chosen = only ? against.changeId : openChange;
    return ready.map((c) => ({ ...c, on: c.on && (c.id === chosen) === only }));
  }

  /** The mixed pixels of these tiles were taken apart anew: another state of the picture has them, too. */
  mixedAnew(tiles: readonly number[]): void {
    for (const tile of this.other?.stack?.mixedAnew(tiles) ?? []) this.other!.due[tile] = 1;
  }

  /** Computes what is due, in an order; gives the tiles that are others now. */
  async compute(view: ViewState, order: (due: Uint8Array) => number[]): Promise<number[]> {
    const { stack, due } = this.other!;
    // Mixed pixels of another version are not those of this one.
    if (view.against.kind === 'version')
      for (const mixed of stack!.mixturesDue()) {
        const found = await this.crew.share(findMixtures, mixed);
        for (const tile of stack!.takeMixtures(mixed, found)) due[tile] = 1;
      }
    const tiles = order(due);
    due.fill(0);
    await this.crew.share(computeTiles, stack!.input(tiles));
    return tiles;
  }

  /**
   * Reads a frame of another version, to be compared with under a key.
   * @throws Error in words if it has another size
   */
  async read(
    open: OpenFrame,
    key: string,
    other: Frame,
    changes: ViewState['changes'],
    signal: AbortSignal,
  ): Promise<void> {
    const { planes, cast } = await readBeside(other, changes.flatMap(layersNamed), signal);
    const { width, height } = open.planes;
    if (planes?.width !== width || planes.height !== height)
      throw new Error('That version has another size, so that the two cannot be laid over each other.');
    const there = new Set(other.passes.map((p) => p.name));
    const wanted = passesNeeded(changes).filter((n) => there.has(n));
    const passes = await other.passPlanes(wanted, { signal });
    this.version = { key, of: open.frame, planes, cast, passes };
  }
}
