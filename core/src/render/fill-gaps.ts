/**
 * Fills the pixels of a plane of which nothing is known yet from those around them: means over twice as large, four times
 * as large, … squares, each from what is known in it, and between the middles of the squares what lies between. So a frame
 * of which one pixel in sixteen has a sample is seen as a whole, only softer, and no rectangle stands out.
 * @param planes values, row-major; what is known stays as it is
 * @param known 1 for each pixel that has a value, 0 for the others; where none has, nothing is filled
 */
export function fillGaps(
  planes: readonly Float32Array[],
  known: Uint8Array,
  width: number,
  height: number,
): void {
  if (!known.includes(1) || !known.includes(0)) return;
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const counts = new Uint8Array(w * h);
  const below = planes.map(() => new Float32Array(w * h));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (known[y * width + x] === 0) continue;
      const at = (y >> 1) * w + (x >> 1);
      counts[at]!++;
      for (const [k, plane] of planes.entries()) below[k]![at]! += plane[y * width + x]!;
    }
  for (const plane of below) for (let i = 0; i < plane.length; i++) plane[i]! /= Math.max(1, counts[i]!);
  const there = counts.map((n) => (n > 0 ? 1 : 0));
  fillGaps(below, there, w, h);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (known[at] === 1) continue;
      // Three quarters of the square that it lies in, a quarter of the one beside it, both ways.
      const x0 = x >> 1;
      const y0 = y >> 1;
      const x1 = Math.min(w - 1, Math.max(0, x0 + (x % 2 ? 1 : -1)));
      const y1 = Math.min(h - 1, Math.max(0, y0 + (y % 2 ? 1 : -1)));
      for (const [k, plane] of planes.entries()) {
        const b = below[k]!;
        plane[at] =
          0.5625 * b[y0 * w + x0]! + 0.1875 * (b[y0 * w + x1]! + b[y1 * w + x0]!) + 0.0625 * b[y1 * w + x1]!;
      }
    }
}
