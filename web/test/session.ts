import { alone, readExr, writeExr, type Crew } from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import type {
  CastSummary,
  Opened,
  PictureEvents,
  PictureFile,
  SampleValues,
  ShownTile,
  ViewState,
} from '../src/picture/messages.ts';
import type { SessionEnv } from '../src/picture/loading/frame-loader.ts';
import { PictureSession } from '../src/picture/session.ts';

export const file = (name: string, frame: number | null = null): PictureFile => ({
  role: 'picture',
  name,
  frame,
  url: name,
});
/** A view of the picture, plain but for what is said. */
export const view = (more: Partial<ViewState> = {}): ViewState => ({
  changes: [],
  openChange: undefined,
  mode: 'picture',
  display: { stops: 0, gamma: 1, transform: 'srgb' },
  against: { kind: 'rendered' },
  gain: 4,
  warnings: [],
  layer: 'CryptoObject',
  limitOf: undefined,
  ground: 'chequers',
  wanted: { before: false, dim: false, mask: false, outline: true, warn: false },
  visible: undefined,
  scale: 1,
  ...more,
});

/** A session with all that it tells. */
export function sessionOf(files: Record<string, Uint8Array>, env: Partial<SessionEnv> = {}) {
  const crew: Crew = env.crew ?? alone;
  const told = {
    opened: [] as Opened[],
    layers: [] as CastSummary[],
    failed: [] as string[],
    tiles: new Map<string, ShownTile>(),
    order: [] as string[],
    settled: 0,
    /** Tiles that were sent. */
    sent: 0,
    /** How long each outline was. */
    outlines: [] as number[],
    warnings: [] as Record<string, number>[],
    failures: [] as unknown[],
    swatches: {} as object,
  };
  const events: PictureEvents = {
    progress: () => undefined,
    opened(o) {
      told.opened.push(o);
      told.order.push('opened');
    },
    layer(l) {
      told.layers.push(l);
      told.order.push(l.name);
    },
    layerFailed: (name) => void told.failed.push(name),
    tiles(surface, tiles) {
      told.order.push(surface);
      for (const t of tiles) {
        told.tiles.set(`${surface} ${t.tile} ${t.halvings}`, t);
        told.sent++;
      }
    },
    settled(result) {
      told.settled++;
      told.failures = result.failures;
    },
    problem: (message) => void told.failed.push(message),
    swatches: (swatches) => void (told.swatches = swatches),
    warnings: (counts) => void told.warnings.push(counts),
    outline: (segments) => void told.outlines.push(segments.length),
  };
  const session = new PictureSession({
    read: async ({ url }) => {
      const bytes = new Uint8Array(crew.allocate(files[url]!.length));
      bytes.set(files[url]!);
      return bytes;
    },
    ...env,
  });
  /** Waits until something was computed and nothing has been told for a while; rejects if that does not come. */
  const rest = async () => {
    let [quiet, last] = [0, ''];
    for (let i = 0; told.settled === 0 || session.busy || quiet < 8; i++) {
      if (i === 3000) throw new Error(`The session does not come to rest: ${last}`);
      await new Promise((r) => setTimeout(r, 10));
      const now = `${told.sent} ${told.settled} ${told.layers.length} ${told.failed.length}`;
      quiet = now === last ? quiet + 1 : 0;
      last = now;
    }
  };
  return { session, events, told, rest };
}

/** The same picture with its own channels in 32-bit float, a little off what a half can hold. */
export function floatCopy(bytes: Uint8Array): Uint8Array {
  const image = readExr(bytes);
  const channels = image.channels.map((c) =>
    c.type === 'half'
      ? {
          ...c,
          type: 'float' as const,
          data: Float32Array.from(c.data as Uint16Array, (_, p) => 0.1 + ((p * 2654435761) % 1000) / 997),
        }
      : c,
  );
  return writeExr({ ...image.header, channels }, { zlib: nodeZlib });
}

/** True if a sample is another one after corrections. */
export const changed = (sample: NonNullable<SampleValues>): boolean =>
  sample.after.some((v, k) => v !== sample.before[k]);
