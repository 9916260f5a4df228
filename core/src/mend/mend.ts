import type { Mending } from '../findings/finding.ts';
import type { ExrAttribute, ExrChannel, ExrHeader } from '../formats/exr/types.ts';

/** A part of a file that is mended: what it holds, with the names that its channels have in the file. */
export interface MendPart {
  header: ExrHeader;
  channels: ExrChannel[];
}

/** What a kind of mending is told beside the part itself. */
export interface MendTask {
  mending: Mending;
  /** Names in the file of the channels that the kind has asked for, in its order. */
  names: readonly string[];
  width: number;
  height: number;
}

/** A part after it was mended; what is absent is as it was. */
export interface Mended {
  channels: ExrChannel[];
  attributes?: ExrAttribute[];
}

/**
 * A way to mend a file: one file a kind, and one line in `registry.ts`. It gets a part with all of its channels and gives
 * it back changed; who calls it writes a new file of it and keeps the old one.
 */
export interface MendKind {
  what: string;
  /** What was done, in a sentence about a file. */
  done: string;
  /** True if its channels are light: values made for a screen are brought to light before. */
  light?: boolean;
  /** Channels of the frame that it needs, in one part of a file. */
  channels(mending: Mending, header: Pick<ExrHeader, 'channels' | 'attributes'>): string[];
  apply(part: MendPart, task: MendTask): Mended;
}

/** Thrown if something cannot be mended; the message is for people. */
export class MendError extends Error {
  override name = 'MendError';
}
