import type {
  Area,
  Box2i,
  CutOutGround,
  DisplayTable,
  DisplayUse,
  Family,
  Finding,
  Heading,
  Interpretation,
  ListedChange,
  MaskPart,
  PictureChoice,
  RoleRow,
  Size,
  WallPass,
} from '@zesty-crow/core';

/** How the picture is looked at. */
export type ModeName = 'picture' | 'ids' | 'mask' | 'cutout' | 'difference';

/** What the picture is compared with: as rendered, without the open change or with one only, another version or variant. */
export type Against =
  | { kind: 'rendered' }
  | { kind: 'without' }
  | { kind: 'only'; changeId: string }
  /** Another version, as rendered or with the same changes on. */
  | { kind: 'version'; key: string; changed?: boolean }
  /** The changes with other values, that are told beside. */
  | { kind: 'variant'; key: string };

/** How the picture is shown, but for the numbers of a table, which are told once. */
export type ViewDisplay = Omit<DisplayUse, 'table'> & { table?: DisplayTable['takes'] | undefined };

/** A member as the interface lists it. */
export interface Member {
  name: string;
  id: number;
  coverage: number;
  pixels: number;
}

export interface CastSummary {
  name: string;
  family: Family;
  members: Member[];
  /** Names that are not seen in this frame. */
  unseen: string[];
}

/** A file of a version, and where it is to be had. */
export interface PictureFile {
  role: string;
  name: string;
  frame: number | null;
  url: string;
  /** Where the page has the file itself. */
  local?: Blob;
}

/** A version as a session opens it. */
export interface VersionFiles {
  files: readonly PictureFile[];
  /** Where stored ID indexes are to be had; absent where there are none. */
  indexes?: string;
  /** What the artist knows better than the files tell. */
  interpretation?: Interpretation;
}

/** What a frame is, told as soon as its files are there. */
export interface Opened extends Size {
  dataWindow: Box2i;
  displayWindow: Box2i;
  hasPicture: boolean;
  /** ID layers that can be picked from, in the order of the file; their members follow. */
  layers: string[];
  /** Names of the other passes that corrections may read. */
  passes: string[];
  /** Whether the frame tells how far away things are. */
  hasDepth: boolean;
  /** What the primaries of the picture are called, and how its colours become those of the screen, if they are not. */
  primaries: string;
  toScreen: readonly (readonly number[])[] | undefined;
  /** Chromaticity of its white, where that is not D65. */
  white: readonly [number, number] | undefined;
  /** Every pass of the frame, also the picture and the ID layers. */
  wall: WallPass[];
  /** Which layers the picture is made of, and why; and all that it could be made of. */
  choice: PictureChoice;
  colourLayers: string[];
  /** Layers that could be ID passes without names of their own, and what they are. */
  roles: readonly RoleRow[];
  /** All channels of the frame, by name. */
  channels: string[];
  findings: Finding[];
}

/** Everything at one pixel. */
export interface Probe {
  x: number;
  y: number;
  /** Scene-linear values before and after corrections. */
  before: [number, number, number];
  after: [number, number, number];
  /** For each layer the IDs there, largest coverage first. */
  layers: { layer: string; ids: { id: number; name: string; coverage: number }[] }[];
  /** Coverage of the open change's mask. */
  mask: number;
}

/** A tile as RGBA bytes for the screen. */
export interface ShownTile {
  /** Its number, row by row. */
  tile: number;
  /** How often its side was halved. */
  halvings: number;
  /** Sizes that the screen has of it, and that still hold: a bit for each number of halvings. */
  known: number;
  data: Uint8ClampedArray<ArrayBuffer>;
}

/**
 * What is on the screen: `view` is the corrected picture or another mode of view, `before` what it is compared with, `mask` the
 * open change's mask beside the picture, `warn` marks over it.
 */
export type Surface = 'view' | 'before' | 'dim' | 'mask' | 'warn';

/** All that decides what is on the screen; a new one replaces the one before. */
export interface ViewState {
  /** As they are applied, with what they stand under. */
  changes: ListedChange[];
  /** The open change: its mask is shown and outlined, and its values may be moved. */
  openChange: string | undefined;
  /** The heading whose id that is, if it is none of a change: its mask is shown. */
  openHeading?: Heading | undefined;
  mode: ModeName;
  display: ViewDisplay;
  /** What before is. */
  against: Against;
  /** The changes of the variant that is before. */
  othersChanges?: ListedChange[] | undefined;
  /** How many times as large differences are shown. */
  gain: number;
  /** Names of the warnings that are marked. */
  warnings: readonly string[];
  /** The ID layer whose map is shown. */
  layer: string | undefined;
  /** The correction of the open change whose limit is shown with its mask. */
  limitOf: string | undefined;
  /** What cut-outs lie on. */
  ground: CutOutGround;
  /** Surfaces that are wanted beside the picture, and the outline of the mask. */
  wanted: { before: boolean; dim: boolean; mask: boolean; outline: boolean; warn: boolean };
  /** The part of the picture that is on the screen, in its pixels: it is computed first. */
  visible: Area | undefined;
  /** Screen pixels a picture pixel: tiles and outlines are made as fine as they are seen. */
  scale: number;
}

export interface Swatches {
  [changeId: string]:
    | {
        before: string;
        after: string;
        /** Scene-linear Rec. 709, of what is not shared at the edge. */
        mean: readonly [number, number, number];
        /** What its mask covers, small. */
        pictures?: { before: PassPicture; after: PassPicture; mask: PassPicture } | undefined;
      }
    | undefined;
}

/** A correction that could not be computed. */
export interface Failure {
  changeId: string;
  kind: string;
  message: string;
}

/** What a session tells without being asked. */
export interface PictureEvents {
  progress(share: number, text: string): void;
  /** Size and layers are known; the picture's own pixels follow. */
  opened(opened: Opened): void;
  /** Members of one ID layer are known: it can be picked from. */
  layer(layer: CastSummary): void;
  /** A layer will not come. */
  layerFailed(name: string, message: string): void;
  tiles(surface: Surface, tiles: ShownTile[]): void;
  /** Computing has failed as a whole; the message is for people. */
  problem(message: string): void;
  /** All that was asked for has been computed, but perhaps for the edges of masks. */
  settled(result: {
    missing: { [changeId: string]: number };
    failures: Failure[];
    milliseconds: number;
    /** Number of the view that this was computed for. */
    revision: number;
    /** Nothing more will come by itself: no edges, no layers, no passes. */
    whole: boolean;
  }): void;
  /** Mean colours under the masks, once nothing has moved for a moment. */
  swatches(swatches: Swatches): void;
  outline(segments: Float32Array): void;
  /** How many pixels each wanted warning concerns, once nothing has moved for a moment. */
  warnings(counts: Record<string, number>): void;
}

/** Where values are read: a square of pixels around one, or all that a change's mask covers. */
export type SamplePlace = { x: number; y: number; side: number } | { changeId: string };

/** Means there, scene-linear in the picture's primaries. */
export type SampleValues = { before: [number, number, number]; after: [number, number, number] } | undefined;

/** A frame as its changes make it, small, and what each change's mask covers there. */
export interface FrameState {
  picture: PassPicture;
  parts: { [changeId: string]: MaskPart };
}

/** A pass as it can be looked at. */
export interface PassPicture {
  width: number;
  height: number;
  data: Uint8ClampedArray<ArrayBuffer>;
  /** The values shown as black and white, where they were found. */
  range?: { from: number; to: number };
  /** Of an ID layer: what its ranks are needed for, in a sentence. */
  ranks?: string;
  /** And how many pixels need 2, 4, 6 … of them. */
  rankCounts?: string;
}
