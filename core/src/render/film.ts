import {
  floatsToHalves,
  makeFloat,
  makeString,
  writeExr,
  type ExrChannel,
  type WriteOptions,
} from '../exr/index.ts';
import { encodeCryptomatte, idOfName, type RankPlanes } from '../idlayers/index.ts';
import type { Area } from '../display/view.ts';
import type { Scene } from '../scene/index.ts';
import type { RenderSettings } from './settings.ts';
import type { TileResult } from './tile.ts';

/** Edge of the rectangles in which a picture is rendered. */
const RENDER_TILE = 32;

/** The rectangles of a picture, from its middle outwards: what is looked at first comes first. */
export function renderTiles(width: number, height: number): Area[] {
  const areas: Area[] = [];
  for (let y0 = 0; y0 < height; y0 += RENDER_TILE)
    for (let x0 = 0; x0 < width; x0 += RENDER_TILE)
      areas.push({ x0, y0, x1: Math.min(x0 + RENDER_TILE, width), y1: Math.min(y0 + RENDER_TILE, height) });
  const far = (a: Area) => Math.hypot((a.x0 + a.x1) / 2 - width / 2, (a.y0 + a.y1) / 2 - height / 2);
  return areas.sort((a, b) => far(a) - far(b));
}

/** Collects rendered rectangles into whole planes. */
export class Film {
  readonly colour: Float32Array[];
  readonly objects: RankPlanes;
  readonly materials: RankPlanes;
  rays = 0;

  constructor(private readonly settings: RenderSettings) {
    const { width, height } = settings;
    const ranks = settings.ids ? settings.ranks : 0;
    const floats = (n: number) => Array.from({ length: n }, () => new Float32Array(width * height));
    const planes = (): RankPlanes => ({
      width,
      height,
      ids: Array.from({ length: ranks }, () => new Uint32Array(width * height)),
      coverage: floats(ranks),
    });
    this.colour = floats(settings.idsOnly ? 0 : 4);
    this.objects = planes();
    this.materials = planes();
  }

  add(tile: TileResult): void {
    const put = (to: (Float32Array | Uint32Array)[], from: (Float32Array | Uint32Array)[]) =>
      to.forEach((plane, i) => {
        const { x0, x1, y0, y1 } = tile.area;
        const wide = x1 - x0;
        for (let y = y0; y < y1; y++)
          plane.set(from[i]!.subarray((y - y0) * wide, (y - y0 + 1) * wide), y * this.settings.width + x0);
      });
    put(this.colour, tile.colour);
    put(this.objects.ids, tile.objectIds);
    put(this.objects.coverage, tile.objectCoverage);
    put(this.materials.ids, tile.materialIds);
    put(this.materials.coverage, tile.materialCoverage);
    this.rays += tile.rays;
  }

  /** One EXR: beauty with alpha in half, CryptoObject and CryptoMaterial in float with embedded manifests. */
  toExr(scene: Scene, options?: WriteOptions): Uint8Array {
    const { width, height, samples, seed, filter } = this.settings;
    const channels: ExrChannel[] = this.colour.map((plane, i) => ({
      name: 'RGBA'[i]!,
      type: 'half',
      xSampling: 1,
      ySampling: 1,
      pLinear: false,
      data: floatsToHalves(plane),
    }));
    const attributes = [
      makeString('software', 'Zesty Crow'),
      makeString('zestyCrow/filter', filter),
      makeFloat('zestyCrow/samples', samples),
      makeFloat('zestyCrow/seed', seed),
    ];
    if (this.settings.ids)
      for (const [name, planes, things] of [
        ['CryptoObject', this.objects, scene.objects],
        ['CryptoMaterial', this.materials, scene.materials],
      ] as const) {
        const layer = encodeCryptomatte(
          name,
          planes,
          things.map((t) => [t.name, idOfName(t.name)] as const),
        );
        channels.push(...layer.channels);
        attributes.push(...layer.attributes);
      }
    const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
    return writeExr({ dataWindow: window, channels, attributes }, options);
  }
}
