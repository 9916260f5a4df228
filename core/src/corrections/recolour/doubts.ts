import { PURE } from '../../masks/each-under.ts';
import type { PartColours } from '../correction.ts';
import { away } from './bounces.ts';
import { three, type Three } from './figures.ts';

/** Metal is seen at a grazing angle within so many pixels of its border. */
const BORDER = 2;
/** So far from the usual one, in logarithms of chromaticity, the colour of a metal's pixel is that of what it mirrors. */
const FOREIGN = 0.5;
/** So many times as bright as is usual a pixel may be a highlight. */
const BRIGHT = 2;

/** Whether no pixel shows the part alone: its own colour is then not known. */
export const noneAlone = ({ weight }: PartColours): boolean => weight.some((w) => w <= PURE);

/**
 * Pixels of a metal in which its own share of the colour cannot be told from that of what it mirrors: near the part's
 * border, where it mirrors white, and where its colour is far from the usual one, because it mirrors itself or something
 * coloured. 1 for each of them.
 */
export function foreignToMetal(part: PartColours, usual: Three): Uint8Array {
  const inside = new Set(part.at);
  const { width } = part.rendered;
  const ofMetal = away(usual);
  return Uint8Array.from(part.at, (p, i) => {
    const own = away(three((k) => [part.r, part.g, part.b][k]![i]!));
    if (Math.hypot(...three((k) => own[k]! - ofMetal[k]!)) > FOREIGN) return 1;
    for (let y = -BORDER; y <= BORDER; y++)
      for (let x = -BORDER; x <= BORDER; x++) if (!inside.has(p + y * width + x)) return 1;
    return 0;
  });
}

/** Pixels that may be highlights, of a part whose highlights have the colour of the rest; `usual` is r + g + b. */
export const bright = ({ count, r, g, b }: PartColours, usual: number): Uint8Array =>
  Uint8Array.from({ length: count }, (_, i) => Number(r[i]! + g[i]! + b[i]! > BRIGHT * usual));
