import { useDebounceFn } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowReactive, shallowRef, watch } from 'vue';
import { listedChanges, type ListedChange } from '@zesty-crow/core/changes';
import { leapsOf, type MaskPart } from '@zesty-crow/core/masks';
import type { Version } from '@zesty-crow/server/contract';
import { storedPreview, usePicture } from '../../picture/picture.ts';
import { fileUrl } from '../../server/api.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { useView } from '../../shot/view.ts';
import { frameAt, nextToMake, sideFor, within, type FrameSpan } from './frame-cache.ts';

/** A frame as its changes made it when it was asked for. */
interface Made {
  /** All that it was made from. */
  key: string;
  bitmap?: ImageBitmap;
  parts: { [changeId: string]: MaskPart };
  /** Why it could not be made. */
  problem?: string;
}

/** Frames a second that are offered. */
export const RATES = [6, 12, 24, 25, 30] as const;
/** So long nothing must have moved before frames are made, in milliseconds. */
const REST = 700;
/** So long a frame is pointed at before it is opened. */
const DWELL = 160;

const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * The frames of the open version as a sequence: which one is looked at, playing, and the corrected pictures that are made
 * for that in the background. A frame that is gone to shows at once what is there of it; it is opened when one stays.
 */
export const useSequence = defineStore('sequence', () => {
  const picture = usePicture();
  const changes = useChanges();
  const view = useView();

  const version = shallowRef<Version>();
  const frames = ref<number[]>([]);
  let openFrame: (frame: number) => void = () => undefined;
  /** The frame that is looked at; it may be still to be opened. */
  const at = ref<number>();
  /** The frame that is open and on the screen as a whole. */
  const settled = ref<number>();
  const rate = ref<number>(24);
  /** In and out points. */
  const span = ref<FrameSpan>({});
  const played = computed(() => within(frames.value, span.value));

  // ---- going to a frame

  const openSoon = useDebounceFn(() => {
    if (at.value !== undefined && at.value !== changes.frame && !playing.value) openFrame(at.value);
  }, DWELL);
  function go(frame: number): void {
    if (!frames.value.includes(frame)) return;
    stop();
    at.value = frame;
    void openSoon();
  }
  function goBy(by: number): void {
    const next = frames.value[frames.value.indexOf(at.value ?? NaN) + by];
    if (next !== undefined) go(next);
  }
  watch(
    () => picture.settledCount,
    () => {
      if (!picture.progress && picture.opened) settled.value = changes.frame;
    },
  );

  // ---- playing

  const playing = ref(false);
  let ticking = 0;
  function play(): void {
    if (played.value.length < 2) return;
    filling.value = playing.value = true;
    void fill();
    const from = at.value;
    const began = performance.now();
    const tick = () => {
      at.value = frameAt(played.value, from, performance.now() - began, rate.value);
      ticking = requestAnimationFrame(tick);
    };
    ticking = requestAnimationFrame(tick);
  }
  function stop(): void {
    if (!playing.value) return;
    cancelAnimationFrame(ticking);
    playing.value = false;
    void openSoon();
  }
  const flip = () => (playing.value ? stop() : play());
  watch(rate, () => {
    if (!playing.value) return;
    cancelAnimationFrame(ticking);
    play();
  });
  function setEnd(end: keyof FrameSpan): void {
    const now = span.value[end] === at.value ? undefined : at.value;
    const next = { ...span.value, [end]: now };
    // An end that is passed over by the other one is given up.
    if ((next.first ?? -Infinity) > (next.last ?? Infinity)) delete next[end === 'first' ? 'last' : 'first'];
    span.value = next;
  }

  // ---- frames made in the background

  const made = shallowReactive(new Map<number, Made>());
  /** Those that are as the changes are now. */
  const fresh = shallowReactive(new Set<number>());
  /** Nobody needs them before a sequence is played for the first time. */
  const filling = ref(false);
  let working = false;
  const listOf = (frame: number) =>
    JSON.stringify(listedChanges(changes.list, { variant: changes.variantId, frame }));

  async function fill(): Promise<void> {
    if (working || !filling.value) return;
    working = true;
    try {
      for (let count = -1; filling.value && version.value && picture.size;) {
        // A hand that moves something goes first.
        while (count !== picture.settledCount || picture.reading) {
          count = picture.settledCount;
          await sleep(REST);
        }
        const next = nextToMake(played.value, at.value, (f) => fresh.has(f));
        if (next === undefined) return;
        await makeFrame(version.value, next);
      }
    } finally {
      working = false;
    }
  }
  async function makeFrame(of: Version, frame: number): Promise<void> {
    const list = listOf(frame);
    const side = sideFor(played.value.length, picture.size!);
    const { table, ...display } = view.display;
    const key = JSON.stringify([of.id, side, display, table?.takes, list]);
    const known = made.get(frame);
    if (known?.key !== key) {
      let next: Made;
      try {
        const state = await picture.frameState(of, frame, JSON.parse(list) as ListedChange[], side);
        // Given up for something that moved: it is asked for again.
        if (!state) return;
        const { data, width, height } = state.picture;
        const bitmap = await createImageBitmap(new ImageData(data, width, height));
        next = { key, bitmap, parts: state.parts };
      } catch (error) {
        next = { key, parts: {}, problem: error instanceof Error ? error.message : String(error) };
      }
      if (version.value?.id !== of.id) return next.bitmap?.close();
      known?.bitmap?.close();
      made.set(frame, next);
    }
    // It may have become another one meanwhile.
    if (listOf(frame) === list) fresh.add(frame);
  }
  watch(
    [() => changes.list, () => changes.variantId, () => view.display, played],
    () => {
      fresh.clear();
      void fill();
    },
    { deep: true },
  );

  // ---- what is seen of a frame that is not open

  /** What lies over the picture: the corrected frame, or the stored picture until that is there. */
  const over = computed(() => {
    const frame = at.value;
    if (frame === undefined || frames.value.length < 2) return undefined;
    if (!playing.value && (settled.value === frame || settled.value === undefined)) return undefined;
    const own = fresh.has(frame) ? made.get(frame) : undefined;
    const stored = version.value && storedPreview(version.value, frame);
    return { frame, bitmap: own?.bitmap, stored: stored && fileUrl(stored.id), problem: own?.problem };
  });

  /** What the mask of a change covers, in the frames that were made. */
  const partsOf = (changeId: string | undefined) =>
    frames.value.flatMap((frame) => {
      const part = changeId === undefined ? undefined : made.get(frame)?.parts[changeId];
      return part ? [{ frame, part }] : [];
    });
  const parts = computed(() => partsOf(changes.openId));
  const leaps = computed(() => new Set(leapsOf(parts.value)));
  const problems = computed(() => [...made].filter(([f, m]) => m.problem && fresh.has(f)).map(([f]) => f));

  function forget(): void {
    stop();
    filling.value = false;
    for (const { bitmap } of made.values()) bitmap?.close();
    made.clear();
    fresh.clear();
    span.value = {};
    at.value = settled.value = undefined;
  }
  let told: number | undefined;
  /**
   * A version and one of its frames have been opened. It is told again whenever something of the shot is news, which must
   * not take one back to the open frame while another one is on its way.
   */
  function opened(of: Version | undefined, all: readonly number[], frame: number | undefined): void {
    const news = version.value?.id !== of?.id || frame !== told || !all.includes(at.value ?? NaN);
    if (version.value?.id !== of?.id) forget();
    version.value = of;
    told = frame;
    // The same again would have all frames looked at anew.
    if (frames.value.join() !== all.join()) frames.value = [...all];
    if (!playing.value && news) at.value = frame;
  }

  return {
    frames,
    at,
    rate,
    span,
    played,
    playing,
    made,
    fresh,
    filling,
    over,
    parts,
    leaps,
    problems,
    go,
    goBy,
    flip,
    stop,
    setEnd,
    opened,
    forget,
    setOpener: (open: (frame: number) => void) => (openFrame = open),
  };
});
