import type { Finding } from '../../findings/finding.ts';
import { layerKindOf, layerOfChannel } from '../../version/layer-kinds.ts';
import type { Check } from '../check.ts';
import { Places } from '../places.ts';

const { abs, max, round } = Math;

/** Share of the light that may be missing or too much: denoising and rounding. */
const FIT = 0.02;
const LETTERS = ['R', 'G', 'B'] as const;

/** Whether the parts of the light add up to the picture. */
export const lights: Check = {
  code: 'lights-do-not-add',
  title: 'Parts of the light against the picture',
  scope: 'frame',
  async run({ image: { header }, beauty, read, width, height }) {
    if (!beauty || !read || header.channels.find((c) => c.name === beauty.r)?.derived) return [];
    const has = new Set(header.channels.map((c) => c.name));
    const layers = [...new Set(header.channels.map((c) => layerOfChannel(c.name)))].filter(
      (l) => l !== 'RGBA' && layerKindOf(l, 3).adds && LETTERS.every((k) => has.has(`${l}.${k}`)),
    );
    if (layers.length < 2 || `${layers[0]}.` === beauty.layer) return [];
    /** Light of the picture, and of each part, summed up; and how much both differ with all parts, or without one. */
    let [all, off] = [0, 0];
    const without = new Float64Array(layers.length);
    const places = new Places(width, height);
    let brighter = 0;
    for (const [k, own] of [beauty.r, beauty.g, beauty.b].entries()) {
      const names = layers.map((l) => `${l}.${LETTERS[k]!}`);
      const planes = await read([own, ...names]);
      const picture = planes.get(own)!;
      const parts = names.map((n) => planes.get(n)!);
      for (let p = 0; p < picture.length; p++) {
        let sum = 0;
        for (const part of parts) sum += part[p]!;
        const differs = sum - picture[p]!;
        if (!Number.isFinite(differs)) continue;
        all += abs(picture[p]!);
        off += abs(differs);
        brighter += differs;
        for (let i = 0; i < parts.length; i++) without[i]! += abs(differs - parts[i]![p]!);
        if (k === 1 && abs(differs) > 0.02 + 0.05 * abs(picture[p]!)) places.add(p);
      }
    }
    if (!(all > 0) || off <= FIT * all) return [];
    const percent = `${max(1, round((100 * off) / all))} %`;
    const culprit = without.findIndex((w) => w <= FIT * all);
    const parts = layers.join(' + ');
    const why =
      culprit >= 0
        ? `Without ${layers[culprit]} they do: it is in another part already, or does not belong to the picture.`
        : brighter > 0.8 * off
          ? 'They are brighter than it: a part is there twice, or is not multiplied by its colour.'
          : brighter < -0.8 * off
            ? 'They are darker than it: a part of the light is missing.'
            : 'The picture was changed after rendering, or the parts come from another render.';
    const finding: Finding = {
      severity: 'warning',
      code: 'lights-do-not-add',
      message: `${parts} do not add up to the picture; ${percent} of its light differs. ${why}`,
      places: places.areas(),
    };
    return [finding];
  },
};
