import { meanUnder, through, type RgbPlanes, type TileMask } from '@zesty-crow/core';

/** Mean of what is not shared at the edge, in the primaries of the screen. */
export function meanOnScreen(planes: RgbPlanes, mask: TileMask): [number, number, number] | undefined {
  const mean = meanUnder(mask, [planes])?.[0];
  return mean && planes.toScreen ? through(planes.toScreen, mean) : mean;
}
