import {
  alone,
  countWarnings,
  halvingsAt,
  type CastLayer,
  type Crew,
  type CubeTable,
  type DisplayUse,
  type Frame,
  type RgbPlanes,
} from '@zesty-crow/core';
import { BesidePicture, computeBeside } from './beside-picture.ts';
import { ComparedWith } from './comparison.ts';
import { CorrectedTiles } from './computing/corrected-tiles.ts';
import { MixedEdges } from './computing/mixed-edges.ts';
import { Scheduler } from './computing/scheduler.ts';
import { dueSurfaces, sendDue } from './computing/shown-tiles.ts';
import { tileOrder } from './computing/tile-order.ts';
import { EMPTY_VIEW } from './empty-view.ts';
import { Failures } from './failures.ts';
import { FrameLoader, type SessionEnv } from './loading/frame-loader.ts';
import { PassPlanes } from './loading/pass-planes.ts';
import { MaskFollower } from './mask-follower.ts';
import type { PictureEvents, VersionFiles, ViewState } from './messages.ts';
import {
  addToCast,
  ClosedError,
  describeOpened,
  missingMembers,
  openedFrame,
  SURFACES,
  type OpenFrame,
} from './open-frame.ts';
import { QUESTIONS, type Answers, type Query } from './queries/list.ts';
import type { Desk, Question } from './queries/question.ts';
import { headingAlone, readyChanges } from './ready-changes.ts';
import { modeOf } from './surfaces/list.ts';
import type { Shown } from './surfaces/surface.ts';
import { SwatchKeeper } from './swatch-keeper.ts';
import { differenceOf } from './view-difference.ts';
import { watchedIn } from './watched.ts';

/** So long nothing must have moved before swatches are computed, in milliseconds. */
const REST = 120;
/**
 * One open frame and how it is looked at: reads the picture's own channels first, then one ID layer after the other,
 * computes what is due, visible tiles first, and answers questions meanwhile. It knows no worker and no screen.
 * The latest view wins; every failure is told, and none hangs: questions that cannot be answered any more are rejected.
 */
export class PictureSession {
  private view: ViewState = EMPTY_VIEW;
  /** What waits for the computation that is under way: masks are changed in place, and other threads read them. */
  private next: { view: ViewState; revision: number } | undefined;
  /** Number of the view that is shown. */
  private revision = 0;
  private open_: OpenFrame | undefined;
  private events: PictureEvents | undefined;
  private begun = 0;
  /** All but the edges of this view's masks has been told. */
  private toldPlain = false;
  private resting: ReturnType<typeof setTimeout> | undefined;
  private opening = new AbortController();
  /** The look-up table that was told last. */
  private table: CubeTable | undefined;
  private laid: Shown['laid'];

  private readonly crew: Crew;
  private readonly loader: FrameLoader;
  private readonly compared: ComparedWith;
  private readonly corrected: CorrectedTiles;
  private readonly mixed: MixedEdges;
  private readonly mask = new MaskFollower((outline) => this.events!.outline(outline));
  private readonly failures = new Failures();
  private readonly swatches = new SwatchKeeper();
  private readonly passPlanes = new PassPlanes();
  private readonly scheduler: Scheduler;
  private readonly beside: BesidePicture;

  constructor(private readonly env: SessionEnv) {
    this.crew = env.crew ?? alone;
    this.compared = new ComparedWith(this.crew);
    this.corrected = new CorrectedTiles(this.crew);
    this.mixed = new MixedEdges(this.crew);
    this.loader = new FrameLoader(env, this.crew, {
      arrived: () => this.scheduler.wake(),
      layerFailed: (name, error) => this.events!.layerFailed(name, messageOf(error)),
      passesFailed: (open, names, error) => {
        if (this.open_ === open) this.failures.passesLost(this.view, names, messageOf(error));
      },
      view: () => this.view,
      rest: () => this.scheduler.rest(),
    });
    this.scheduler = new Scheduler(
      [
        () => this.computeDue(),
        () => this.computeCompared(),
        () => this.showDue(),
        () => this.takeEdgesApart(),
      ],
      {
        take: () => this.take(),
        waiting: () => this.next !== undefined || this.loader.holds,
        rested: () => this.restedWith(this.open_),
        failed: (error) => {
          // Nothing is tried again by itself: it would fail again.
          this.open_?.toCompute.fill(0);
          this.events?.problem(messageOf(error));
        },
      },
    );
    this.beside = new BesidePicture(() => this.scheduler.rest());
  }

  /** True while anything is being computed. */
  get busy(): boolean {
    return this.scheduler.busy;
  }

  // ---- opening

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
    const frame = await this.loader.openFrame(version, number, stop, (share) =>
      events.progress(0.5 * share, 'Loading'),
    );
    const planes = await frame.picture({
      signal: stop,
      onProgress: (share) => events.progress(0.5 + 0.5 * share, 'Reading'),
    });
    stop.throwIfAborted();
    await this.loader.readLayers(this.replace(frame, planes), version, number, stop);
  }

  /** Replaces what was open. */
  private replace(frame: Frame, planes: RgbPlanes): OpenFrame {
    this.corrected.stop();
    this.loader.begin();
    const open = (this.open_ = openedFrame(frame, planes, this.crew, this.open_));
    this.compared.reset();
    this.swatches.reset();
    this.failures.reset();
    this.events!.opened(describeOpened(open));
    this.begun = performance.now();
    if (this.next) ({ view: this.view, revision: this.revision } = this.next);
    this.next = undefined;
    this.follow(undefined, this.view);
    this.scheduler.wake();
    return open;
  }

  private addLayer(open: OpenFrame, layer: CastLayer): void {
    const summary = addToCast(open, layer);
    if (!summary) return;
    this.events!.layer(summary);
    this.begun = performance.now();
    this.updateStack(open);
    if (this.view.layer === layer.name && modeOf(this.view).byLayer) open.shown.view.touch();
    this.mask.moved(open, this.view, false);
    this.loader.layersMoved();
  }

  // ---- views

  /**
   * Shows it like this from now on.
   * @param revision a number of the view, told when it has been computed
   */
  show(view: ViewState, revision = 0): void {
    this.next = { view, revision };
    this.beside.giveUp();
    this.begun = performance.now();
    this.corrected.giveWay();
    this.scheduler.wake();
  }

  /** Takes the newest view, and the layers and passes that have come; nothing is being computed now. */
  private take(): void {
    const last = this.view;
    if (this.next) {
      ({ view: this.view, revision: this.revision } = this.next);
      this.next = undefined;
      // What is new is told again as soon as all but its edges is there.
      this.toldPlain = false;
      this.follow(last, this.view);
    }
    const open = this.open_;
    const { layers, passes } = this.loader.take(open);
    if (!open) return;
    for (const layer of layers) this.addLayer(open, layer);
    for (const planes of passes) {
      Object.assign(open.passes, planes);
      this.updateStack(open);
    }
  }

  /** Marks what a new view makes due. */
  private follow(last: ViewState | undefined, now: ViewState): void {
    const open = this.open_;
    if (!open) return;
    const { shown } = open;
    for (const surface of SURFACES) shown[surface].want(halvingsAt(now.scale));
    void this.loader.readPasses(open, [...now.changes, ...(now.othersChanges ?? [])], this.opening.signal);
    this.updateStack(open);
    const moved = differenceOf(last, now);
    if (moved.view) shown.view.touch();
    if (moved.before) shown.before.touch();
    if (moved.watched) open.watched = undefined;
    if (moved.warnings) this.watch(open);
    if (moved.mask) this.mask.moved(open, now, moved.whole);
    else if (moved.outline) this.mask.tellOutline(open, now);
    else this.mask.catchUp(open, now);
  }

  private updateStack(open: OpenFrame): void {
    const { view } = this;
    const ready = readyChanges(open, view);
    for (const tile of open.stack.update([...ready, ...headingAlone(open, view)], view.openChange))
      open.toCompute[tile] = 1;
    this.failures.follow(view, this.swatches.note(view));
    if (this.compared.update(open, this.view, ready)) {
      open.shown.before.touch();
      if (modeOf(this.view).byCompared) open.shown.view.touch();
    }
  }

  // ---- computing, by rank

  private orderOf({ stack }: OpenFrame) {
    return (due: Uint8Array): number[] => tileOrder(due, stack.tilesX, this.view.visible);
  }

  private get display(): DisplayUse {
    const { table: takes, ...display } = this.view.display;
    return takes && this.table ? { ...display, table: { ...this.table, takes } } : display;
  }

  private async computeDue(): Promise<boolean> {
    const open = this.open_;
    if (!open?.toCompute.includes(1)) return false;
    const failed = await this.corrected.compute(
      open,
      this.view,
      this.display,
      this.orderOf(open)(open.toCompute),
      (tiles) => this.events!.tiles('view', tiles),
      () => this.open_ === open,
    );
    this.failures.add(failed);
    return true;
  }

  /** What it is compared with is computed only where it is looked at. */
  private async computeCompared(): Promise<boolean> {
    const open = this.open_;
    const mode = modeOf(this.view);
    if (!open || !(this.view.wanted.before || mode.byCompared) || !this.compared.due) return false;
    for (const t of await this.compared.compute(this.view, this.orderOf(open))) {
      open.shown.before.touch(t);
      if (mode.byCompared) open.shown.view.touch(t);
    }
    return true;
  }

  /** Shows what is due, for one slice of time. */
  private showDue(): boolean {
    const open = this.open_;
    const { view, display, laid } = this;
    const due = open ? dueSurfaces({ open, view }) : [];
    if (!open || due.length === 0) return false;
    const shown: Shown = { open, view, display, compared: this.compared.planes(open), laid };
    sendDue(shown, due, (surface, tiles) => this.events!.tiles(surface, tiles));
    return true;
  }

  private async takeEdgesApart(): Promise<boolean> {
    const open = this.open_;
    if (!open || !this.mixed.due(open)) return false;
    // All but the edges is there.
    if (!this.toldPlain) this.settle(open, false);
    this.toldPlain = true;
    this.compared.mixedAnew(await this.mixed.takeApart(open, this.orderOf(open)));
    return true;
  }

  private restedWith(open: OpenFrame | undefined): void {
    this.toldPlain = false;
    if (open) this.settle(open, true);
  }

  /** @param edges mixed pixels have been taken apart, too */
  private settle(open: OpenFrame, edges: boolean): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => void this.whenNothingMoves(open), REST);
    this.events!.settled({
      missing: missingMembers(open, this.view),
      failures: this.failures.list,
      milliseconds: performance.now() - this.begun,
      revision: this.revision,
      whole: edges && open.reading === 0 && open.coming.size === 0 && this.next === undefined,
    });
  }

  private async whenNothingMoves(open: OpenFrame): Promise<void> {
    const isOpen = () => this.open_ === open;
    const swatches = this.swatches.refresh(open, this.display, () => !this.busy && isOpen());
    if (!open.watched && this.view.warnings.length) this.watch(open);
    const made = await swatches;
    if (made && isOpen()) this.events!.swatches(made);
  }

  /** Looks where pixels are not as they should be, marks them, and tells how many there are. */
  private watch(open: OpenFrame): void {
    const { warnings } = this.view;
    open.shown.warn.touch();
    if (warnings.length === 0) return;
    open.watched = watchedIn(open, this.view);
    this.events!.warnings(countWarnings(open.watched, warnings));
    this.scheduler.wake();
  }

  // ---- questions

  /** Answers a question about the frame that is open. Rejects with {@link ClosedError} when it is closed meanwhile. */
  async ask<Q extends Query>(query: Q): Promise<Answers[Q['ask']]> {
    const kind = QUESTIONS[query.ask] as unknown as Question<Q, Answers[Q['ask']]>;
    const open = this.open_;
    if (!open) return kind.none;
    const desk = this.desk(open);
    const wanted = query.layer;
    while (wanted !== undefined && open.coming.has(wanted)) await desk.nextLayer();
    return kind.answer(desk, query);
  }

  private desk(open: OpenFrame): Desk {
    const { crew, loader, beside, env } = this;
    const { signal } = this.opening;
    const isOpen = () => this.open_ === open;
    return {
      open,
      crew,
      signal,
      readPicture: env.readPicture,
      view: () => this.view,
      display: () => this.display,
      planesOf: (name, channels) => this.passPlanes.of(open, name, channels),
      nextLayer: () => loader.nextLayer(isOpen),
      readPasses: (changes) => loader.readPasses(open, changes, signal),
      openFrame: (version, frame, until) => loader.openFrame(version, frame, until),
      storedIndex: (version, layer, number, frame, until) =>
        loader.storedIndex(version, layer, number, frame, until),
      aside: (work) => beside.do(isOpen, work),
      inBackground: (work) => beside.inBackground(isOpen, signal, work),
      computeBeside: (stack, changes) =>
        computeBeside(open, stack, changes, crew, () => this.scheduler.wake()),
      readOther: (key, frame) => this.compared.read(open, key, frame, this.view.changes, signal),
      useTable: (table) => this.useTable(open, table),
      layUnder: (data) => this.layUnder(open, data),
    };
  }

  private useTable(open: OpenFrame, table: CubeTable | undefined): void {
    // Other threads read it, too.
    const data = table && new Float32Array(this.crew.allocate(table.data.byteLength));
    data?.set(table!.data);
    this.table = table && { ...table, data: data! };
    open.shown.view.touch();
    open.shown.before.touch();
    this.scheduler.wake();
  }

  private layUnder(open: OpenFrame, data: Uint8ClampedArray | undefined): void {
    const { width, height } = open.planes;
    this.laid = data && { data, width, height };
    if (modeOf(this.view).byMask) open.shown.view.touch();
    this.scheduler.wake();
  }

  /** Ends it: nothing is told any more, and waiting questions are rejected. */
  close(): void {
    this.opening.abort(new ClosedError('The picture was closed.'));
    this.corrected.stop();
    clearTimeout(this.resting);
    this.open_ = undefined;
    this.loader.layersMoved();
  }
}

const messageOf = (error: unknown) => (error instanceof Error ? error.message : String(error));
