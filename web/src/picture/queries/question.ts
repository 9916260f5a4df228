import type {
  CastLayer,
  ChangeStack,
  Crew,
  CubeTable,
  DisplayUse,
  Frame,
  IdIndex,
  ListedChange,
  PictureValue,
} from '@zesty-crow/core';
import type { VersionFiles, ViewState } from '../messages.ts';
import type { OpenFrame } from '../open-frame.ts';

/** What a session lets its questions use. */
export interface Desk {
  open: OpenFrame;
  view(): ViewState;
  display(): DisplayUse;
  crew: Crew;
  /** Ends when the frame is closed. */
  signal: AbortSignal;
  /** Planes of channels under a name, kept for the next question. */
  planesOf(name: string, channels: readonly string[]): Promise<Float32Array[]>;
  /** Resolves when another ID layer is there, or will not come. */
  nextLayer(): Promise<void>;
  /** Reads what corrections of these changes read. */
  readPasses(changes: ViewState['changes']): Promise<void>;
  /** Opens a frame that is not on the screen. */
  openFrame(version: VersionFiles, frame: number | undefined, signal: AbortSignal): Promise<Frame>;
  storedIndex(
    version: VersionFiles,
    layer: string,
    number: number | undefined,
    frame: Frame,
    signal: AbortSignal,
  ): Promise<IdIndex | undefined>;
  readPicture: ((picture: PictureValue, signal: AbortSignal) => Promise<Uint8Array>) | undefined;
  /** Does something beside the picture, one after the other, once there is nothing to do for that. */
  aside<T>(work: () => Promise<T>): Promise<T | undefined>;
  /** The same for nobody who waits: whatever else is to be done ends it, with undefined. */
  inBackground<T>(work: (signal: AbortSignal) => Promise<T>): Promise<T | undefined>;
  /** Computes another state of the open picture. */
  computeBeside(stack: ChangeStack, changes: ListedChange[]): Promise<void>;
  /** Reads another version's frame to be compared with under a key. */
  readOther(key: string, frame: Frame): Promise<void>;
  useTable(table: CubeTable | undefined): void;
  layUnder(data: Uint8ClampedArray | undefined): void;
}

/** One kind of question about the open frame. */
export interface Question<Q extends { layer?: string | undefined }, A> {
  /** The answer where no frame is open, or the layer that it asks for is none of its layers. */
  none: A;
  answer(desk: Desk, query: Q): A | Promise<A>;
}

/** A question that needs an ID layer: it waits for it. */
export interface LayerQuestion<Q extends { layer: string }, A> {
  none: A;
  answerFrom(layer: CastLayer, desk: Desk, query: Q): A | Promise<A>;
}

/** A question of a layer as a question of the frame. */
export const ofLayer = <Q extends { layer: string }, A>({
  none,
  answerFrom,
}: LayerQuestion<Q, A>): Question<Q, A> => ({
  none,
  answer(desk, query) {
    const layer = desk.open.cast.find((l) => l.name === query.layer);
    return layer ? answerFrom(layer, desk, query) : none;
  },
});

/** Waits until these layers are there, or will not come. */
export async function layersThere(desk: Desk, names: readonly string[]): Promise<void> {
  for (const name of names) while (desk.open.coming.has(name)) await desk.nextLayer();
}
