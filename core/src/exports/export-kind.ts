import type { ChangeList } from '../changes/change.ts';
import type { ListState } from '../changes/listed.ts';
import type { PictureValue } from '../fields/field.ts';
import type { Crew } from '../crew/work.ts';
import { VersionError } from '../version/version-error.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import type { WriteOptions } from '../formats/exr/write.ts';

/** What is wanted of an opened frame: a list in one of its states. */
export interface ExportRequest extends ListState {
  list: ChangeList;
  /** The change whose mask is meant; exports of pictures do not need it. */
  changeId?: string | undefined;
}

/** What an export is written with. */
export interface ExportEnv extends Pick<WriteOptions, 'zlib'> {
  crew?: Crew;
  signal?: AbortSignal;
  /** Bytes of a picture file that the changes lay into the picture. */
  readPicture?: (picture: PictureValue) => Promise<Uint8Array>;
  /** Memory that opening one of those may need, in bytes. */
  maxMemory?: number;
  /** Told what the artist should know about the file, a sentence at a time. */
  onNote?: (note: string) => void;
  /** Share of the computation that is done, 0 to 1. */
  onProgress?: (done: number) => void;
}

/** One kind of file that leaves the house: one file in `kinds/`, and one line in `registry.ts`. */
export interface ExportKind {
  kind: string;
  label: string;
  /** One line on what is in it. */
  note: string;
  /** Of the whole picture, or of one change that has to be chosen. */
  of: 'picture' | 'change';
  ending: 'exr' | 'png';
  mediaType: string;
  /** Computes and writes it at full resolution. Rejects with VersionError where there is nothing of the kind. */
  write(open: OpenPicture, request: ExportRequest, env: ExportEnv): Promise<Uint8Array>;
}

export const EXR = { ending: 'exr', mediaType: 'image/x-exr' } as const;
export const PNG = { ending: 'png', mediaType: 'image/png' } as const;

/** There is a picture to correct; throws VersionError otherwise. */
export function needPicture(open: OpenPicture): void {
  if (!open.beauty) throw new VersionError('This version holds no picture, only data passes.');
}
