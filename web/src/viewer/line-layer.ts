import type { Placement } from './placement.ts';

/** Segments x0, y0, x1, y1 of the picture onto the screen, as one path. */
function addSegments(
  context: CanvasRenderingContext2D,
  segments: Float32Array,
  { k, x, y }: Placement,
): void {
  context.beginPath();
  for (let i = 0; i < segments.length; i += 4) {
    context.moveTo(segments[i]! * k + x, segments[i + 1]! * k + y);
    context.lineTo(segments[i + 2]! * k + x, segments[i + 3]! * k + y);
  }
}

/** Strokes the path dark and light side by side, so that it is seen on any colour and adds no colour itself. */
export function strokeTwice(context: CanvasRenderingContext2D): void {
  context.lineWidth = 3;
  context.strokeStyle = 'rgb(0 0 0 / 75%)';
  context.stroke();
  context.lineWidth = 1.2;
  context.strokeStyle = 'rgb(255 255 255 / 95%)';
  context.stroke();
}

/** What a click would take. */
export function strokeHover(context: CanvasRenderingContext2D): void {
  context.lineWidth = 1.2;
  context.strokeStyle = 'rgb(240 217 74 / 95%)';
  context.stroke();
}

/**
 * An outline of many thousand segments as it was drawn last, until it is another one or stands elsewhere: drawn anew with
 * every move of the pointer it would take most of the time. Its canvas lies in the page's own memory, where short
 * segments are drawn far faster than by what draws pictures.
 */
export class LineLayer {
  private readonly canvas = document.createElement('canvas');
  private readonly context = this.canvas.getContext('2d', { willReadFrequently: true })!;

  /** @param stroke strokes the path that was laid */
  constructor(private readonly stroke: (context: CanvasRenderingContext2D) => void) {}

  private drawn: { segments: Float32Array; key: string } | undefined;

  of(
    segments: Float32Array,
    placement: Placement,
    width: number,
    height: number,
    density: number,
  ): HTMLCanvasElement {
    const key = [placement.k, placement.x, placement.y, width, height, density].join();
    if (this.drawn?.segments === segments && this.drawn.key === key) return this.canvas;
    this.drawn = { segments, key };
    const { canvas, context } = this;
    canvas.width = Math.round(width * density);
    canvas.height = Math.round(height * density);
    context.setTransform(density, 0, 0, density, 0, 0);
    // From afar segments are shorter than a line is wide: their ends need no rounding, which takes most of the time.
    context.lineCap = placement.k * density > 2 ? 'round' : 'butt';
    addSegments(context, segments, placement);
    this.stroke(context);
    return canvas;
  }
}
