import type { ShownTile, Surface } from '../picture/messages.ts';

const SURFACES: readonly Surface[] = ['view', 'before', 'dim'];

/** Canvases of the picture's own size that hold what the worker computed. */
export class Surfaces {
  private readonly canvases = new Map<
    Surface,
    { canvas: HTMLCanvasElement; context: CanvasRenderingContext2D }
  >();

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    for (const surface of SURFACES) {
      const canvas = document.createElement('canvas');
      canvas.width = width;
      canvas.height = height;
      const context = canvas.getContext('2d')!;
      if (surface === 'dim') {
        context.fillStyle = 'rgb(0 0 0 / 45%)';
        context.fillRect(0, 0, width, height);
      }
      this.canvases.set(surface, { canvas, context });
    }
  }

  put(surface: Surface, tiles: ShownTile[]): void {
    const { context } = this.canvases.get(surface)!;
    for (const t of tiles) context.putImageData(new ImageData(t.data, t.width, t.height), t.x, t.y);
  }

  canvas(surface: Surface): HTMLCanvasElement {
    return this.canvases.get(surface)!.canvas;
  }
}
