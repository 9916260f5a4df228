import { defineCorrection } from './correction.ts';
import { sizeField } from './usual-fields.ts';

interface Values {
  pass: string;
  focus: number;
  size: number;
  most: number;
  blades: string;
}

/** Places within a lens of radius 1, evenly, each standing for the same share of it: Vogel's spiral. */
const SPIRAL = Math.PI * (3 - Math.sqrt(5));
const { max, min, round, floor, abs } = Math;

/** How far a straight-sided aperture reaches in a direction, of the circle around it. */
function edgeOf(blades: number, angle: number): number {
  if (blades < 3) return 1;
  const side = (2 * Math.PI) / blades;
  const off = ((((angle + side / 2) % side) + side) % side) - side / 2;
  return Math.cos(side / 2) / Math.cos(off);
}

/** Radius of what a point at a depth becomes, in pixels: nothing in focus, `size` infinitely far (thin lens). */
const circleOf = (depth: number, focus: number, size: number, most: number) =>
  Number.isNaN(depth) || depth === Infinity
    ? min(most, size)
    : min(most, size * abs(1 - focus / max(depth, 1e-6)));

/**
 * Blurs like a lens, by depth. Every pixel is spread over the aperture's shape as large as its own circle of confusion
 * is; what lies behind a pixel is spread no farther than that pixel's own circle. So what is sharp never spreads over
 * what is blurred behind it, and what is blurred in front covers softly. What the mask does not cover gives nothing.
 */
export const defocus = defineCorrection<Values>({
  works: 'area',
  kind: 'defocus',
  label: 'Defocus by depth',
  short: 'Defocus',
  group: 'pass',
  hint: 'Blurs what is out of focus as a lens does, by the version’s depth.',
  fields: [
    { kind: 'pass', key: 'pass', label: 'Depth', like: '^(depth|z)', neutral: '' },
    {
      kind: 'number',
      key: 'focus',
      label: 'Sharp at',
      unit: 'scene units',
      min: 0.001,
      max: 1e6,
      softMax: 20,
      step: 0.05,
      neutral: 2,
    },
    sizeField(0, { label: 'Blur far away', max: 60, softMax: 30, initial: 12 }),
    sizeField(20, { key: 'most', label: 'No more than', min: 1, max: 60, softMax: 30 }),
    {
      kind: 'choice',
      key: 'blades',
      label: 'Aperture',
      options: [
        { value: '0', label: 'Round' },
        { value: '5', label: 'Five blades' },
        { value: '6', label: 'Six blades' },
        { value: '8', label: 'Eight blades' },
      ],
      neutral: '0',
    },
  ],
  idle: ({ pass, size }) => pass === '' || size === 0,
  needs: ({ pass }) => (pass === '' ? [] : [pass]),
  reach: ({ most }) => Math.ceil(most) + 1,
  apply({ area, margin, planes, coverage, frame, passes }, { pass, focus, size, most, blades }, out) {
    const depth = passes[pass]?.[0];
    const { r, g, b, width } = planes;
    const [across, down] = [area.x1 - area.x0, area.y1 - area.y0];
    const near = new Float32Array(r.length);
    const circle = new Float32Array(r.length);
    for (let i = 0; i < r.length; i++) {
      const x = min(frame.width - 1, max(0, area.x0 - margin + (i % width)));
      const y = min(frame.height - 1, max(0, area.y0 - margin + floor(i / width)));
      const d = depth ? depth[y * frame.width + x]! : focus;
      near[i] = Number.isNaN(d) ? Infinity : d;
      circle[i] = circleOf(d, focus, size, most);
      // Light is not made of what is no light.
      if (!Number.isFinite(r[i]! + g[i]! + b[i]!)) circle[i] = -1;
    }
    // About two places a pixel of the largest lens, but no more than can be waited for.
    const count = min(220, max(24, round(1.6 * most * most)));
    const places = Array.from({ length: count }, (_, i) => {
      const angle = i * SPIRAL;
      const far = Math.sqrt((i + 0.5) / count) * most;
      const reach = far * edgeOf(Number(blades), angle);
      return { x: round(reach * Math.cos(angle)), y: round(reach * Math.sin(angle)), far };
    });
    const by = (most * most) / count;
    for (let y = 0, to = 0; y < down; y++)
      for (let x = 0; x < across; x++, to++) {
        const p = (y + margin) * width + x + margin;
        if (!(coverage[p]! > 0) || circle[p]! < 0) {
          [out.r[to], out.g[to], out.b[to]] = [r[p]!, g[p]!, b[p]!];
          continue;
        }
        const [own, at] = [circle[p]!, near[p]!];
        // What the pixel itself keeps: its light over its circle, all of it where that is no larger than a pixel.
        let sum = coverage[p]! / max(1, Math.PI * own * own);
        let [sr, sg, sb] = [sum * r[p]!, sum * g[p]!, sum * b[p]!];
        for (let i = 0; i < count; i++) {
          const place = places[i]!;
          const q = p + place.y * width + place.x;
          let c = circle[q]!;
          if (near[q]! > at && c > own) c = own;
          // Softly, so that circles that grow do not jump.
          const over = c + 0.5 - place.far;
          if (over <= 0 || q === p) continue;
          const w = (min(1, over) * by * coverage[q]!) / max(1 / Math.PI, c * c);
          sum += w;
          sr += w * r[q]!;
          sg += w * g[q]!;
          sb += w * b[q]!;
        }
        out.r[to] = sr / sum;
        out.g[to] = sg / sum;
        out.b[to] = sb / sum;
      }
  },
});
