import { linearToSrgb, srgbToLinear } from '../../colour/srgb.ts';
import type { Finding } from '../../findings/finding.ts';
import { layerOfChannel } from '../../version/layer-kinds.ts';
import type { Check, Inspected } from '../check.ts';
import { edgeSamples, lightOf } from '../edges.ts';

const { abs, floor, round } = Math;

/** Values that are whole steps of 255 in all but this share came from a picture of 8 bits for a screen. */
const STEPPED = 0.999;
/** Half of the edges must show the other meaning by this much, and three quarters by that. */
const HALF = 0.6;
const MOST = 0.3;

/** How far a mixture of two values is from what it would be if `to` of them had been mixed instead. */
function bentBy(
  coverage: number,
  inside: number,
  outside: number,
  to: (v: number) => number,
  back: (v: number) => number,
): number {
  const [i, o] = [to(inside), to(outside)];
  return (back(coverage * i + (1 - coverage) * o) - outside) / (inside - outside) - coverage;
}

/**
 * Whether edges are mixed of other values than ours, those that `to` makes of them: how much more of one side shows than
 * the IDs say, against how much more it would be, edge by edge. What shadows and glints do to edges goes either way, and
 * does not lead most of them.
 */
async function mixedOther(
  open: Inspected,
  to: (v: number) => number,
  back: (v: number) => number,
): Promise<boolean> {
  const light = await lightOf(open);
  const [layer] = open.cast;
  if (!light || !layer) return false;
  const shown: number[] = [];
  for (const s of edgeSamples(layer, light)) {
    if (s.coverage < 0.2 || s.coverage > 0.8 || s.trust < 0.7 || abs(s.seen - 0.5) > 0.8) continue;
    if (!(s.inside > 0 && s.outside > 0)) continue;
    const expected = bentBy(s.coverage, s.inside, s.outside, to, back);
    // Sides that are nearly as light as each other mix the same either way.
    if (abs(expected) >= 0.03) shown.push((s.seen - s.coverage) / expected);
  }
  shown.sort((a, b) => a - b);
  const at = (share: number) => shown[floor(share * shown.length)]!;
  return shown.length > 100 && at(0.5) > HALF && at(0.25) > MOST;
}

/** Whether the numbers of the picture are what they are taken for. */
export const encoding: Check = {
  code: 'encoding-doubtful',
  title: 'Light, or values for a screen',
  scope: 'frame',
  async run(open) {
    const { beauty, image, read } = open;
    if (!beauty || !read) return [];
    const info = image.header.channels.find((c) => c.name === beauty.g)!;
    const display = info.encoding === 'display';
    const layer = layerOfChannel(beauty.g);
    const told = (message: string): Finding[] => [
      {
        severity: 'warning',
        code: 'encoding-doubtful',
        message,
        remedy: {
          label: display ? 'Take it as light' : 'Take it as made for a screen',
          encoding: { layer, display: !display },
        },
      },
    ];
    if (!display && !info.derived) {
      const plane = (await read([beauty.g])).get(beauty.g)!;
      let [steps, some] = [0, 0];
      const levels = new Set<number>();
      for (const v of plane) {
        if (!(v > 0)) continue;
        some++;
        const step = round(255 * v);
        // Half floats are within a two-thousandth of what they were.
        if (v <= 1.001 && abs(v * 255 - step) < 0.0006 * step) {
          steps++;
          levels.add(step);
        }
      }
      if (some > 0 && steps > STEPPED * some && levels.size > 30)
        return told(
          'The picture is taken as light, but its values are whole steps of 255: it was made for a screen and saved as floats. Corrections would be too strong in the darks.',
        );
    }
    // What is taken for light may be values for a screen; those were made of light by the curve.
    const other = display
      ? await mixedOther(open, linearToSrgb, srgbToLinear)
      : await mixedOther(open, srgbToLinear, linearToSrgb);
    if (!other) return [];
    return told(
      display
        ? 'The picture is taken as made for a screen, but at the edges of things it is mixed like light. It seems to be scene-linear, saved as whole numbers.'
        : 'The picture is taken as light, but at the edges of things it is not mixed like light. It seems to have been made for a screen, or a view was baked in.',
    );
  },
};
