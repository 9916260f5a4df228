import { eachPixel } from '../../roles/write/ranks.ts';
import type { Finding } from '../../findings/finding.ts';
import type { Check } from '../check.ts';
import { countOf, Places } from '../places.ts';

/** Coverage that must be missing in a pixel before it counts. */
const MISSING = 0.02;

/** Whether pixels hold as many IDs as there is room for, and less than the alpha says. */
export const ranksEnough: Check = {
  code: 'ranks-too-few',
  title: 'Room for all IDs of a pixel',
  scope: 'frame',
  async run({ cast, layers, beauty, read, width, height }) {
    const full = cast.flatMap((c) => {
      const layer = layers.find((l) => l.name === c.name);
      const ranks = layer?.kind === 'cryptomatte' ? layer.info.ranks.length : 0;
      return ranks > 0 ? [{ name: c.name, index: c.index, ranks }] : [];
    });
    // Goes through all pixels.
    if (full.length === 0 || !read) return [];
    const alpha = beauty?.a ? (await read([beauty.a])).get(beauty.a) : undefined;
    return full.flatMap(({ name, index, ranks }): Finding[] => {
      const places = new Places(width, height);
      let lost = 0;
      /** Pixels with room left in which alpha is, and is not, what the IDs cover. */
      const fits = { yes: 0, no: 0 };
      eachPixel(index, (p, { count, coverage }) => {
        let sum = 0;
        for (let i = 0; i < count; i++) sum += coverage[i]!;
        const whole = alpha ? Math.min(1, alpha[p]!) : 1;
        const missing = whole - sum;
        if (count >= ranks) {
          if (missing > MISSING) {
            places.add(p);
            lost += missing;
          }
        } else if (alpha) fits[missing > MISSING ? 'no' : 'yes']++;
      });
      if (places.count === 0) return [];
      // Alpha of a sky that has no ID says nothing of the IDs.
      const known = alpha !== undefined && fits.yes > 20 * fits.no;
      if (alpha && !known) return [];
      const mean = `${Math.max(1, Math.round((100 * lost) / places.count))} %`;
      return [
        {
          // Less than a few pixels' worth is never seen.
          severity: known && lost > 3 ? 'warning' : 'info',
          code: 'ranks-too-few',
          message: `${name}: ${countOf(places.count, 'pixel')} ${places.count === 1 ? 'is' : 'are'} full, with ${ranks} IDs, and ${known ? `${places.count === 1 ? 'covers' : 'cover'} ${mean} less than the alpha on average` : `${places.count === 1 ? 'leaves' : 'leave'} ${mean} on average to nothing, or to IDs for which there was no room`}. Soft edges break off there; render with ${ranks + 2} ranks or more.`,
          places: places.areas(),
        },
      ];
    });
  },
};
