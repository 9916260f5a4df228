import { writeExr, type WriteOptions } from '../formats/exr/write.ts';
import type { ExrImage } from '../formats/exr/types.ts';

/** A mask as an EXR with one 32-bit float channel `Y`, in the windows of the picture it belongs to. */
export function maskToExr(
  mask: Float32Array,
  header: ExrImage['header'],
  options?: WriteOptions,
): Uint8Array {
  return writeExr(
    {
      dataWindow: header.dataWindow,
      displayWindow: header.displayWindow,
      pixelAspectRatio: header.pixelAspectRatio,
      channels: [{ name: 'Y', type: 'float', xSampling: 1, ySampling: 1, pLinear: false, data: mask }],
    },
    options,
  );
}
