import type { RoleUse } from '@zesty-crow/core/roles';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, toRaw } from 'vue';
import { familyOf } from '@zesty-crow/core/cast';
import type { ListedChange } from '@zesty-crow/core/changes';
import type { CubeTable } from '@zesty-crow/core/display';
import { sameSize, type Size } from '@zesty-crow/core/planes';
import type { ChannelMask } from '@zesty-crow/core/version';
import type { Version } from '@zesty-crow/server/contract';
import { fileUrl, indexesUrl } from '../server/api.ts';
import { pictureFiles } from './local-files.ts';
import { takePicture } from './ahead.ts';
import { PictureClosedError, type PictureClient } from './client.ts';
import type {
  CastSummary,
  Failure,
  Member,
  Opened,
  PassPicture,
  PictureEvents,
  Probe,
  SamplePlace,
  ShownTile,
  Surface,
  Swatches,
  VersionFiles,
  ViewState,
} from './messages.ts';
import type { Answers, Query } from './queries/list.ts';

/** Where computed rectangles go. */
export type TileSink = (surface: Surface, tiles: ShownTile[]) => void;

/** An ID layer as the interface has it: its members come some time after the picture. */
export type Layer = CastSummary & { state: 'coming' | 'there' | 'failed' };

/** The stored picture of a frame, as large as there is. */
export const storedPreview = ({ files }: Version, frame: number | undefined) =>
  (['preview-large', 'preview'] as const)
    .map((role) => files.find((f) => f.role === role && f.frame === (frame ?? null)))
    .find((f) => f !== undefined) ?? files.find((f) => f.role === 'preview');

/** The open version: what is known of it, and its worker. A step to another frame keeps the worker. */
export const usePicture = defineStore('picture', () => {
  const versionId = ref<string>();
  const opened = shallowRef<Opened>();
  /** Pixels across and down, known before anything was read. */
  const size = shallowRef<Size>();
  /** A stored picture that stands in until the pixels are there. */
  const preview = ref<string>();
  const cast = shallowRef<Layer[]>([]);
  const progress = ref<{ share: number; text: string }>();
  const problem = ref<string>();
  const outline = shallowRef<Float32Array>(new Float32Array(0));
  const swatches = ref<Swatches>({});
  /** How many pixels each wanted warning concerns. */
  const warnings = shallowRef<Record<string, number>>({});
  const missing = ref<{ [changeId: string]: number }>({});
  const failures = ref<Failure[]>([]);
  /** Counts how often all that was asked for had been computed. */
  const settledCount = ref(0);
  /** Number of the view that was asked for last, and of the last one of which nothing more will come. */
  const revision = ref(0);
  const whole = ref<number>();
  /** Questions that have not been answered. */
  const questions = ref(0);
  let client: PictureClient | undefined;
  let sink: TileSink = () => undefined;
  let opening = 0;
  let openFrame: number | undefined;

  /** True until the picture and all its ID layers are there. */
  const reading = computed(
    () => progress.value !== undefined || cast.value.some((l) => l.state === 'coming'),
  );
  /** The view of which all is there, edges and layers and passes, and after which nothing was asked; undefined meanwhile. */
  const rests = computed(() =>
    whole.value === revision.value && questions.value === 0 && !reading.value ? whole.value : undefined,
  );
  const memberMaps = computed(
    () => new Map(cast.value.map((layer) => [layer.name, new Map(layer.members.map((m) => [m.name, m]))])),
  );

  function forget(): void {
    opened.value = progress.value = problem.value = undefined;
    cast.value = [];
    outline.value = new Float32Array(0);
    swatches.value = {};
    warnings.value = {};
    missing.value = {};
    failures.value = [];
  }
  function close(): void {
    opening++;
    client?.close();
    client = undefined;
    forget();
    versionId.value = size.value = preview.value = undefined;
  }

  const setLayer = (name: string, change: Partial<Layer>) =>
    (cast.value = cast.value.map((l) => (l.name === name ? { ...l, ...change } : l)));

  const eventsOf = (own: number): PictureEvents => {
    /** What an earlier picture still tells is not heard. */
    const heard =
      <A extends unknown[]>(on: (...args: A) => void) =>
      (...args: A): void => {
        if (own === opening) on(...args);
      };
    return {
      progress: heard((share, text) => (progress.value = { share, text })),
      opened: heard((next) => {
        progress.value = undefined;
        const { width, height, display } = next;
        if (!size.value || !sameSize(size.value, next)) size.value = { width, height, display };
        opened.value = next;
        cast.value = next.layers.map((name) => ({
          name,
          family: familyOf(name),
          members: [],
          unseen: [],
          state: 'coming',
        }));
        preview.value = undefined;
      }),
      layer: heard((layer) => {
        whole.value = undefined;
        setLayer(layer.name, { ...layer, state: 'there' });
      }),
      layerFailed: heard((name, message) => {
        setLayer(name, { state: 'failed' });
        if (opened.value)
          opened.value = {
            ...opened.value,
            findings: [
              ...opened.value.findings,
              { severity: 'error', code: 'layer-unread', message: `${name} could not be read: ${message}` },
            ],
          };
      }),
      tiles: heard((surface, tiles) => sink(surface, tiles)),
      problem: heard((message) => (problem.value = message)),
      settled: heard((result) => {
        missing.value = result.missing;
        failures.value = result.failures;
        settledCount.value++;
        whole.value = result.whole ? result.revision : undefined;
      }),
      swatches: heard((next) => (swatches.value = next)),
      warnings: heard((counts) => (warnings.value = counts)),
      outline: heard((segments) => (outline.value = segments)),
    };
  };

  /** A version as the worker opens it. */
  const asked = (version: Version): VersionFiles => ({
    files: pictureFiles(version),
    ...(version.state === 'ready' ? { indexes: indexesUrl(version.id) } : {}),
    // Not the proxy that Vue has put around it.
    interpretation: toRaw(version.interpretation),
  });

  /** Opens a frame of a version. Another frame of the open version takes the place of this one once it is there. */
  async function open(version: Version, frame?: number): Promise<void> {
    if (versionId.value !== version.id) {
      // Another version may be of another size, and what is shown of this one is not it.
      forget();
      versionId.value = version.id;
      size.value =
        version.width && version.height ? { width: version.width, height: version.height } : undefined;
      const stored = storedPreview(version, frame);
      preview.value = stored && fileUrl(stored.id);
    }
    const own = ++opening;
    problem.value = whole.value = undefined;
    progress.value = { share: 0, text: 'Loading' };
    try {
      client ??= takePicture();
      openFrame = frame;
      await client.open(asked(version), frame, eventsOf(own));
    } catch (error) {
      if (own !== opening) return;
      problem.value = error instanceof Error ? error.message : String(error);
      if (error instanceof PictureClosedError) client = undefined;
    }
    progress.value = undefined;
  }

  const ask = async <Q extends Query>(query: Q, otherwise: Answers[Q['ask']]): Promise<Answers[Q['ask']]> => {
    if (!client) return otherwise;
    questions.value++;
    try {
      return await client.ask(query).catch(() => otherwise);
    } finally {
      questions.value--;
    }
  };

  return {
    versionId,
    opened,
    size,
    preview,
    cast,
    reading,
    progress,
    problem,
    outline,
    swatches,
    warnings,
    missing,
    failures,
    settledCount,
    rests,
    open,
    close,
    /** A member by layer and name. */
    member: (layer: string, name: string): Member | undefined => memberMaps.value.get(layer)?.get(name),
    setSink: (next: TileSink) => (sink = next),
    show: (view: ViewState) => client?.show(view, ++revision.value),
    /** Everything at a pixel; waits for `layer` if it is still coming. */
    probe: (x: number, y: number, layer?: string): Promise<Probe | undefined> =>
      ask({ ask: 'probe', x, y, layer }, undefined),
    membersAlong: (layer: string, x0: number, y0: number, x1: number, y1: number) =>
      ask({ ask: 'membersAlong', layer, x0, y0, x1, y1 }, []),
    /** A pass of the wall as a picture. */
    pass: (name: string, side: number, channel?: string): Promise<PassPicture | undefined> =>
      ask({ ask: 'pass', name, side, channel, layer: name }, undefined),
    passValues: (name: string, x: number, y: number) => ask({ ask: 'passValues', name, x, y }, []),
    /** Channels as the file holds them. */
    source: (channels: readonly string[], side: number) =>
      ask({ ask: 'source', channels: [...channels], side }, undefined),
    /** What a name is given to at a pixel of a pass without names. */
    roleKey: (role: RoleUse['role'], channels: readonly string[], x: number, y: number) =>
      ask({ ask: 'roleKey', role, channels: [...channels], x, y }, undefined),
    channelMask: (mask: ChannelMask, side: number) => ask({ ask: 'channelMask', mask, side }, undefined),
    thumbnail: (layer: string, id: number, width: number, height: number) =>
      ask({ ask: 'thumbnail', layer, id, width, height }, undefined),
    dimming: (layer: string, ids: number[], side: number) =>
      ask({ ask: 'dimming', layer, ids, side }, undefined),
    /** Another version against the open one; rejects with the reason if that cannot be opened. */
    compare: (version: Version, side: number) =>
      client!.ask({ ask: 'compare', version: asked(version), frame: openFrame, side }),
    memberOutline: (layer: string, ids: number[]): Promise<Float32Array> =>
      ask({ ask: 'memberOutline', layer, ids }, new Float32Array(0)),
    membersWithin: (layer: string, line: number[], which: 'inside' | 'touched') =>
      ask({ ask: 'membersWithin', layer, line, which }, []),
    membersByDepth: (layer: string, ids: number[], way: 'behind' | 'before') =>
      ask({ ask: 'membersByDepth', layer, ids, way }, []),
    coloursAlong: (query: Omit<Extract<Query, { ask: 'coloursAlong' }>, 'ask'>) =>
      ask({ ask: 'coloursAlong', ...query }, []),
    scope: (name: string, where: 'frame' | SamplePlace, most: number) =>
      ask({ ask: 'scope', name, where, most }, undefined),
    meanOf: (layer: string, ids: number[]) => ask({ ask: 'meanOf', layer, ids }, undefined),
    /** Of what a change picks in another version; rejects with the reason if that cannot be opened. */
    meanInVersion: (version: Version, change: ListedChange) =>
      client!.ask({ ask: 'meanInVersion', version: asked(version), frame: openFrame, change }),
    tried: (change: ListedChange, side: number) => ask({ ask: 'tried', change, side }, undefined),
    /** Rejects with the reason if the other version cannot be opened. */
    relink: (owners: Extract<Query, { ask: 'relink' }>['owners'], version: Version | undefined) =>
      client!.ask({ ask: 'relink', owners, version: version && asked(version), frame: openFrame }),
    /** The frame as other changes make it. */
    stateOf: (changes: ListedChange[], side: number) => ask({ ask: 'stateOf', changes, side }, undefined),
    /** Another frame as changes make it; undefined if that was given up for something else. Rejects if it cannot be had. */
    frameState: async (version: Version, frame: number, changes: ListedChange[], side: number) =>
      client?.ask({ ask: 'frameState', version: asked(version), frame, changes, side }),
    middleOf: (layer: string, member: string) => ask({ ask: 'middleOf', layer, member }, undefined),
    partBounds: (changeId: string) => ask({ ask: 'partBounds', changeId }, undefined),
    samples: (places: readonly SamplePlace[]) => ask({ ask: 'samples', places }, []),
    useTable: (table: CubeTable | undefined) => ask({ ask: 'useTable', table }, undefined),
    /** Reads a frame of another version to compare with; rejects with the reason if that cannot be. */
    readOther: (key: string, version: Version) =>
      client!.ask({ ask: 'readOther', key, version: asked(version), frame: openFrame }),
    layUnder: (data: Uint8ClampedArray | undefined) => ask({ ask: 'layUnder', data }, undefined),
  };
});
