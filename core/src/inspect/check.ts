import type { Finding } from '../findings/finding.ts';
import type { ExrImage } from '../formats/exr/types.ts';
import type { DescribedLayer } from '../idlayers/load.ts';
import type { ChannelStats } from '../version/channel-stats.ts';
import type { OpenPicture } from '../version/open-picture.ts';

/** A frame as it is inspected: its header and ID indexes, without its pixels. */
export type Inspected = Pick<OpenPicture, 'width' | 'height' | 'beauty' | 'cast' | 'findings'> & {
  image: Pick<ExrImage, 'header'>;
  layers: readonly DescribedLayer[];
  /** What the samples of each channel are, where they were looked at. */
  stats?: ReadonlyMap<string, ChannelStats>;
  /** Planes of channels as the file holds them, by name; absent where pixels shall not be read. */
  read?(names: readonly string[]): Promise<ReadonlyMap<string, Float32Array>>;
};

/**
 * One thing that is looked at: one file a check in `checks/`, and one line in `registry.ts`. A check says what it looks
 * at, and tells what it found; a sound picture gives nothing.
 */
export interface Check {
  /** Stable name of its findings, or of the first kind of them. */
  code: string;
  title: string;
  /** What it needs: one frame put together from its files. */
  scope: 'frame';
  run(open: Inspected): Finding[] | Promise<Finding[]>;
}
