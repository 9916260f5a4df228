import { LAYERS } from '../../kernels/rays/layout.ts';
import { GATHER_IDS, type Gather } from './gather.ts';
import type { PixelFilter } from './pixel-filter.ts';

export interface RenderSettings {
  width: number;
  height: number;
  /** Samples a pixel; with a noise to reach or a time, the most it gets. */
  samples: number;
  /** Relative noise at which the render ends, see `judge`; 0 takes all samples everywhere. */
  noise: number;
  /** Seconds after which the render ends; 0 takes as long as the samples do. */
  seconds: number;
  /** Numbers of parts of which more is wanted to be seen soon: where they are, samples are taken first. */
  first?: readonly number[];
  /** Rough bounces after the first hit. */
  bounces: number;
  filter: PixelFilter;
  seed: number;
  /** Off: only ID and data passes, no light. */
  light: boolean;
  gather: Gather;
  /** Numbers of parts: only pixels in which they are seen are rendered. */
  patch?: number[];
}

export const DEFAULT_SETTINGS: RenderSettings = {
  width: 960,
  height: 540,
  samples: 64,
  noise: 0,
  seconds: 0,
  bounces: 2,
  filter: 'blackman-harris',
  seed: 0,
  light: true,
  gather: GATHER_IDS,
};

/** Says in one sentence why settings cannot be rendered, or nothing. */
export function settingsFault(s: RenderSettings): string | undefined {
  const whole = (n: number, low: number, high: number) => Number.isInteger(n) && n >= low && n <= high;
  if (!whole(s.width, 1, 16384) || !whole(s.height, 1, 16384))
    return 'Width and height must be whole numbers from 1 to 16384.';
  if (!whole(s.samples, 1, 65536)) return 'Samples must be a whole number from 1 to 65536.';
  if (!whole(s.seed, 0, 2 ** 31 - 1)) return 'The seed must be a whole number from 0.';
  if (!whole(s.bounces, 0, 16)) return 'Bounces must be a whole number from 0 to 16.';
  if (!(s.noise >= 0 && s.noise <= 1)) return 'The noise level must be from 0 to 1.';
  if (!(s.seconds >= 0)) return 'The seconds must be from 0.';
  if (s.gather.through.length > LAYERS)
    return `At most ${LAYERS} passes of what is seen through glass and in mirrors can be rendered together.`;
  return undefined;
}
