import * as Comlink from 'comlink';
import { alone, crewOf, patched, type Crew, type Patch } from '@zesty-crow/core';
import { workerPort } from './hand-port.ts';
import type { PictureEvents, VersionFiles, ViewState } from './messages.ts';
import type { Answers, Query } from './queries/list.ts';
import { fileUrl } from '../server/api.ts';
import { fetchBytes, readBlob } from './fetch-bytes.ts';
import { PictureSession } from './session.ts';

/** Threads beside this one; more would not be fed. */
const MOST_HANDS = 7;

/** Where memory can be shared, as many threads as there are cores; this one counts. */
function makeCrew(): Crew {
  if (!self.crossOriginIsolated) return alone;
  const hands = Math.min(MOST_HANDS, navigator.hardwareConcurrency - 1);
  return crewOf(
    Array.from({ length: hands }, () =>
      workerPort(new Worker(new URL('./hand-worker.ts', import.meta.url), { type: 'module' })),
    ),
  );
}

const crew = makeCrew();
const session = new PictureSession({
  crew,
  read(file, onShare, signal) {
    const options = { allocate: (bytes: number) => crew.allocate(bytes), onShare, signal };
    return file.local ? readBlob(file.local, options) : fetchBytes(file.url, options);
  },
  readPicture: ({ file }, signal) =>
    fetchBytes(fileUrl(file), {
      allocate: (bytes) => crew.allocate(bytes),
      signal,
      onShare: () => undefined,
    }),
  async storedIndex(indexes, layer, frame, signal) {
    const query = new URLSearchParams({ layer, ...(frame === undefined ? {} : { frame: String(frame) }) });
    const response = await fetch(`${indexes}?${query}`, { signal });
    return response.status === 200 ? new Uint8Array(await response.arrayBuffer()) : undefined;
  },
});

/** Who hears the open frame; let go when another one is opened. */
let listener: Comlink.Remote<PictureEvents> | undefined;

/** Tells the page what the session tells, as long as it is heard. */
function toPage(events: Comlink.Remote<PictureEvents>): PictureEvents {
  const tell =
    <A extends unknown[]>(on: (...args: A) => void) =>
    (...args: A): void => {
      if (listener === events) on(...args);
    };
  return {
    progress: tell((share, text) => void events.progress(share, text)),
    opened: tell((opened) => void events.opened(opened)),
    layer: tell((layer) => void events.layer(layer)),
    layerFailed: tell((name, message) => void events.layerFailed(name, message)),
    tiles: tell(
      (surface, tiles) =>
        void events.tiles(
          surface,
          Comlink.transfer(
            tiles,
            tiles.map((t) => t.data.buffer),
          ),
        ),
    ),
    problem: tell((message) => void events.problem(message)),
    settled: tell((result) => void events.settled(result)),
    swatches: tell((swatches) => void events.swatches(swatches)),
    warnings: tell((counts) => void events.warnings(counts)),
    outline: tell(
      (segments) => void events.outline(Comlink.transfer(segments, [segments.buffer as ArrayBuffer])),
    ),
  };
}

/** The view as the page told it last. */
let view: ViewState | undefined;

const api = {
  open(
    version: VersionFiles,
    frame: number | undefined,
    events: Comlink.Remote<PictureEvents>,
  ): Promise<void> {
    listener?.[Comlink.releaseProxy]();
    listener = events;
    return session.open(version, frame, toPage(events));
  },
  /** @param patch what is different in the view; nothing if it is the same again */
  show(patch: Patch | undefined, revision: number): void {
    if (patch) view = patched(view, patch) as ViewState;
    if (view) session.show(view, revision);
  },
  ask: <Q extends Query>(query: Q): Promise<Answers[Q['ask']]> => session.ask(query),
};

export type PictureWorker = typeof api;
Comlink.expose(api);
