import type {
  Area,
  Axis,
  Box2i,
  ChannelMask,
  Counts,
  CubeTable,
  CutOutGround,
  DisplayTable,
  DisplayUse,
  Comparison,
  Family,
  Finding,
  Heading,
  Interpretation,
  ListedChange,
  MemberPick,
  MaskPart,
  PictureChoice,
  Point,
  RelinkReport,
  RoleRow,
  RoleUse,
  Size,
  Spread,
  WallPass,
} from '@zesty-crow/core';

/** How the picture is looked at. */
export type Look = 'picture' | 'ids' | 'mask' | 'cutout' | 'difference';

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
 * What is on the screen: `view` is the corrected picture or another look, `before` what it is compared with, `mask` the
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
  look: Look;
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

/** A question about the open frame. Those that need an ID layer wait for it. */
export type Query =
  | {
      ask: 'probe';
      x: number;
      y: number;
      /** Waited for, if it is still coming. */ layer?: string | undefined;
    }
  | { ask: 'membersAlong'; layer: string; x0: number; y0: number; x1: number; y1: number }
  /** Members inside a closed line of x, y, x, y … in pixels, or touched by it. */
  | { ask: 'membersWithin'; layer: string; line: number[]; which: 'inside' | 'touched' }
  /** Members behind some others, or before them, by the version's depth. */
  | { ask: 'membersByDepth'; layer: string; ids: number[]; way: 'behind' | 'before' }
  /** How the colours of a change's part, as rendered, are spread along an axis. */
  | {
      ask: 'coloursAlong';
      changeId: string;
      axis: Axis;
      channel: 'red' | 'green' | 'blue' | undefined;
      pieces: number;
      layer?: undefined;
    }
  /** How picks fare in this version, against the one that they were made in, if that is known. */
  | {
      ask: 'relink';
      version: VersionFiles | undefined;
      frame: number | undefined;
      owners: { id: string; who: MemberPick[] }[];
      layer?: undefined;
    }
  /** Another frame of a version as changes make it; undefined if it was given up for something else. */
  | {
      ask: 'frameState';
      version: VersionFiles;
      frame: number;
      changes: ListedChange[];
      side: number;
      layer?: undefined;
    }
  /** Where a member's middle is, in percent of the picture. */
  | { ask: 'middleOf'; layer: string; member: string }
  /** The frame as other changes make it, as it is shown, its longer side so long. */
  | { ask: 'stateOf'; changes: ListedChange[]; side: number; layer?: undefined }
  /** How colours are spread, of the corrected picture: everywhere, under a change's mask, or around a pixel. */
  | {
      ask: 'scope';
      name: string;
      where: 'frame' | SamplePlace;
      /** Of about so many pixels at most: few while values move. */
      most: number;
      layer?: undefined;
    }
  /** A frame of another version, as large as this one, to be compared with under a key. */
  | { ask: 'readOther'; key: string; version: VersionFiles; frame: number | undefined; layer?: undefined }
  /** Mean colour of members as rendered, or of what a change picks in another version; scene-linear Rec. 709. */
  | { ask: 'meanOf'; layer: string; ids: number[] }
  | {
      ask: 'meanInVersion';
      version: VersionFiles;
      frame: number | undefined;
      change: ListedChange;
      layer?: undefined;
    }
  /** What some corrections would make of a change's part, as a small picture around it. */
  | { ask: 'tried'; change: ListedChange; side: number; layer?: undefined }
  /** The smallest rectangle around what a change's mask covers, in pixels. */
  | { ask: 'partBounds'; changeId: string; layer?: undefined }
  | { ask: 'samples'; places: readonly SamplePlace[]; layer?: undefined }
  /** The table by which the picture is shown where the view says so; none takes it away. */
  | { ask: 'useTable'; table: CubeTable | undefined; layer?: undefined }
  /** Outline of all of them together. */
  | { ask: 'memberOutline'; layer: string; ids: number[] }
  /** A picture to lay cut-outs on, as large as the frame, RGBA; none takes it away. */
  | { ask: 'layUnder'; data: Uint8ClampedArray | undefined; layer?: undefined }
  | {
      ask: 'pass';
      /** Name of a pass on the wall. */
      name: string;
      /** Longest side of the picture, in pixels. */
      side: number;
      /** Only this channel, as grey. */
      channel?: string | undefined;
      /** The pass again, if it is an ID layer: waited for. */
      layer?: string | undefined;
    }
  | { ask: 'passValues'; name: string; x: number; y: number; layer?: string | undefined }
  /** Channels of a layer as the file holds them, as a picture, and what a name is given to at a pixel of them. */
  | { ask: 'source'; channels: readonly string[]; side: number; layer?: undefined }
  | {
      ask: 'roleKey';
      role: RoleUse['role'];
      channels: readonly string[];
      x: number;
      y: number;
      layer?: undefined;
    }
  /** What a mask of channels would look like. */
  | { ask: 'channelMask'; mask: ChannelMask; side: number; layer?: undefined }
  /** A member's mask by itself, in so much room. */
  | { ask: 'thumbnail'; layer: string; id: number; width: number; height: number }
  /** Black over all but these members. */
  | { ask: 'dimming'; layer: string; ids: number[]; side: number }
  /** Another version's frame against the one that is open, which is the later one. */
  | { ask: 'compare'; version: VersionFiles; frame: number | undefined; side: number; layer?: undefined };

export interface Answers {
  probe: Probe | undefined;
  membersAlong: { id: number; name: string }[];
  membersWithin: { id: number; name: string }[];
  membersByDepth: { id: number; name: string }[];
  layUnder: undefined;
  scope: Counts | undefined;
  partBounds: Area | undefined;
  samples: SampleValues[];
  useTable: undefined;
  meanOf: [number, number, number] | undefined;
  meanInVersion: [number, number, number] | undefined;
  tried: PassPicture | undefined;
  stateOf: PassPicture | undefined;
  frameState: FrameState | undefined;
  middleOf: Point | undefined;
  relink: RelinkReport | undefined;
  readOther: undefined;
  coloursAlong: Spread[];
  memberOutline: Float32Array;
  /** Undefined where there is no such pass. */
  pass: PassPicture | undefined;
  passValues: { channel: string; value: number }[];
  source: PassPicture | undefined;
  roleKey: string | undefined;
  channelMask: PassPicture | undefined;
  thumbnail: PassPicture | undefined;
  dimming: PassPicture | undefined;
  compare: Comparison | undefined;
}

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
