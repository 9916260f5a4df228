import type { Ref } from 'vue';
import type { Probe } from '../picture/messages.ts';

/** A place in the picture, in its pixels; fractions count. */
export interface Place {
  x: number;
  y: number;
  /** How hard a pen is pressed, 0 to 1; undefined for what cannot tell. */
  pressure?: number;
}

/** What a tool gets from the viewer. */
export interface ToolHost {
  /** Everything at the pixel of a place; waits for an ID layer that is still being read. */
  probe(at: Place, layer?: string): Promise<Probe | undefined>;
  /** Screen pixels a picture pixel. */
  scale(): number;
}

/**
 * What the pointer does in the picture: the gestures are in `tools/`, one file each. A gesture knows the viewer; what it
 * works on is handed to it by the screen that uses it.
 */
export interface ViewerTool {
  /** Outline of what a click would take, in picture pixels, drawn by the viewer. */
  hover: Readonly<Ref<Float32Array | undefined>>;
  /** Where a click waits for what it needs. */
  waiting: Readonly<Ref<Place | undefined>>;
  /** A line that is being drawn, in picture pixels. */
  drawn: Readonly<Ref<readonly Place[] | undefined>>;
  /** Radius of what the tool reaches around the pointer, in picture pixels; 0 if it is but a point. */
  reach: Readonly<Ref<number>>;
  down(at: Place): void;
  /** The button is held. */
  drag(at: Place): void;
  up(): void;
  /** The pointer rests or moves over the picture; `probe` is what lies there. */
  over(probe: Probe | undefined): void;
  leave(): void;
}

/** How the picture is shown, as far as the viewer has to know. */
export interface ViewerView {
  mode: 'picture' | 'ids' | 'mask' | 'cutout' | 'difference';
  /** Outline what is picked and dim the rest. */
  showPicks: boolean;
  /** A value is being dragged: outlines would be in the way. */
  adjusting: boolean;
  /** Share of the width at which before and after are divided. */
  divider: number | undefined;
  /** The picture as rendered, everywhere. */
  holdBefore: boolean;
  /** What is shown beside the picture, at the same place: the mask of the open change, or the picture before. */
  beside: 'mask' | 'before' | undefined;
  /** Names of warnings that are marked over the picture. */
  warnings: readonly string[];
  /** Outline of what a list points at, in picture pixels. */
  highlight: Float32Array | undefined;
}
