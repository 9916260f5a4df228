import * as Comlink from 'comlink';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { Change } from '@zesty-crow/core';
import type { Version } from '@zesty-crow/server/contract';
import { fileUrl } from '../server/api.ts';
import type {
  CastSummary,
  LookSettings,
  Member,
  Opened,
  Probe,
  Reports,
  ShownTile,
  Surface,
  Swatches,
} from './messages.ts';
import type { PictureWorker } from './picture-worker.ts';

/** Where computed rectangles go. */
export type TileSink = (surface: Surface, tiles: ShownTile[]) => void;

/** The open version: its worker, its cast, and what the worker reports. */
export const usePicture = defineStore('picture', () => {
  const opened = shallowRef<Opened>();
  const versionId = ref<string>();
  const progress = ref<{ share: number; text: string }>();
  const problem = ref<string>();
  const outline = shallowRef<Float32Array>(new Float32Array(0));
  const swatches = ref<Swatches>({});
  const missing = ref<{ [changeId: string]: number }>({});
  /** Counts finished computations; screenshots and tests wait for it. */
  const settledCount = ref(0);
  const lastMilliseconds = ref(0);
  let worker: Worker | undefined;
  let remote: Comlink.Remote<PictureWorker> | undefined;
  let sink: TileSink = () => undefined;

  const cast = computed<CastSummary[]>(() => opened.value?.cast ?? []);
  const memberMaps = computed(
    () => new Map(cast.value.map((layer) => [layer.name, new Map(layer.members.map((m) => [m.name, m]))])),
  );

  function close(): void {
    worker?.terminate();
    worker = remote = undefined;
    opened.value = versionId.value = progress.value = problem.value = undefined;
    outline.value = new Float32Array(0);
    swatches.value = {};
    missing.value = {};
  }

  async function open(version: Version, frame?: number): Promise<void> {
    close();
    versionId.value = version.id;
    progress.value = { share: 0, text: 'Loading' };
    const own = new Worker(new URL('./picture-worker.ts', import.meta.url), { type: 'module' });
    worker = own;
    remote = Comlink.wrap<PictureWorker>(own);
    const reports: Reports = {
      progress: (share, text) => (progress.value = { share, text }),
      tiles: (surface, tiles) => sink(surface, tiles),
      settled: (result) => {
        swatches.value = result.swatches;
        missing.value = result.missing;
        lastMilliseconds.value = result.milliseconds;
        settledCount.value++;
      },
      outline: (segments) => (outline.value = segments),
    };
    const failed = new Promise<never>((_, reject) => {
      own.onerror = (e) => reject(new Error(e.message || 'The picture could not be decoded.'));
    });
    try {
      opened.value = await Promise.race([
        remote.open(
          version.files.map(({ id, role, name, frame: number }) => ({
            role,
            name,
            frame: number,
            url: fileUrl(id),
          })),
          frame,
          Comlink.proxy(reports) as unknown as Comlink.Remote<Reports>,
        ),
        failed,
      ]);
    } catch (error) {
      if (worker !== own) return;
      problem.value = error instanceof Error ? error.message : String(error);
    }
    progress.value = undefined;
  }

  /** A member by layer and name. */
  const member = (layer: string, name: string): Member | undefined => memberMaps.value.get(layer)?.get(name);

  return {
    opened,
    versionId,
    progress,
    problem,
    outline,
    swatches,
    missing,
    settledCount,
    lastMilliseconds,
    cast,
    open,
    close,
    member,
    setSink: (next: TileSink) => (sink = next),
    setChanges: (list: Change[], edited?: string) => void remote?.setChanges(list, edited),
    setLook: (look: LookSettings) => void remote?.setLook(look),
    probe: (x: number, y: number): Promise<Probe | undefined> =>
      remote?.probe(x, y) ?? Promise.resolve(undefined),
    membersAlong: (layer: string, x0: number, y0: number, x1: number, y1: number) =>
      remote?.membersAlong(layer, x0, y0, x1, y1) ?? Promise.resolve([]),
    memberOutline: (layer: string, id: number) =>
      remote?.memberOutline(layer, id) ?? Promise.resolve(new Float32Array(0)),
  };
});
