import { eachUnder } from './each-under.ts';
import type { TileMask } from './tile-mask.ts';

/** What a mask covers of a frame. */
export interface MaskPart {
  /** Percent of the frame. */
  area: number;
  /** Its middle, in percent of the frame across and down; 0 where it covers nothing. */
  x: number;
  y: number;
}

/** How much a mask covers, and where in the mean. */
export function partOf(mask: TileMask): MaskPart {
  const { width, height } = mask.size;
  let [sum, sx, sy] = [0, 0, 0];
  eachUnder(mask, 0, (c, p) => {
    sum += c;
    sx += c * ((p % width) + 0.5);
    sy += c * (Math.floor(p / width) + 0.5);
  });
  if (sum === 0) return { area: 0, x: 0, y: 0 };
  return {
    area: (100 * sum) / (width * height),
    x: (100 * sx) / (sum * width),
    y: (100 * sy) / (sum * height),
  };
}

/** Less than this from one frame to the next is no leap, however still all else is: percent of the frame, and a ratio. */
const LEAST_WAY = 1.5;
const LEAST_RATIO = Math.log(1.3);
/** So many times the usual step is a leap. */
const TIMES = 4;

const median = (values: readonly number[]): number => {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor((sorted.length - 1) / 2)] ?? 0;
};

/**
 * Frames in which a mask leaps: its middle goes, or its area grows or shrinks, much farther than it usually does from one
 * frame to the next; or it comes or goes altogether. A thing that moves evenly, however fast, never leaps.
 * @param parts in the order of their frames; steps over missing frames are shared among those
 */
export function leapsOf(parts: readonly { frame: number; part: MaskPart }[]): number[] {
  const steps = parts.slice(1).map(({ frame, part }, i) => {
    const before = parts[i]!;
    const gone = part.area > 0 !== before.part.area > 0;
    const none = gone || part.area === 0;
    const over = frame - before.frame;
    return {
      frame,
      gone,
      none,
      way: none ? 0 : Math.hypot(part.x - before.part.x, part.y - before.part.y) / over,
      ratio: none ? 0 : Math.abs(Math.log(part.area / before.part.area)) / over,
    };
  });
  const seen = steps.filter((s) => !s.none);
  const mostWay = Math.max(LEAST_WAY, TIMES * median(seen.map((s) => s.way)));
  const mostRatio = Math.max(LEAST_RATIO, TIMES * median(seen.map((s) => s.ratio)));
  return steps.filter((s) => s.gone || s.way > mostWay || s.ratio > mostRatio).map((s) => s.frame);
}
