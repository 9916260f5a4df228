import { asFloats } from '../../formats/exr/samples.ts';
import { floatsToHalves } from '../../planes/half.ts';
import { isFirefly, sumOf } from '../../inspect/checks/fireflies.ts';
import type { MendKind, MendPart, MendTask } from '../mend.ts';
import { withValues } from './of-values.ts';

const prefixOf = (layer: string) => (layer === 'RGBA' ? '' : `${layer}.`);
const colours = (layer: string) => ['R', 'G', 'B'].map((c) => prefixOf(layer) + c);

/** Changes the colours of a layer together; other channels stay. */
function withColours(
  part: MendPart,
  { names, width, height }: MendTask,
  change: (
    planes: readonly Float32Array[],
    size: { width: number; height: number },
    alpha?: Float32Array,
  ) => Float32Array[],
) {
  const own = names.map((n) => part.channels.find((c) => c.name === n)!);
  const [r, g, b, alpha] = own.map((c) => asFloats(c));
  const changed = change([r!, g!, b!], { width, height }, alpha);
  return {
    channels: part.channels.map((c) => {
      const i = names.indexOf(c.name);
      if (i < 0 || i > 2) return c;
      // A picture that was half stays so.
      return c.type === 'half' ? { ...c, data: floatsToHalves(changed[i]!) } : withValues(c, changed[i]!);
    }),
  };
}

const byAlpha = (what: string, done: string, value: (v: number, a: number) => number): MendKind => ({
  what,
  done,
  light: true,
  channels: ({ layer }) => [...colours(layer), `${prefixOf(layer)}A`],
  apply: (part, task) =>
    withColours(part, task, (planes, _, alpha) =>
      planes.map((plane) => plane.map((v, p) => value(v, alpha![p]!))),
    ),
});
export const divideByAlpha = byAlpha('divide-by-alpha', 'was divided by its alpha.', (v, a) =>
  a > 0 ? v / a : v,
);
export const multiplyByAlpha = byAlpha('multiply-by-alpha', 'was multiplied by its alpha.', (v, a) => v * a);

/** The middle one of the eight pixels around, of each channel. */
function median(plane: Float32Array, width: number, p: number): number {
  const around: number[] = [];
  for (let v = -width; v <= width; v += width)
    for (let u = -1; u <= 1; u++)
      if ((u !== 0 || v !== 0) && Number.isFinite(plane[p + u + v])) around.push(plane[p + u + v]!);
  around.sort((a, b) => a - b);
  return around.length ? (around[(around.length - 1) >> 1]! + around[around.length >> 1]!) / 2 : 0;
}

/** Single pixels that shine out become what is around them. */
export const putOutFireflies: MendKind = {
  what: 'fireflies',
  done: 'has no pixels any more that shine out alone.',
  light: true,
  channels: ({ layer }) => colours(layer),
  apply: (part, task) =>
    withColours(part, task, (planes, { width, height }) => {
      const sum = sumOf(planes);
      const out = planes.map((plane) => plane.slice());
      for (let y = 1; y < height - 1; y++)
        for (let x = 1; x < width - 1; x++) {
          const p = y * width + x;
          if (isFirefly(sum, width, p)) planes.forEach((plane, k) => (out[k]![p] = median(plane, width, p)));
        }
      return out;
    }),
};

/** Values that are infinite or no number become the middle of the finite ones around. */
export const finiteValues: MendKind = {
  what: 'finite',
  done: 'holds nothing any more that is infinite or no number.',
  channels: ({ layer }, { channels }) =>
    channels
      .flatMap((c) => (c.name === layer || c.name.startsWith(prefixOf(layer) || '\0') ? [c.name] : []))
      .concat(layer === 'RGBA' ? channels.flatMap((c) => (/^[RGBA]$/.test(c.name) ? [c.name] : [])) : []),
  apply: ({ channels }, { names, width, height }) => {
    const own = new Set(names);
    return {
      channels: channels.map((c) => {
        const before = asFloats(c);
        if (c.type === 'uint' || !before.some((v) => !Number.isFinite(v)) || !own.has(c.name)) return c;
        let now = before.slice();
        // Larger holes close from their borders inwards.
        for (let turn = 0; turn < 64 && now.some((v) => !Number.isFinite(v)); turn++) {
          const from = now.slice();
          now = from.map((v, p) => {
            if (Number.isFinite(v)) return v;
            const [x, y] = [p % width, Math.floor(p / width)];
            const inside = x > 0 && y > 0 && x < width - 1 && y < height - 1;
            const near = inside
              ? median(from, width, p)
              : [from[p - 1], from[p + 1], from[p - width], from[p + width]].find(
                  (n) => n !== undefined && Number.isFinite(n),
                );
            return near ?? v;
          });
        }
        now = now.map((v) => (Number.isFinite(v) ? v : 0));
        return c.type === 'half' ? { ...c, data: floatsToHalves(now) } : withValues(c, now);
      }),
    };
  },
};
