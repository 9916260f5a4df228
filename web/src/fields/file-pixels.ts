/** A picture file that a browser can show, decoded to sRGB. */
export interface FilePixels {
  width: number;
  height: number;
  /** RGBA, row by row from the top. */
  data: Uint8ClampedArray;
}

/** Memory that a frame may take here; no other picture may take more. */
const MOST_MEMORY = 3 * 2 ** 30;
/** No picture that a browser shows has so many bytes. */
const MOST_BYTES = 512 * 2 ** 20;

/** Refuses what would need too much memory, by what the file says of itself: a few kilobytes may claim gigabytes. */
async function checkSize(file: Blob): Promise<void> {
  let needed = Infinity;
  if (file.size <= MOST_BYTES) {
    // Loaded when a file is chosen.
    const { memoryForFile } = await import('@zesty-crow/core/version');
    // 0 for a format that only the browser knows, and for damage, which the browser tells.
    needed = await memoryForFile(new Uint8Array(await file.arrayBuffer())).catch(() => 0);
  }
  if (needed > MOST_MEMORY)
    throw new Error('This picture is too large to be opened here. Save it smaller and choose it again.');
}

/** A picture file as the browser shows it. Throws an Error that says what to do. */
export async function bitmapOfFile(file: Blob): Promise<ImageBitmap> {
  await checkSize(file);
  return createImageBitmap(file).catch(() => {
    throw new Error('This file is not a picture that a browser can show. Choose a PNG or JPEG.');
  });
}

/** Reads a PNG, JPEG or whatever else the browser shows; larger ones are reduced. Throws an Error that says what to do. */
export async function pixelsOfFile(file: Blob, most = 1600): Promise<FilePixels> {
  const bitmap = await bitmapOfFile(file);
  const scale = Math.min(1, most / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [bitmap.width, bitmap.height].map((n) => Math.max(1, Math.round(n * scale)));
  const context = new OffscreenCanvas(width!, height!).getContext('2d')!;
  context.drawImage(bitmap, 0, 0, width!, height!);
  bitmap.close();
  return { width: width!, height: height!, data: context.getImageData(0, 0, width!, height!).data };
}
