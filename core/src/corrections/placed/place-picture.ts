import { luminance } from '../../colour/luminance.ts';
import type { PictureValue, PointsValue } from '../../fields/field.ts';
import { toPixels, toShares } from '../../planes/shares.ts';
import type { Size } from '../../planes/size.ts';
import { defineCorrection, type PlacePoint } from '../correction.ts';
import { fromCorners, placeIn } from './corners.ts';
import { pictureKey, sampleFootprint } from './picture-planes.ts';

interface Values {
  picture: PictureValue;
  corners: PointsValue;
  blend: string;
  shading: number;
}

/** Where the picture is until it is moved, in percent of the display window. */
const CORNERS: PointsValue = [
  [35, 35],
  [65, 35],
  [65, 65],
  [35, 65],
];
const LABELS = ['upper left', 'upper right', 'lower right', 'lower left'];

/** How a picture's light is put into what is there; both scene-linear. */
const BLENDS: Readonly<Record<string, { label: string; of: (below: number, laid: number) => number }>> = {
  over: { label: 'Over it', of: (_, laid) => laid },
  multiply: { label: 'Multiplied', of: (below, laid) => below * laid },
  add: { label: 'Added', of: (below, laid) => below + laid },
};

const inPixels = (corners: PointsValue, frame: Size): PlacePoint[] =>
  corners.map(([x, y]) => toPixels(frame, x, y));

/**
 * Lays a picture file on the part: placed by its four corners as it is seen in perspective, read over the footprint of
 * each pixel so that it does not flicker, under the member's mask, so that what stands before it stays before it. With the
 * shading kept, it is as bright as the part is there, the part's mean luminance being white.
 */
export const placePicture = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'place-picture',
  label: 'Lay a picture on it',
  short: 'Picture',
  group: 'colour',
  hint: 'A picture file in perspective under the mask: a label, a print, a screen.',
  numbers:
    'Composites the picture over, multiplied with or added to the light, using its alpha. Shading multiplies it by the part’s luminance relative to its mean.',
  fields: [
    { kind: 'picture', key: 'picture', label: 'Picture', neutral: { file: '', name: '' } },
    {
      kind: 'choice',
      key: 'blend',
      label: 'How',
      options: Object.entries(BLENDS).map(([value, { label }]) => ({ value, label })),
      neutral: 'over',
    },
    {
      kind: 'number',
      key: 'shading',
      label: 'Keep shading',
      unit: '%',
      min: 0,
      max: 100,
      step: 1,
      neutral: 0,
      initial: 100,
    },
    { kind: 'points', key: 'corners', label: 'Corners', most: 4, neutral: CORNERS },
  ],
  idle: ({ picture, corners }) => picture.file === '' || corners.length !== 4,
  needs: ({ picture }) => (picture.file === '' ? [] : [pictureKey(picture.file)]),
  placement: {
    outline: ({ corners }, frame) => {
      const line = inPixels(corners, frame);
      return [[...line, line[0]!]];
    },
    handles(values, frame) {
      const at = inPixels(values.corners, frame);
      const middle: PlacePoint = [0, 1].map((k) => at.reduce((n, p) => n + p[k]! / 4, 0)) as [number, number];
      return [
        ...at.map((p, i) => ({ key: `corner ${i}`, label: `The picture’s ${LABELS[i]} corner`, at: p })),
        { key: 'middle', label: 'Move the picture', at: middle },
      ];
    },
    drag({ corners }, frame, handle, place) {
      const to = toShares(frame, place);
      if (handle !== 'middle') {
        const moved = Number(handle.split(' ')[1]);
        return { corners: corners.map((c, i) => (i === moved ? to : c)) };
      }
      const [mx, my] = [0, 1].map((k) => corners.reduce((n, c) => n + c[k]! / 4, 0)) as [number, number];
      return { corners: corners.map(([cx, cy]) => [cx + to[0] - mx, cy + to[1] - my] as const) };
    },
  },
  measure({ count, r, g, b, weight }) {
    let [sum, weights] = [0, 0];
    for (let i = 0; i < count; i++) {
      sum += weight[i]! * Math.max(0, luminance(r[i]!, g[i]!, b[i]!));
      weights += weight[i]!;
    }
    return weights > 0 ? { light: [sum / weights] } : undefined;
  },
  apply({ count, r, g, b, at, rendered, passes }, { picture, corners, blend, shading }, measured) {
    const packed = passes[pictureKey(picture.file)];
    const m = fromCorners(inPixels(corners, rendered));
    if (!packed || !m || !measured) return;
    const { of } = BLENDS[blend] ?? BLENDS['over']!;
    const mean = Math.max(measured['light']![0]!, 1e-9);
    const shown = new Float64Array(4);
    for (let i = 0; i < count; i++) {
      const [x, y] = [(at[i]! % rendered.width) + 0.5, Math.floor(at[i]! / rendered.width) + 0.5];
      const [p, px, py] = [placeIn(m, x, y), placeIn(m, x + 1, y), placeIn(m, x, y + 1)];
      if (!p || !px || !py) continue;
      const [across, down] = [
        [px[0] - p[0], px[1] - p[1]],
        [py[0] - p[0], py[1] - p[1]],
      ] as const;
      // Far from it nothing of it is in the footprint.
      const [du, dv] = [Math.abs(across[0]) + Math.abs(down[0]), Math.abs(across[1]) + Math.abs(down[1])];
      if (p[0] < -du || p[0] > 1 + du || p[1] < -dv || p[1] > 1 + dv) continue;
      sampleFootprint(packed, p[0], p[1], across, down, shown);
      const alpha = shown[3]!;
      if (!(alpha > 0)) continue;
      const light = Math.max(0, luminance(r[i]!, g[i]!, b[i]!)) / mean;
      const shade = 1 + (shading / 100) * (light - 1);
      // Alpha is taken out where the two are mixed by a formula, and then mixes them.
      const mixed = (below: number, laid: number) =>
        below + alpha * (of(below, (blend === 'multiply' ? 1 : shade) * (laid / alpha)) - below);
      r[i] = mixed(r[i]!, shown[0]!);
      g[i] = mixed(g[i]!, shown[1]!);
      b[i] = mixed(b[i]!, shown[2]!);
    }
  },
});
