/** What a file tells about the camera that its picture was seen with. */
export interface CameraView {
  /** Width of the display window at a distance of 1 from the camera: twice the tangent of half the angle of view. */
  width?: number | undefined;
  /** What depth is measured along: each pixel's own ray, or the axis that the camera looks along. */
  along?: 'ray' | 'axis' | undefined;
}
