import { displayOf } from '../../planes/size.ts';
import type { AreaWindow } from '../correction.ts';

/** What depth is measured along and how wide the camera sees; `file` and 0 stand for what the file says. */
export interface DepthMeaning {
  along: string;
  /** Angle of view across the display window, in degrees. */
  view: number;
}

const { max, min, PI, sqrt, tan } = Math;

/**
 * How far away the pixels of a window are along the axis that the camera looks along, which is what a lens focuses by;
 * beyond the picture's border its last pixels repeat. Depth along each pixel's ray is brought there: by the cosine of
 * the angle between the two, where the angle of view is known.
 */
export function windowOfDepth(
  {
    area,
    margin,
    frame,
    planes: { width, height },
  }: Pick<AreaWindow, 'area' | 'margin' | 'frame' | 'planes'>,
  depth: Float32Array,
  { along, view }: DepthMeaning,
): Float32Array {
  const window = new Float32Array(width * height);
  const [left, top] = [area.x0 - margin, area.y0 - margin];
  const first = max(0, -left);
  const end = min(width, frame.width - left);
  const ray = (along === 'file' ? frame.view?.along : along) === 'ray';
  const wide = view > 0 ? 2 * tan((view * PI) / 360) : frame.view?.width;
  const { x0, y0, x1, y1 } = displayOf(frame);
  const pixel = ray && wide !== undefined ? wide / (x1 - x0) : 0;
  for (let y = 0; y < height; y++) {
    const py = min(frame.height - 1, max(0, top + y));
    const from = py * frame.width + left;
    const row = y * width;
    window.set(depth.subarray(from + first, from + end), row + first);
    if (pixel > 0) {
      const v = (py + 0.5 - (y0 + y1) / 2) * pixel;
      for (let x = first; x < end; x++) {
        const u = (left + x + 0.5 - (x0 + x1) / 2) * pixel;
        window[row + x]! /= sqrt(1 + u * u + v * v);
      }
    }
    window.fill(window[row + first]!, row, row + first);
    window.fill(window[row + end - 1]!, row + end, row + width);
  }
  return window;
}
