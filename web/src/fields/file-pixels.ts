/** A picture file that a browser can show, decoded to sRGB. */
export interface FilePixels {
  width: number;
  height: number;
  /** RGBA, row by row from the top. */
  data: Uint8ClampedArray;
}

/** Reads a PNG, JPEG or whatever else the browser shows; larger ones are reduced. Throws an Error that says what to do. */
export async function pixelsOfFile(file: Blob, most = 1600): Promise<FilePixels> {
  const bitmap = await createImageBitmap(file).catch(() => {
    throw new Error('This file is not a picture that a browser can show. Choose a PNG or JPEG.');
  });
  const scale = Math.min(1, most / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [bitmap.width, bitmap.height].map((n) => Math.max(1, Math.round(n * scale)));
  const context = new OffscreenCanvas(width!, height!).getContext('2d')!;
  context.drawImage(bitmap, 0, 0, width!, height!);
  bitmap.close();
  return { width: width!, height: height!, data: context.getImageData(0, 0, width!, height!).data };
}
