import * as Comlink from 'comlink';
import {
  ChangeStack,
  contourSegments,
  displayByte,
  openFrame,
  tileBounds,
  viewCutOut,
  viewIds,
  viewMask,
  viewPicture,
  type CastLayer,
  type Change,
  type OpenPicture,
} from '@zesty-crow/core';
import type {
  LookSettings,
  Opened,
  PictureFile,
  Probe,
  Reports,
  ShownTile,
  Surface,
  Swatches,
} from './messages.ts';

const WORDS = { loading: 'Loading', decoding: 'Decoding', indexing: 'Indexing IDs' } as const;
/** Memory that a frame may need in a page, in bytes. */
const MOST_MEMORY = 3 * 2 ** 30;
/** Opacity, of 255, of the black over what is not picked. */
const DIMMED = 115;
/** Work between two looks at the message queue, in milliseconds. */
const SLICE = 12;

let open: OpenPicture | undefined;
let stack: ChangeStack | undefined;
let reports: Comlink.Remote<Reports> | undefined;
let settings: LookSettings = { look: 'picture', stops: 0, layer: undefined, openChange: undefined };
/** Tiles to compute, and tiles to send to each surface. */
let toCompute = new Uint8Array(0);
const toShow: Record<Surface, Uint8Array> = { view: toCompute, before: toCompute, dim: toCompute };
let pumping = false;
let dimmed = new Uint8Array(0);
let begun = 0;

/** Lets waiting messages in. A message channel is not slowed down in the background as timers are. */
const breathe = () =>
  new Promise<void>((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });

async function fetchBytes(url: string, onShare: (share: number) => void): Promise<Uint8Array> {
  const response = await fetch(url);
  if (!response.ok || !response.body) throw new Error('The file could not be loaded from the server.');
  const size = Number(response.headers.get('content-length'));
  const bytes = new Uint8Array(size);
  let at = 0;
  const reader = response.body.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    bytes.set(value, at);
    at += value.length;
    onShare(at / size);
  }
  if (at !== size) throw new Error('The file arrived incomplete. Reload the page.');
  return bytes;
}

function show(surface: Surface, tile: number): ShownTile {
  const { width, height } = open!;
  const area = tileBounds(tile, stack!.tilesX, width, height);
  const mask = settings.openChange ? stack!.mask(settings.openChange) : undefined;
  const coverage = mask?.coverage ?? new Float32Array(0);
  const layer = open!.cast.find((l) => l.name === settings.layer);
  let data: Uint8ClampedArray<ArrayBuffer>;
  if (surface === 'before') data = viewPicture(stack!.source, area, settings.stops);
  else if (surface === 'dim') {
    data = new Uint8ClampedArray((area.x1 - area.x0) * (area.y1 - area.y0) * 4);
    let at = 3;
    for (let y = area.y0; y < area.y1; y++)
      for (let p = y * width + area.x0, end = p + area.x1 - area.x0; p < end; p++, at += 4)
        data[at] = DIMMED * (1 - Math.min(1, coverage[p] ?? 0));
  } else if (settings.look === 'mask') data = viewMask(coverage, width, area);
  else if (settings.look === 'cutout') data = viewCutOut(stack!.result, coverage, area, settings.stops);
  else if (settings.look === 'ids' && layer) data = viewIds(layer.index.planes, area);
  else data = viewPicture(stack!.result, area, settings.stops);
  return { x: area.x0, y: area.y0, width: area.x1 - area.x0, height: area.y1 - area.y0, data };
}

/** Computes and sends what is due, a slice at a time, until nothing is. */
async function pump(): Promise<void> {
  if (pumping || !stack) return;
  pumping = true;
  while (
    toCompute.includes(1) ||
    toShow.view.includes(1) ||
    toShow.before.includes(1) ||
    toShow.dim.includes(1)
  ) {
    const until = performance.now() + SLICE;
    const ready: Record<Surface, ShownTile[]> = { view: [], before: [], dim: [] };
    for (let t = 0; t < toCompute.length && performance.now() < until; t++) {
      if (toCompute[t]) {
        toCompute[t] = 0;
        stack.renderTile(t);
        toShow.view[t] = 1;
      }
      for (const surface of ['view', 'before', 'dim'] as const)
        if (toShow[surface][t]) {
          toShow[surface][t] = 0;
          ready[surface].push(show(surface, t));
        }
    }
    for (const surface of ['view', 'before', 'dim'] as const)
      if (ready[surface].length)
        void reports!.tiles(
          surface,
          Comlink.transfer(
            ready[surface],
            ready[surface].map((tile) => tile.data.buffer),
          ),
        );
    await breathe();
  }
  pumping = false;
  settle();
}

const css = (rgb: readonly number[]) => `rgb(${rgb.map((v) => Math.round(displayByte(v))).join(' ')})`;
let changes: readonly Change[] = [];

function settle(): void {
  const swatches: Swatches = {};
  const missing: { [id: string]: number } = {};
  for (const change of changes) {
    const pair = stack!.swatches(change.id);
    swatches[change.id] = pair && { before: css(pair.before), after: css(pair.after) };
    const lost = stack!.mask(change.id)?.missing.length ?? 0;
    if (lost) missing[change.id] = lost;
  }
  void reports!.settled({ swatches, missing, milliseconds: performance.now() - begun });
}

function outlineOf(coverage: Float32Array | undefined, tiles: Uint8Array | undefined): Float32Array {
  if (!coverage?.length || !tiles || !open || !stack) return new Float32Array(0);
  let x0 = Infinity;
  let y0 = Infinity;
  let x1 = 0;
  let y1 = 0;
  for (let t = 0; t < tiles.length; t++) {
    if (!tiles[t]) continue;
    const b = tileBounds(t, stack.tilesX, open.width, open.height);
    x0 = Math.min(x0, b.x0);
    y0 = Math.min(y0, b.y0);
    x1 = Math.max(x1, b.x1);
    y1 = Math.max(y1, b.y1);
  }
  if (x1 <= x0) return new Float32Array(0);
  const w = x1 - x0;
  const part = new Float32Array(w * (y1 - y0));
  for (let y = y0; y < y1; y++)
    part.set(coverage.subarray(y * open.width + x0, y * open.width + x1), (y - y0) * w);
  const segments = contourSegments(part, w, y1 - y0);
  for (let i = 0; i < segments.length; i += 2) {
    segments[i]! += x0;
    segments[i + 1]! += y0;
  }
  return segments;
}

function sendOutline(): void {
  const mask = settings.openChange ? stack?.mask(settings.openChange) : undefined;
  const segments = outlineOf(mask?.coverage, mask?.tiles);
  void reports!.outline(Comlink.transfer(segments, [segments.buffer as ArrayBuffer]));
}

/** Marks what the open change's mask covers now or covered before, so that dimming follows it. */
function dimAgain(): void {
  const tiles = settings.openChange ? stack!.mask(settings.openChange)?.tiles : undefined;
  for (let t = 0; t < toShow.dim.length; t++) if (tiles?.[t] || dimmed[t]) toShow.dim[t] = 1;
  dimmed = tiles ? tiles.slice() : new Uint8Array(dimmed.length);
  if (settings.look === 'mask' || settings.look === 'cutout') toShow.view.fill(1);
  sendOutline();
}

const layerNamed = (name: string): CastLayer | undefined => open?.cast.find((l) => l.name === name);

/** Names of members by layer and ID, for looking up what lies under the pointer. */
const names = new Map<string, Map<number, string>>();

function idsAt(layer: CastLayer, p: number): { id: number; name: string; coverage: number }[] {
  const { ids, coverage } = layer.index.planes;
  const found: { id: number; name: string; coverage: number }[] = [];
  for (let rank = 0; rank < ids.length; rank++) {
    const c = coverage[rank]![p]!;
    const id = ids[rank]![p]!;
    if (!(c > 0) || id === 0) continue;
    const again = found.find((f) => f.id === id);
    if (again) again.coverage += c;
    else found.push({ id, name: names.get(layer.name)!.get(id) ?? '', coverage: c });
  }
  return found.sort((a, b) => b.coverage - a.coverage);
}

const api = {
  /** Loads and decodes a frame of a version, the first one by default. */
  async open(
    files: PictureFile[],
    frame: number | undefined,
    remote: Comlink.Remote<Reports>,
  ): Promise<Opened> {
    reports = remote;
    let told = 0;
    open = await openFrame(files, frame, ({ url }, onShare) => fetchBytes(url, onShare), {
      maxMemory: MOST_MEMORY,
      onProgress: (share, what) => {
        if (performance.now() - told < 60 && what !== 'indexing') return;
        told = performance.now();
        void remote.progress(share, WORDS[what]);
      },
    });
    stack = new ChangeStack(open.planes, open.cast);
    const count = stack.tilesX * stack.tilesY;
    toCompute = new Uint8Array(count);
    dimmed = new Uint8Array(count);
    for (const surface of ['view', 'before', 'dim'] as const) toShow[surface] = new Uint8Array(count).fill(1);
    names.clear();
    for (const layer of open.cast) names.set(layer.name, new Map(layer.members.map((m) => [m.id, m.name])));
    return {
      width: open.width,
      height: open.height,
      dataWindow: open.image.header.dataWindow,
      displayWindow: open.image.header.displayWindow,
      hasPicture: open.beauty !== undefined,
      cast: open.cast.map(({ name, family, members, unseen }) => ({ name, family, members, unseen })),
      findings: open.findings,
    };
  },

  /** Takes the change list as it is now; `edited` is the change that is being worked on. */
  setChanges(list: Change[], edited: string | undefined): void {
    if (!stack) return;
    begun = performance.now();
    const before = changes.find((c) => c.id === settings.openChange)?.who;
    changes = list;
    for (const tile of stack.update(list, edited)) toCompute[tile] = 1;
    const now = list.find((c) => c.id === settings.openChange)?.who;
    if (JSON.stringify(before) !== JSON.stringify(now)) dimAgain();
    void pump();
  },

  setLook(next: LookSettings): void {
    const last = settings;
    settings = next;
    if (!stack) return;
    if (last.look !== next.look || last.stops !== next.stops || last.layer !== next.layer)
      toShow.view.fill(1);
    if (last.stops !== next.stops) toShow.before.fill(1);
    if (last.openChange !== next.openChange) dimAgain();
    void pump();
  },

  probe(x: number, y: number): Probe | undefined {
    if (!open || !stack || x < 0 || y < 0 || x >= open.width || y >= open.height) return undefined;
    const p = y * open.width + x;
    const at = ({
      r,
      g,
      b,
    }: {
      r: Float32Array;
      g: Float32Array;
      b: Float32Array;
    }): [number, number, number] => [r[p]!, g[p]!, b[p]!];
    return {
      x,
      y,
      before: at(stack.source),
      after: at(stack.result),
      layers: open.cast.map((layer) => ({ layer: layer.name, ids: idsAt(layer, p) })),
      mask: (settings.openChange ? stack.mask(settings.openChange)?.coverage[p] : 0) ?? 0,
    };
  },

  /** Members with the largest coverage on the pixels along a line. */
  membersAlong(
    layerName: string,
    x0: number,
    y0: number,
    x1: number,
    y1: number,
  ): { id: number; name: string }[] {
    const layer = layerNamed(layerName);
    if (!open || !layer) return [];
    const steps = Math.max(1, Math.ceil(Math.hypot(x1 - x0, y1 - y0)));
    const found = new Map<number, string>();
    for (let i = 0; i <= steps; i++) {
      const x = Math.floor(x0 + ((x1 - x0) * i) / steps);
      const y = Math.floor(y0 + ((y1 - y0) * i) / steps);
      if (x < 0 || y < 0 || x >= open.width || y >= open.height) continue;
      const top = idsAt(layer, y * open.width + x)[0];
      if (top) found.set(top.id, top.name);
    }
    return [...found].map(([id, name]) => ({ id, name }));
  },

  /** Outline of one member, for showing what a click would take. */
  memberOutline(layerName: string, id: number): Float32Array {
    const index = layerNamed(layerName)?.index;
    const slot = index?.slotOf.get(id);
    if (!index || slot === undefined || !open) return new Float32Array(0);
    const { width } = open;
    let x0 = Infinity;
    let y0 = Infinity;
    let x1 = 0;
    let y1 = 0;
    for (let k = index.start[slot]!; k < index.start[slot + 1]!; k++) {
      const x = index.pixels[k]! % width;
      const y = (index.pixels[k]! - x) / width;
      x0 = Math.min(x0, x);
      x1 = Math.max(x1, x);
      y0 = Math.min(y0, y);
      y1 = Math.max(y1, y);
    }
    const w = x1 - x0 + 1;
    const part = new Float32Array(w * (y1 - y0 + 1));
    for (let k = index.start[slot]!; k < index.start[slot + 1]!; k++) {
      const x = index.pixels[k]! % width;
      part[((index.pixels[k]! - x) / width - y0) * w + x - x0]! += index.coverage[k]!;
    }
    const segments = contourSegments(part, w, y1 - y0 + 1);
    for (let i = 0; i < segments.length; i += 2) {
      segments[i]! += x0;
      segments[i + 1]! += y0;
    }
    return Comlink.transfer(segments, [segments.buffer as ArrayBuffer]);
  },
};

export type PictureWorker = typeof api;
Comlink.expose(api);
