import { readFileSync } from 'node:fs';
import { readExr } from '../src/formats/exr/read.ts';
import type { ExrImage } from '../src/formats/exr/types.ts';
import { writeExr } from '../src/formats/exr/write.ts';
import type { RankPlanes } from '../src/idlayers/rank-planes.ts';
import { nodeZlib } from '../node/zlib.ts';

/** The ID of what stands behind all others. */
export const WALL = 0x3f000001;

/** A frame of round things in rows, with soft edges of two IDs, and 6 ranks. */
export function roundThings(width: number, height: number, members: number): RankPlanes {
  const planes: RankPlanes = {
    width,
    height,
    ids: Array.from({ length: 6 }, () => new Uint32Array(new SharedArrayBuffer(4 * width * height))),
    coverage: Array.from({ length: 6 }, () => new Float32Array(new SharedArrayBuffer(4 * width * height))),
  };
  const cell = Math.sqrt((width * height) / members);
  const across = Math.ceil(width / cell);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const cx = Math.floor(x / cell);
      const cy = Math.floor(y / cell);
      const d = Math.hypot(x - (cx + 0.5) * cell, y - (cy + 0.5) * cell) - cell * 0.42;
      const c = Math.min(1, Math.max(0, 0.5 - d / 3));
      const own = Math.imul(cy * across + cx + 1, 0x9e3779b1) >>> 0;
      const front = c >= 0.5;
      planes.ids[0]![p] = front ? own : WALL;
      planes.coverage[0]![p] = front ? c : 1 - c;
      if (c > 0 && c < 1) {
        planes.ids[1]![p] = front ? WALL : own;
        planes.coverage[1]![p] = front ? 1 - c : c;
      }
    }
  return planes;
}

const demo = (name: string) =>
  new Uint8Array(readFileSync(new URL(`../../demo/files/${name}`, import.meta.url)));

/** The demo's table as it was rendered: 28 channels. */
export const demoPicture = (): ExrImage => readExr(demo('honey_table_v1.exr'));
export const demoScene = (): Uint8Array => demo('honey_table.glb');

/** A picture repeated to so many times its width and height. */
export function repeated(image: ExrImage, times: number): ExrImage {
  const { dataWindow: own } = image.header;
  const [w, h] = [own.xMax - own.xMin + 1, own.yMax - own.yMin + 1];
  const [width, height] = [w * times, h * times];
  const channels = image.channels.map((c) => {
    const data = new (c.data.constructor as new (n: number) => typeof c.data)(width * height);
    for (let y = 0; y < height; y++)
      for (let k = 0; k < times; k++)
        data.set(c.data.subarray((y % h) * w, ((y % h) + 1) * w) as never, y * width + k * w);
    return { ...c, data };
  });
  const dataWindow = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  return { header: { ...image.header, dataWindow, displayWindow: dataWindow }, channels };
}

export const fileOf = ({ header, channels }: ExrImage, compression: string): Uint8Array =>
  writeExr({ ...header, channels }, { compression, zlib: nodeZlib });
