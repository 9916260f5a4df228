import { isNothing, type CastLayer } from '../cast/cast.ts';
import { srgbToLinear } from '../colour/srgb.ts';
import type { IdIndex } from '../idindex/id-index.ts';
import type { Size } from '../planes/size.ts';
import type { Inspected } from './check.ts';

const { abs, max, min } = Math;

/** The picture as light, plane by plane. */
export interface Light extends Size {
  planes: readonly Float32Array[];
}

async function readLight({ beauty, read, image, width, height }: Inspected): Promise<Light | undefined> {
  if (!beauty || !read) return undefined;
  const names = [...new Set([beauty.r, beauty.g, beauty.b])];
  const planes = await read(names);
  return {
    width,
    height,
    planes: names.map((name) => {
      const plane = planes.get(name)!;
      const { encoding } = image.header.channels.find((c) => c.name === name)!;
      return encoding === 'display' ? plane.map(srgbToLinear) : plane;
    }),
  };
}

const lights = new WeakMap<Inspected, Promise<Light | undefined>>();

/**
 * The picture of what is inspected as scene-linear light; undefined without one, or where pixels are not read. It is
 * read once for all checks.
 */
export function lightOf(open: Inspected): Promise<Light | undefined> {
  const light = lights.get(open) ?? readLight(open);
  lights.set(open, light);
  return light;
}

/** A pixel at the edge of a member, as the IDs see it. */
interface EdgePixel {
  /** Where it is, and which member's mask it is of. */
  x: number;
  y: number;
  coverage: number;
  /** How coverage rises to the right and downwards. */
  gx: number;
  gy: number;
}

/** A member's mask in a window around it. */
interface Window {
  x0: number;
  y0: number;
  width: number;
  height: number;
  mask: Float32Array;
}

/** Members that are looked at, and edge pixels of each. */
const MOST_MEMBERS = 24;
const MOST_PIXELS = 1500;
/** Room around a member in which the picture is looked at. */
const ROOM = 16;

function windowOf(index: IdIndex, slot: number): Window | undefined {
  const { width, height, pixel, length, coverage } = index;
  let [x0, y0, x1, y1] = [width, height, 0, 0];
  const own: number[] = [];
  for (let i = 0; i < index.slot.length; i++) {
    if (index.slot[i] !== slot) continue;
    own.push(i);
    const [x, y] = [pixel[i]! % width, Math.floor(pixel[i]! / width)];
    [x0, y0, x1, y1] = [min(x0, x), min(y0, y), max(x1, x + length[i]!), max(y1, y + 1)];
  }
  if (own.length === 0) return undefined;
  [x0, y0, x1, y1] = [max(0, x0 - ROOM), max(0, y0 - ROOM), min(width, x1 + ROOM), min(height, y1 + ROOM)];
  const window = { x0, y0, width: x1 - x0, height: y1 - y0, mask: new Float32Array((x1 - x0) * (y1 - y0)) };
  for (const i of own) {
    const from = (Math.floor(pixel[i]! / width) - y0) * window.width + (pixel[i]! % width) - x0;
    for (let k = from; k < from + length[i]!; k++) window.mask[k]! += coverage[i]!;
  }
  return window;
}

function edgePixels({ x0, y0, width, height, mask }: Window): EdgePixel[] {
  const found: EdgePixel[] = [];
  for (let y = 2; y < height - 2; y++)
    for (let x = 2; x < width - 2; x++) {
      const p = y * width + x;
      const gx = (mask[p + 1]! - mask[p - 1]!) / 2;
      const gy = (mask[p + width]! - mask[p - width]!) / 2;
      if (gx * gx + gy * gy > 0.04) found.push({ x: x0 + x, y: y0 + y, coverage: mask[p]!, gx, gy });
    }
  const step = max(1, Math.ceil(found.length / MOST_PIXELS));
  return found.filter((_, i) => i % step === 0);
}

/** What a picture shows at an edge that the IDs have, too. */
export interface EdgeSample extends EdgePixel {
  /** Coverage as the picture tells it: where its colour lies between inside and outside. May be below 0 or above 1. */
  seen: number;
  /** 0 to 1: how much that can be trusted. */
  trust: number;
  /** Luminance inside and outside. */
  inside: number;
  outside: number;
}

/** Farthest that IDs and picture are looked for away from each other, in pixels. */
const FAR = 8;

/**
 * How the edges of an ID layer agree with the picture's: for pixels at the edges of its largest members, the coverage
 * that the picture's colour tells, read between the mean colours of what is surely inside and surely outside of the
 * member in the 11x11 around; `dx`, `dy` is where the picture is looked at, from the pixel of the IDs.
 */
export function edgeSamples(layer: CastLayer, light: Light, dx = 0, dy = 0): EdgeSample[] {
  const samples: EdgeSample[] = [];
  for (const { window, pixels } of edgesOf(layer))
    for (const e of pixels) {
      const sample = sampleEdge(window, e, light, dx, dy);
      if (sample) samples.push(sample);
    }
  return samples;
}

const known = new WeakMap<CastLayer, { window: Window; pixels: EdgePixel[] }[]>();
function edgesOf(layer: CastLayer) {
  let found = known.get(layer);
  if (found) return found;
  const members = layer.members.filter((m) => !isNothing(m) && m.coverage > 50).slice(0, MOST_MEMBERS);
  found = members.flatMap(({ id }) => {
    const window = windowOf(layer.index, layer.index.slotOf.get(id)!);
    return window ? [{ window, pixels: edgePixels(window) }] : [];
  });
  known.set(layer, found);
  return found;
}

const luminance = (r: number, g: number, b: number) => 0.2126 * r + 0.7152 * g + 0.0722 * b;

function sampleEdge(w: Window, e: EdgePixel, light: Light, dx: number, dy: number): EdgeSample | undefined {
  const { planes, width, height } = light;
  const at = (c: number, x: number, y: number) => planes[planes.length === 1 ? 0 : c]![y * width + x]!;
  const [px, py] = [e.x + dx, e.y + dy];
  if (px < 0 || py < 0 || px >= width || py >= height) return undefined;
  const side = [new Float64Array(7), new Float64Array(7)] as const;
  const REACH = 5;
  for (let v = e.y - REACH; v <= e.y + REACH; v++)
    for (let u = e.x - REACH; u <= e.x + REACH; u++) {
      const [x, y] = [u - w.x0, v - w.y0];
      if (x < 1 || y < 1 || x >= w.width - 1 || y >= w.height - 1) continue;
      const [qx, qy] = [u + dx, v + dy];
      if (qx < 0 || qy < 0 || qx >= width || qy >= height) continue;
      const p = y * w.width + x;
      // Surely in or out: the pixel and the four beside it.
      const least = min(
        w.mask[p]!,
        w.mask[p - 1]!,
        w.mask[p + 1]!,
        w.mask[p - w.width]!,
        w.mask[p + w.width]!,
      );
      const most = max(
        w.mask[p]!,
        w.mask[p - 1]!,
        w.mask[p + 1]!,
        w.mask[p - w.width]!,
        w.mask[p + w.width]!,
      );
      const own = least > 0.99 ? side[0] : most < 0.01 ? side[1] : undefined;
      if (!own) continue;
      own[0]!++;
      for (let c = 0; c < 3; c++) {
        const value = at(c, qx, qy);
        own[1 + c]! += value;
        own[4 + c]! += value * value;
      }
    }
  const [i, o] = side;
  if (i[0]! < 5 || o[0]! < 5) return undefined;
  let [distance, along, variance] = [0, 0, 0];
  const [inside, outside] = [new Float64Array(3), new Float64Array(3)];
  for (let c = 0; c < 3; c++) {
    inside[c] = i[1 + c]! / i[0]!;
    outside[c] = o[1 + c]! / o[0]!;
    distance += (inside[c]! - outside[c]!) ** 2;
    along += (at(c, px, py) - outside[c]!) * (inside[c]! - outside[c]!);
    variance += max(0, i[4 + c]! / i[0]! - inside[c]! ** 2) + max(0, o[4 + c]! / o[0]! - outside[c]! ** 2);
  }
  if (!(distance > 1e-6) || !Number.isFinite(along)) return undefined;
  return {
    ...e,
    seen: along / distance,
    trust: distance / (distance + 4 * variance + 1e-4),
    inside: luminance(inside[0]!, inside[1]!, inside[2]!),
    outside: luminance(outside[0]!, outside[1]!, outside[2]!),
  };
}

/** How far a picture lies from its IDs, to the right and downwards, and from how much that is known. */
export interface Shift {
  x: number;
  y: number;
  /** Edge pixels that it is measured on. */
  samples: number;
  /** How much the halves of the samples disagree, in pixels. */
  spread: number;
}

/** The whole pixels by which strong edges of the picture fit those of the IDs best. */
function wholeShift(layer: CastLayer, { planes, width, height }: Light): [number, number] {
  const side = 2 * FAR + 1;
  const score = new Float64Array(side * side);
  // Edges of dark things count as well: steps of the eye.
  const value = planes[planes.length === 1 ? 0 : 1]!.map((v) => Math.sqrt(max(0, v)));
  for (const { pixels } of edgesOf(layer))
    for (const e of pixels)
      for (let dy = -FAR; dy <= FAR; dy++)
        for (let dx = -FAR; dx <= FAR; dx++) {
          const [x, y] = [e.x + dx, e.y + dy];
          if (x < 1 || y < 1 || x >= width - 1 || y >= height - 1) continue;
          const p = y * width + x;
          score[(dy + FAR) * side + dx + FAR]! += abs(
            (value[p + 1]! - value[p - 1]!) * e.gx + (value[p + width]! - value[p - width]!) * e.gy,
          );
        }
  const none = score[FAR * side + FAR]!;
  let best = FAR * side + FAR;
  score.forEach((s, i) => {
    if (s > score[best]! && s > 1.1 * none) best = i;
  });
  return [(best % side) - FAR, Math.floor(best / side) - FAR];
}

/** Least squares of `seen = coverage − d · gradient`: how much farther the picture lies, weighted by trust. */
function solve(samples: readonly EdgeSample[]): [number, number] {
  let [xx, xy, yy, bx, by] = [0, 0, 0, 0, 0];
  for (const s of samples) {
    const off = s.coverage - min(1.2, max(-0.2, s.seen));
    xx += s.trust * s.gx * s.gx;
    xy += s.trust * s.gx * s.gy;
    yy += s.trust * s.gy * s.gy;
    bx += s.trust * s.gx * off;
    by += s.trust * s.gy * off;
  }
  const det = xx * yy - xy * xy;
  return det > 1e-9 * (xx + yy) ** 2 ? [(bx * yy - by * xy) / det, (by * xx - bx * xy) / det] : [0, 0];
}

const TRUSTED = 0.5;

/**
 * Measures by how much a picture lies away from its IDs: first in whole pixels, by the edges that both have; then what is
 * left by how the coverage that the picture tells disagrees with that of the IDs (Lucas and Kanade, "An iterative image
 * registration technique", 1981, of coverage in place of grey values). Undefined if too few edges tell.
 */
export function measureShift(layer: CastLayer, light: Light): Shift | undefined {
  let [x, y] = wholeShift(layer, light);
  let rest: [number, number] = [0, 0];
  let samples: EdgeSample[] = [];
  for (let turn = 0; turn < 4; turn++) {
    samples = edgeSamples(layer, light, x, y).filter((s) => s.trust > TRUSTED && abs(s.seen - 0.5) < 1.5);
    if (samples.length < 200) return undefined;
    rest = solve(samples);
    const [mx, my] = rest.map((v) => Math.round(max(-2, min(2, v)))) as [number, number];
    if (mx === 0 && my === 0) break;
    [x, y] = [x + mx, y + my];
  }
  const halves = [0, 1].map((h) => solve(samples.filter((_, i) => (Math.floor(i / 25) & 1) === h)));
  const spread = Math.hypot(halves[0]![0] - halves[1]![0], halves[0]![1] - halves[1]![1]);
  return { x: x + rest[0], y: y + rest[1], samples: samples.length, spread };
}
