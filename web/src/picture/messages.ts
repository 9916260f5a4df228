import type { Box2i, Family, Finding } from '@zesty-crow/core';

/** How the picture is looked at. */
export type Look = 'picture' | 'ids' | 'mask' | 'cutout';

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
}

/** What a version turned out to be once decoded. */
export interface Opened {
  width: number;
  height: number;
  dataWindow: Box2i;
  displayWindow: Box2i;
  hasPicture: boolean;
  cast: CastSummary[];
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

/** A freshly computed rectangle, RGBA bytes for the screen. */
export interface ShownTile {
  x: number;
  y: number;
  width: number;
  height: number;
  data: Uint8ClampedArray<ArrayBuffer>;
}

/** What is on the screen: `view` is the corrected picture or another look, `before` the picture as rendered. */
export type Surface = 'view' | 'before' | 'dim';

export interface LookSettings {
  look: Look;
  /** View exposure in stops. */
  stops: number;
  /** The ID layer whose map is shown. */
  layer: string | undefined;
  /** The open change: its mask is shown and outlined. */
  openChange: string | undefined;
}

export interface Swatches {
  [changeId: string]: { before: string; after: string } | undefined;
}

/** What the worker tells without being asked. */
export interface Reports {
  progress(share: number, text: string): void;
  tiles(surface: Surface, tiles: ShownTile[]): void;
  /** All that was asked for has been computed. */
  settled(result: {
    swatches: Swatches;
    missing: { [changeId: string]: number };
    milliseconds: number;
  }): void;
  outline(segments: Float32Array): void;
}
