import type { ShownTile, Surface } from '../picture/messages.ts';

interface Sheet {
  canvas: HTMLCanvasElement;
  context: CanvasRenderingContext2D;
}

/** Canvases of the picture's own size that hold what the worker computed. Each is made when it is first wanted. */
export class Surfaces {
  private readonly sheets = new Map<Surface, Sheet>();
  /** Tiles of the picture have come: a preview would be a step back. */
  private started = false;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {}

  private sheet(surface: Surface): Sheet {
    let sheet = this.sheets.get(surface);
    if (!sheet) {
      const canvas = document.createElement('canvas');
      canvas.width = this.width;
      canvas.height = this.height;
      const context = canvas.getContext('2d')!;
      if (surface === 'dim') {
        context.fillStyle = 'rgb(0 0 0 / 45%)';
        context.fillRect(0, 0, this.width, this.height);
      }
      this.sheets.set(surface, (sheet = { canvas, context }));
    }
    return sheet;
  }

  /** A smaller picture that stands in until the pixels are there. */
  putPreview(picture: CanvasImageSource): void {
    if (this.started) return;
    const { context } = this.sheet('view');
    context.imageSmoothingQuality = 'high';
    context.drawImage(picture, 0, 0, this.width, this.height);
  }

  put(surface: Surface, tiles: ShownTile[]): void {
    if (surface === 'view') this.started = true;
    const { context } = this.sheet(surface);
    for (const t of tiles) context.putImageData(new ImageData(t.data, t.width, t.height), t.x, t.y);
  }

  canvas(surface: Surface): HTMLCanvasElement {
    return this.sheet(surface).canvas;
  }
}
