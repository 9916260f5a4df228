import type { Check } from '../check.ts';

const { log } = Math;

const REACH = 4;

/**
 * Whether colours fit the alpha: at the edges of what has alpha, colour over nothing is alpha times the colour inside.
 * The power of alpha that the picture shows there is 1 if so, 2 if it was multiplied twice, 0 if it never was.
 */
export const premultiplied: Check = {
  code: 'premultiplied-twice',
  title: 'Colours against alpha',
  scope: 'frame',
  async run({ beauty, read, image, width, height }) {
    if (!beauty?.a || !read) return [];
    const infos = [beauty.r, beauty.g, beauty.b].map((n) => image.header.channels.find((c) => c.name === n)!);
    // Formats of whole numbers keep colours that are not multiplied.
    if (infos.some((c) => c.encoding === 'display' || c.derived)) return [];
    const planes = await read([...infos.map((c) => c.name), beauty.a]);
    const [r, g, b] = infos.map((c) => planes.get(c.name)!) as [Float32Array, Float32Array, Float32Array];
    const alpha = planes.get(beauty.a)!;
    const light = (p: number) => r[p]! + g[p]! + b[p]!;
    const powers: number[] = [];
    for (let y = REACH; y < height - REACH && powers.length < 20_000; y++)
      for (let x = REACH; x < width - REACH; x++) {
        const p = y * width + x;
        const a = alpha[p]!;
        if (!(a > 0.15 && a < 0.85)) continue;
        let [inside, n, outside, m] = [0, 0, 0, 0];
        for (let v = y - REACH; v <= y + REACH; v++)
          for (let u = x - REACH; u <= x + REACH; u++) {
            const q = v * width + u;
            if (alpha[q]! > 0.999) [inside, n] = [inside + light(q), n + 1];
            else if (alpha[q]! < 0.001) [outside, m] = [outside + light(q), m + 1];
          }
        // Only over nothing: where something lies behind without alpha, colours tell nothing.
        if (n < 6 || m < 6 || outside / m > 0.01 * (inside / n) || inside / n < 0.01) continue;
        const power = log(light(p) / (inside / n)) / log(a);
        if (Number.isFinite(power)) powers.push(power);
      }
    if (powers.length < 100) return [];
    powers.sort((i, k) => i - k);
    const middle = powers[powers.length >> 1]!;
    const layer = beauty.layer.slice(0, -1) || 'RGBA';
    if (middle > 1.6)
      return [
        {
          severity: 'warning',
          code: 'premultiplied-twice',
          message:
            'Colours are darker at the edges of alpha than they should be: they were multiplied by it twice. Edges get a dark line.',
          remedy: { label: 'Divide by alpha', mend: { what: 'divide-by-alpha', layer } },
        },
      ];
    if (middle < 0.4)
      return [
        {
          severity: 'warning',
          code: 'premultiplied-twice',
          message:
            'Colours are as bright at the edges of alpha as inside: they were not multiplied by it, as light in a file of floats should be. Edges get a bright line.',
          remedy: { label: 'Multiply by alpha', mend: { what: 'multiply-by-alpha', layer } },
        },
      ];
    return [];
  },
};
