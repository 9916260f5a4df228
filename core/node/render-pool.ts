import { availableParallelism, totalmem } from 'node:os';
import type { Worker } from 'node:worker_threads';
import { Film, renderTiles } from '../src/render/film.ts';
import { prepare } from '../src/render/waves/prepared.ts';
import { settingsFault, type RenderSettings } from '../src/render/settings.ts';
import { reopened } from '../src/render/sums.ts';
import { tileBuffers, type TileSums } from '../src/render/tile-sums.ts';
import { Turns } from '../src/render/turns.ts';
import { judge } from '../src/render/noise.ts';
import { roundsOf, type Round } from '../src/render/rounds.ts';
import type { Scene } from '../src/scene/scene.ts';
import type { Attention } from './attention.ts';
import { GrowingPicture, type Look } from './growing-picture.ts';
import { RenderClock, type RenderProgress } from './render-clock.ts';
import { endThreads, restThreads, takeThreads, type TileDone, type TileOrder } from './render-threads.ts';

export interface RenderControl {
  /** Called after each piece of work. */
  onProgress?: (progress: RenderProgress) => void;
  /** Called now and then with what there is so far; what has no sample yet is filled from around it. */
  onLook?: (look: Look) => void;
  /** Renders only some of the rectangles of `renderTiles`, by their numbers: a trial. */
  only?: ReadonlySet<number>;
  /** The sums of an earlier render of the very same frame, to which samples are added; they are used up. */
  sums?: TileSums[];
  /** Ends the render; the promise rejects with the signal's reason. */
  signal?: AbortSignal;
  /** Ends the render with what there is, as soon as every pixel has some samples. */
  keep?: AbortSignal;
  /** Called between rounds, now and then, with what there is so far; rendering goes on when it is done. */
  onSnapshot?: (film: Film) => Promise<void>;
  /** What one looks at while it is rendered. */
  attention?: Attention;
  /** Threads; all cores by default. */
  threads?: number;
  /** Bytes that the scene may take while it is rendered, besides what it is read from; half of the machine's by default. */
  memory?: number;
}

/** Share of the machine's memory that one scene may take. */
const MEMORY_SHARE = 0.5;

/**
 * Renders a whole picture on several threads, in rounds of rising samples. The result is the same for any number of
 * threads. Rejects with the signal's reason when cancelled.
 */
export async function renderScene(
  scene: Scene,
  settings: RenderSettings,
  control: RenderControl = {},
): Promise<Film> {
  const fault = settingsFault(settings);
  if (fault) throw new Error(fault);
  const all = renderTiles(settings.width, settings.height);
  const areas = control.only ? all.filter((_, i) => control.only!.has(i)) : all;
  const pixels = areas.reduce((n, a) => n + (a.x1 - a.x0) * (a.y1 - a.y0), 0);
  const sums: (TileSums | undefined)[] = control.sums ? reopened(control.sums) : areas.map(() => undefined);
  const threads = Math.max(1, Math.min(control.threads ?? availableParallelism(), areas.length));
  const prepared = prepare(scene, threads, control.memory ?? totalmem() * MEMORY_SHARE);
  const workers = takeThreads(threads, { prepared, settings });
  const growing = control.onLook && new GrowingPicture(scene, settings, control.onLook, control.attention);
  const clock = new RenderClock(settings, pixels);
  const levels = sums.map((t) => (t ? samplesOfAll(t) : 0));
  const there = Math.min(...levels);
  const turns = new Turns(areas, settings.samples, levels);
  if (control.sums) {
    const counts = control.sums.map((t) => t.samples);
    clock.sampled(counts.reduce((n, s) => n + s.filter((v) => v > 0).length, 0));
    clock.goesOn(counts.reduce((n, s) => n + s.reduce((a, b) => a + b, 0), 0));
    for (const t of control.sums) growing?.take(t, Math.max(1, there));
  }
  const isFinished = (i: number) => sums[i]?.finished.every((f) => f === 1) ?? false;
  const first = new Set(settings.first);
  let noise = control.sums && judge(control.sums, { ...settings, noise: 0 }).noise;
  /** Share of the pixels that go on. */
  let going = 1;
  let late = false;
  /** Gives work to threads that have none; what one looks at may have become more urgent than what is left. */
  let feed: () => void = () => undefined;
  const unlisten = control.attention?.listen(() => {
    turns.look(control.attention!.area);
    feed();
    const atRest = (i: number) => (sums[i]?.samples.length ?? 0) > 0;
    growing?.attend(
      areas.flatMap((_, i) => (atRest(i) ? sums[i]! : [])),
      areas.filter((_, i) => sums[i] !== undefined && !atRest(i)),
    );
  });

  /** Goes once over all rectangles; false if it was told to keep what there is, or it is too late. */
  const round = (from: number, next: Round) =>
    new Promise<boolean>((resolve, reject) => {
      turns.begin(next, isFinished);
      const idle = new Map(workers.map((worker) => [worker, ORDERS]));
      // Before that some pixels have none.
      const stopped = () => (control.keep?.aborted === true || late) && from >= 1;
      const give = (worker: Worker) => {
        const turn = stopped() ? undefined : turns.next();
        if (!turn) return false;
        idle.set(worker, idle.get(worker)! - 1);
        const { number } = turn;
        const order: TileOrder = { ...turn, area: areas[number]!, sums: sums[number] };
        worker.postMessage(order, order.sums ? tileBuffers(order.sums) : []);
        return true;
      };
      feed = () => {
        for (let more = true; more;) {
          more = false;
          for (const worker of workers) if (idle.get(worker)! > 0 && give(worker)) more = true;
        }
        if ([...idle.values()].every((n) => n === ORDERS) && (turns.over || stopped())) resolve(turns.over);
      };
      for (const worker of workers) {
        worker.removeAllListeners('message');
        worker.removeAllListeners('error');
        worker.on('message', ({ turn, tile, taken }: TileDone) => {
          sums[turn.number] = tile;
          idle.set(worker, idle.get(worker)! + 1);
          turns.done(turn, isFinished(turn.number));
          if (first.size) turns.want(turn.number, sees(tile, first));
          clock.add(taken, turn.upTo);
          control.onProgress?.(clock.progress(next.upTo, noise, going));
          growing?.take(tile, turn.upTo);
          feed();
        });
        worker.once('error', reject);
      }
      feed();
    });
  let stop: (reason: Error) => void = () => undefined;
  const cancelled = new Promise<never>((_, reject) => {
    stop = reject;
    if (control.signal?.aborted) reject(control.signal.reason as Error);
    control.signal?.addEventListener('abort', () => reject(control.signal!.reason as Error), { once: true });
  });
  cancelled.catch(() => undefined);
  for (const worker of workers)
    worker.once('exit', () => stop(new Error('A render thread ended before its work was done.')));
  const time = clock.millisecondsLeft;
  const alarm =
    time === undefined ? undefined : setTimeout(() => (late = true), Math.min(time, LONGEST_TIMER));
  try {
    let from = there;
    let snapshotAt = SNAPSHOT_AFTER;
    for (const next of roundsOf(settings, (samples) => clock.limit(samples), there)) {
      const whole = await Promise.race([round(from, next), cancelled]);
      from = next.upTo / next.grid;
      growing?.endRound(next.upTo);
      if (next.grid > 1) continue;
      const verdict = judge(sums as TileSums[], settings);
      noise = verdict.noise;
      if (next.upTo === 1 && !control.sums)
        clock.sampled(sums.reduce((n, t) => n + t!.samples.filter((s) => s > 0).length, 0));
      going = 1 - sums.reduce((n, t) => n + t!.finished.reduce((a, b) => a + b, 0), 0) / pixels;
      if (!whole || control.keep?.aborted || verdict.clean || going === 0) break;
      const worthIt = clock.left(next.upTo, noise, going) > SNAPSHOT_BEFORE_END;
      if (control.onSnapshot && clock.seconds >= snapshotAt && worthIt) {
        const started = clock.seconds;
        await Promise.race([
          control.onSnapshot(new Film(scene, settings, sums as TileSums[], noise)),
          cancelled,
        ]);
        const took = clock.seconds - started;
        clock.rested(took);
        snapshotAt = clock.seconds + Math.max(SNAPSHOT_EVERY, SNAPSHOT_SHARE * took);
      }
    }
  } catch (error) {
    await endThreads(workers);
    throw error;
  } finally {
    clearTimeout(alarm);
    unlisten?.();
  }
  restThreads(workers);
  return new Film(scene, settings, sums as TileSums[], noise);
}

/** Orders of one thread: one to work on and one to go on with, so that it does not wait while a look is made here. */
const ORDERS = 2;
/** Of what is done sooner there is no snapshot, in seconds. */
const SNAPSHOT_AFTER = 2;
/** Nor so many seconds before the end. */
const SNAPSHOT_BEFORE_END = 20;
/** Least seconds between two snapshots, and how many times as long as one takes: nothing is rendered meanwhile. */
const SNAPSHOT_EVERY = 8;
const SNAPSHOT_SHARE = 20;
/** Timers of more milliseconds are not known. */
const LONGEST_TIMER = 2 ** 31 - 1;

/** Samples that every pixel of a rectangle has that has any. */
const samplesOfAll = ({ samples }: TileSums): number =>
  samples.reduce((least, n) => (n > 0 ? Math.min(least, n) : least), Infinity);

/** Whether some parts are seen in a rectangle. */
const sees = ({ ids }: TileSums, parts: ReadonlySet<number>): boolean => {
  for (let e = 0; e < ids.used; e++) if (parts.has(ids.thing[e]!)) return true;
  return false;
};
