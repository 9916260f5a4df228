import type { Counts } from '@zesty-crow/core/scopes';

/** Light of red, green and blue counts: together they are nearly white. */
const CHANNELS = [
  [226, 92, 74],
  [92, 190, 104],
  [88, 134, 236],
] as const;

/** How bright a cell of so many pixels is, 0 to 1: half as bright where there are as many as usual. */
const lit = (count: number, usual: number) => 1 - Math.exp((-0.7 * count) / usual);

/** What a filled cell holds in the mean. */
function usualOf(planes: readonly Float32Array[]): number {
  let [sum, cells] = [0, 0];
  for (const plane of planes)
    for (const n of plane)
      if (n > 0) {
        sum += n;
        cells++;
      }
  return cells ? sum / cells : 1;
}

/** Counts in one row as filled curves, one over the other. */
function drawCurves(
  context: CanvasRenderingContext2D,
  { width, planes }: Counts,
  w: number,
  h: number,
): void {
  // The ends hold all that lies beyond them.
  const most = Math.max(1, ...planes.map((p) => p.subarray(1, -1).reduce((a, b) => Math.max(a, b), 0)));
  context.globalCompositeOperation = 'lighter';
  planes.forEach((plane, k) => {
    const [r, g, b] = CHANNELS[k]!;
    context.fillStyle = `rgb(${r} ${g} ${b} / 75%)`;
    context.beginPath();
    context.moveTo(0, h);
    plane.forEach((n, i) => {
      // Rare values are to be seen beside frequent ones.
      const y = h - h * Math.min(1, Math.sqrt(n / most));
      context.lineTo((i / width) * w, y);
      context.lineTo(((i + 1) / width) * w, y);
    });
    context.lineTo(w, h);
    context.fill();
  });
  context.globalCompositeOperation = 'source-over';
}

/** Counts in cells as light. */
function drawCells(
  context: CanvasRenderingContext2D,
  { width, height, planes }: Counts,
  w: number,
  h: number,
): void {
  const usual = usualOf(planes);
  const image = new ImageData(width, height);
  for (let i = 0; i < width * height; i++) {
    if (planes.length === 1) {
      const l = lit(planes[0]![i]!, usual);
      image.data.fill(255 * l, 4 * i, 4 * i + 3);
    } else
      planes.forEach((plane, k) => {
        const l = lit(plane[i]!, usual);
        for (let c = 0; c < 3; c++) image.data[4 * i + c]! += l * CHANNELS[k]![c]!;
      });
    image.data[4 * i + 3] = 255;
  }
  const sheet = new OffscreenCanvas(width, height);
  sheet.getContext('2d')!.putImageData(image, 0, 0);
  context.drawImage(sheet, 0, 0, w, h);
}

/** Draws a scope's counts over all of a canvas. */
export function drawScope(context: CanvasRenderingContext2D, counts: Counts, w: number, h: number): void {
  context.fillStyle = 'rgb(0 0 0)';
  context.fillRect(0, 0, w, h);
  if (counts.height === 1) drawCurves(context, counts, w, h);
  else drawCells(context, counts, w, h);
}
