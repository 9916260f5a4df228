import type { Size } from '@zesty-crow/core/planes';
import type { Opened, Probe, ShownTile, Surface } from '../picture/messages.ts';

/** A picture as the viewer shows it: what is known of it, and where its tiles come from. */
export interface ViewedPicture {
  /** Pixels across and down, known before anything was read. */
  readonly size: Size | undefined;
  /** Its windows, and where its files end too soon. */
  readonly opened: Pick<Opened, 'dataWindow' | 'displayWindow' | 'findings'> | undefined;
  /** Address of a stored picture that stands in until the pixels are there. */
  readonly preview: string | undefined;
  /** Outline of what is picked, in picture pixels. */
  readonly outline: Float32Array;
  /** The number of the view of which all is there; undefined while anything is on its way. */
  readonly rests: number | undefined;
  /** Counts how often all that was asked for had been computed. */
  readonly settledCount: number;
  /** Everything at a pixel; waits for a layer if it is still coming. */
  probe(x: number, y: number, layer?: string): Promise<Probe | undefined>;
  /** Where tiles go from now on. */
  setSink(sink: (surface: Surface, tiles: ShownTile[]) => void): void;
}
