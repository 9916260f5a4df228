import type { ShownTile, Surface } from '../picture/messages.ts';
import { halved } from './reduce.ts';

interface Sheet {
  canvas: HTMLCanvasElement;
  context: CanvasRenderingContext2D;
}

/** Halvings that are kept of a picture, so that from afar only what is seen has to be drawn. */
const LEVELS = 3;

/**
 * Canvases that hold what the worker computed: of the picture's own size, and of a half, a quarter, an eighth of it.
 * Each is made when it is first wanted.
 */
export class Surfaces {
  private readonly sheets = new Map<Surface, Sheet[]>();
  /** Tiles of the picture have come: a preview would be a step back. */
  private started = false;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {}

  private levels(surface: Surface): Sheet[] {
    let sheets = this.sheets.get(surface);
    if (!sheets) {
      sheets = Array.from({ length: LEVELS + 1 }, (_, level) => {
        const canvas = document.createElement('canvas');
        canvas.width = Math.ceil(this.width / 2 ** level);
        canvas.height = Math.ceil(this.height / 2 ** level);
        // Tiles are put in far more often than the whole is drawn.
        const context = canvas.getContext('2d', { willReadFrequently: true })!;
        if (surface === 'dim') {
          context.fillStyle = 'rgb(0 0 0 / 45%)';
          context.fillRect(0, 0, canvas.width, canvas.height);
        }
        return { canvas, context };
      });
      this.sheets.set(surface, sheets);
    }
    return sheets;
  }

  /** A smaller picture that stands in until the pixels are there. */
  putPreview(picture: CanvasImageSource): void {
    if (this.started) return;
    this.levels('view').forEach(({ context }, level) => {
      context.imageSmoothingQuality = 'high';
      context.drawImage(picture, 0, 0, this.width / 2 ** level, this.height / 2 ** level);
    });
  }

  put(surface: Surface, tiles: ShownTile[]): void {
    if (surface === 'view') this.started = true;
    const sheets = this.levels(surface);
    for (const t of tiles) {
      let { data, width: side } = t;
      sheets.forEach(({ context, canvas }, level) => {
        const [x, y] = [t.x >> level, t.y >> level];
        context.putImageData(new ImageData(data, side, side), x, y);
        if (level === LEVELS) return;
        data = halved(data, side, canvas.width - x, canvas.height - y);
        side >>= 1;
      });
    }
  }

  /**
   * What to draw at a scale: the smallest canvas that is not smaller than what is seen, and how many of the picture's
   * pixels each of its pixels stands for.
   */
  canvas(surface: Surface, scale: number): { canvas: HTMLCanvasElement; step: number } {
    const level = Math.min(LEVELS, Math.max(0, Math.floor(Math.log2(1 / scale))));
    return { canvas: this.levels(surface)[level]!.canvas, step: 2 ** level };
  }
}
