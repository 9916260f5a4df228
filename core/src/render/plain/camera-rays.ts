import type { Scene } from '../../scene/scene.ts';
import { filterOffsets } from '../pixel-filter.ts';
import type { Sampler } from './sampler.ts';
import type { RenderSettings } from '../settings.ts';
import { lengthOf } from './vector.ts';

/** Pairs of sample dimensions that a ray from the camera takes. */
const PAIR = { pixel: 0, lens: 1, time: 2 } as const;

/** Aims the rays of a scene's camera through the pixels of a picture. */
export class CameraRays {
  /** Origin and unit direction of the last ray that was aimed. */
  readonly ray = new Float64Array(6);
  /** Half the picture's width and height at distance one; in scene units for a parallel projection. */
  readonly wide: number;
  readonly tall: number;
  private readonly offset: (u: number) => number;
  /** The camera's matrix at the time of the ray; the opening matrix for a camera at rest. */
  private readonly matrix: Float64Array;
  private readonly moves: boolean;

  constructor(
    private readonly scene: Scene,
    private readonly settings: Pick<RenderSettings, 'width' | 'height' | 'filter'>,
  ) {
    const { camera, shutter } = scene;
    this.offset = filterOffsets(settings.filter);
    this.tall = camera.yfov > 0 ? Math.tan(camera.yfov / 2) : camera.yHalf;
    this.wide = (this.tall * settings.width) / settings.height;
    this.matrix = camera.matrix.slice();
    this.moves = shutter > 0 && camera.matrix.some((v, i) => v !== camera.matrixEnd[i]);
  }

  /** Aims the ray of a sample of pixel x, y, which the sampler has been started with; returns its time, 0 to 1. */
  aim(x: number, y: number, sampler: Sampler): number {
    const { ray, matrix: m, offset, settings } = this;
    const { camera, shutter } = this.scene;
    sampler.take(PAIR.pixel);
    const sx = (((x + 0.5 + offset(sampler.x)) / settings.width) * 2 - 1) * this.wide;
    const sy = (1 - ((y + 0.5 + offset(sampler.y)) / settings.height) * 2) * this.tall;
    let time = 0;
    if (shutter > 0) {
      sampler.take(PAIR.time);
      time = sampler.x * shutter;
    }
    if (this.moves)
      for (let i = 0; i < 16; i++)
        m[i] = camera.matrix[i]! + time * (camera.matrixEnd[i]! - camera.matrix[i]!);
    const parallel = camera.yfov <= 0;
    // In the camera's own frame, which looks along -z.
    let lx = parallel ? sx : 0;
    let ly = parallel ? sy : 0;
    let dx = parallel ? 0 : sx;
    let dy = parallel ? 0 : sy;
    if (camera.lensRadius > 0 && !parallel) {
      sampler.take(PAIR.lens);
      const r = Math.sqrt(sampler.x) * camera.lensRadius;
      const phi = 2 * Math.PI * sampler.y;
      lx = r * Math.cos(phi);
      ly = r * Math.sin(phi);
      dx -= lx / camera.focus;
      dy -= ly / camera.focus;
    }
    const vx = m[0]! * dx + m[4]! * dy - m[8]!;
    const vy = m[1]! * dx + m[5]! * dy - m[9]!;
    const vz = m[2]! * dx + m[6]! * dy - m[10]!;
    const length = 1 / lengthOf(vx, vy, vz);
    ray[0] = m[12]! + m[0]! * lx + m[4]! * ly;
    ray[1] = m[13]! + m[1]! * lx + m[5]! * ly;
    ray[2] = m[14]! + m[2]! * lx + m[6]! * ly;
    ray[3] = vx * length;
    ray[4] = vy * length;
    ray[5] = vz * length;
    return time;
  }
}
