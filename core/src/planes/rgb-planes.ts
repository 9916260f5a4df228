import type { CameraView } from './camera-view.ts';
import type { Size } from './size.ts';

/** Scene-linear colour planes, row-major. */
export interface RgbPlanes extends Size {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  /** Number of the frame, where the picture is one of a sequence. */
  frameNumber?: number | undefined;
  /** What the file tells about the camera. */
  view?: CameraView | undefined;
  /** How these colours become Rec. 709 for the screen, three rows of a matrix; absent where they are that. */
  toScreen?: readonly (readonly number[])[] | undefined;
  /** Chromaticity of their white, CIE (x, y), where it is not D65: on the screen it becomes that. */
  white?: readonly [x: number, y: number] | undefined;
}
