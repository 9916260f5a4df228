import type { PixelFilter } from './pixel-filter.ts';

export interface RenderSettings {
  width: number;
  height: number;
  /** Samples a pixel. */
  samples: number;
  /** Rough bounces after the first hit. */
  bounces: number;
  filter: PixelFilter;
  seed: number;
  /** Ranks of each cryptomatte; even. */
  ranks: number;
  /** No light: coverage only. */
  idsOnly: boolean;
  /** Gather the ID passes; off only to measure what they cost. */
  ids: boolean;
}

export const DEFAULT_SETTINGS: RenderSettings = {
  width: 960,
  height: 540,
  samples: 64,
  bounces: 1,
  filter: 'blackman-harris',
  seed: 0,
  ranks: 6,
  idsOnly: false,
  ids: true,
};

/** Says in one sentence why settings cannot be rendered, or nothing. */
export function settingsFault(s: RenderSettings): string | undefined {
  const whole = (n: number, low: number, high: number) => Number.isInteger(n) && n >= low && n <= high;
  if (!whole(s.width, 1, 16384) || !whole(s.height, 1, 16384))
    return 'Width and height must be whole numbers from 1 to 16384.';
  if (!whole(s.samples, 1, 65536)) return 'Samples must be a whole number from 1 to 65536.';
  if (!whole(s.seed, 0, 2 ** 31 - 1)) return 'The seed must be a whole number from 0.';
  if (!whole(s.bounces, 0, 16)) return 'Bounces must be a whole number from 0 to 16.';
  return undefined;
}
