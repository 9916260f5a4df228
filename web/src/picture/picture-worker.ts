import * as Comlink from 'comlink';
import { alone, crewOf, type Crew } from '@zesty-crow/core';
import { workerPort } from './hand-port.ts';
import type { Answers, PictureEvents, Query, VersionFiles, ViewState } from './messages.ts';
import { fetchBytes } from './fetch-bytes.ts';
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
  read: (file, onShare, signal) =>
    fetchBytes(file.url, { allocate: (bytes) => crew.allocate(bytes), onShare, signal }),
  async storedIndex(indexes, layer, frame, signal) {
    const query = new URLSearchParams({ layer, ...(frame === undefined ? {} : { frame: String(frame) }) });
    const response = await fetch(`${indexes}?${query}`, { signal });
    return response.status === 200 ? new Uint8Array(await response.arrayBuffer()) : undefined;
  },
});

const api = {
  open: (
    version: VersionFiles,
    frame: number | undefined,
    events: Comlink.Remote<PictureEvents>,
  ): Promise<void> =>
    session.open(version, frame, {
      progress: (share, text) => void events.progress(share, text),
      opened: (opened) => void events.opened(opened),
      layer: (layer) => void events.layer(layer),
      layerFailed: (name, message) => void events.layerFailed(name, message),
      tiles: (surface, tiles) =>
        void events.tiles(
          surface,
          Comlink.transfer(
            tiles,
            tiles.map((t) => t.data.buffer),
          ),
        ),
      problem: (message) => void events.problem(message),
      settled: (result) => void events.settled(result),
      swatches: (swatches) => void events.swatches(swatches),
      outline: (segments) =>
        void events.outline(Comlink.transfer(segments, [segments.buffer as ArrayBuffer])),
    }),
  show: (view: ViewState): void => session.show(view),
  ask: <Q extends Query>(query: Q): Promise<Answers[Q['ask']]> => session.ask(query),
};

export type PictureWorker = typeof api;
Comlink.expose(api);
