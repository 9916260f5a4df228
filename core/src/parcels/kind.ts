import type { ListState } from '../changes/listed.ts';
import type { ChangeList } from '../changes/change.ts';
import type { ExportEnv } from '../exports/export-kind.ts';
import type { Field, FieldValue } from '../fields/field.ts';
import type { Plan } from '../plan/plan.ts';
import type { SceneFile } from '../scene/open.ts';
import type { Frame } from '../version/frame.ts';
import type { OpenPicture } from '../version/open-picture.ts';

/** A frame of which something is handed over. */
export interface ParcelFrame {
  frame: Frame;
  /** Another frame of the version. */
  at(number: number): Promise<Frame>;
  /** All of its channels; read once. */
  open(): Promise<OpenPicture>;
}

/** What is wanted of it: a list in one of its states, and every setting of the kind. */
export interface ParcelRequest extends ListState {
  list: ChangeList;
  settings: Readonly<Record<string, FieldValue>>;
  /** What the shot is called and which version it is, for papers. */
  shot: string;
  version: number;
  /** Every frame that the parcel is of; none for a single picture. */
  frames: readonly number[];
}

/** A file that was made. */
export interface MadeFile {
  /** What of the frame it is, for its name; empty for the whole of it. */
  part: string;
  /** With its dot. */
  ending: string;
  /** The frame that it is of, where that is another one than the parcel's own at the moment. */
  frame?: number;
  mediaType: string;
  bytes: Uint8Array;
  /** Reads it again, and tells what is not as it was computed; empty if all is. */
  verify(): Promise<string> | string;
}

/** What papers are made with. */
export interface Paper {
  /** TrueType fonts. */
  plain: Uint8Array;
  bold: Uint8Array;
  /** Draws an SVG, its text in these fonts, as a PNG. */
  draw(svg: string): Uint8Array;
}

export interface ParcelEnv extends ExportEnv {
  paper: () => Promise<Paper>;
  /** The scene that the shot was rendered from, with its plan; undefined where it has none. */
  readScene?: () => Promise<{ file: SceneFile; plan: Plan } | undefined>;
}

/** One kind of parcel: one file in `kinds/`, and one line in `registry.ts`. */
export interface ParcelKind {
  kind: string;
  label: string;
  /** What it is for, in a line. */
  hint: string;
  /** Raised whenever its numbers are mended, so that files which were made before are made again; 2 the first time. */
  revision?: number;
  fields: readonly Field[];
  /** Whether it is another one for each variant. */
  varies: boolean;
  /** What of the change list it is made from: changes that are on, all of them, their masks, the list with its variants, none of it but the scene, or nothing. */
  reads: 'applied' | 'changes' | 'masks' | 'list' | 'scene' | 'nothing';
  /** Whether it is made of the picture, so that a version of passes alone has none. */
  ofPicture: boolean;
  /** Whether there is one for each frame, one of the whole shot made of its first frame, or one that goes over all of them. */
  per: 'frame' | 'shot' | 'all frames';
  /** Of one of the whole shot: the frames that it tells of, among those that are chosen; the first one by default. */
  tells?(request: Pick<ParcelRequest, 'list' | 'settings' | 'frames'>): readonly number[];
  /** Names of the parts that its files will have, as far as they are known before. */
  parts(
    request: Pick<ParcelRequest, 'list' | 'settings' | 'variant' | 'frames'>,
  ): Pick<MadeFile, 'part' | 'ending' | 'frame'>[];
  /** About how many bytes a file takes for each pixel, for an estimate. */
  bytesPerPixel(settings: ParcelRequest['settings']): number;
  /** Computes and writes it at full resolution. Rejects with VersionError where there is nothing of the kind. */
  make(frame: ParcelFrame, request: ParcelRequest, env: ParcelEnv): Promise<MadeFile[]>;
}
