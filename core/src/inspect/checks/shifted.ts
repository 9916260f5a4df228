import type { Finding } from '../../findings/finding.ts';
import type { Check } from '../check.ts';
import { lightOf, measureShift } from '../edges.ts';

/** A shift that is seen at an edge. */
const LEAST = 0.25;
const MOST_SPREAD = 0.15;
const far = (v: number, more: string, less: string) =>
  Math.abs(v) < 0.05 ? [] : [`${Math.abs(v).toFixed(1)} px ${v > 0 ? more : less}`];

/** Whether the picture's edges are where the IDs' are. */
export const shifted: Check = {
  code: 'shifted',
  title: 'Edges of the picture against those of the IDs',
  scope: 'frame',
  async run(open) {
    const light = await lightOf(open);
    if (!light) return [];
    return open.cast.flatMap((layer): Finding[] => {
      const shift = measureShift(layer, light);
      if (!shift || shift.spread > MOST_SPREAD || Math.hypot(shift.x, shift.y) < LEAST) return [];
      const where = [...far(shift.x, 'right', 'left'), ...far(shift.y, 'down', 'up')].join(' and ');
      return [
        {
          severity: 'warning',
          code: 'shifted',
          message: `The picture lies ${where} of the IDs of ${layer.name}, measured on ${shift.samples.toLocaleString('en')} edge pixels. Masks will show a fringe. Render both with the same camera, pixel centre and overscan; whole pixels can be moved where the passes are in files of their own.`,
        },
      ];
    });
  },
};
