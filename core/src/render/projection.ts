import type { Camera } from '../scene/scene.ts';

/** Finds the pixels in which a camera sees points. */
export class Projection {
  /** Pixel coordinates of the last point, x to the right and y down. */
  screenX = 0;
  screenY = 0;
  private readonly wide: number;
  private readonly tall: number;

  constructor(
    private readonly camera: Camera,
    private readonly size: { width: number; height: number },
  ) {
    this.tall = camera.yfov > 0 ? Math.tan(camera.yfov / 2) : camera.yHalf;
    this.wide = (this.tall * size.width) / size.height;
  }

  /** Projects a point by a camera of this kind that stands where a matrix says. */
  project(m: Float64Array, x: number, y: number, z: number): void {
    const dx = x - m[12]!;
    const dy = y - m[13]!;
    const dz = z - m[14]!;
    const along = -(dx * m[8]! + dy * m[9]! + dz * m[10]!);
    const scale = this.camera.yfov > 0 ? 1 / Math.max(1e-9, along) : 1;
    const { width, height } = this.size;
    this.screenX = (((dx * m[0]! + dy * m[1]! + dz * m[2]!) * scale) / this.wide + 1) * 0.5 * width;
    this.screenY = (1 - ((dx * m[4]! + dy * m[5]! + dz * m[6]!) * scale) / this.tall) * 0.5 * height;
  }
}
