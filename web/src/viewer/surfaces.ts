import { halvingsAt, MOST_HALVINGS, TILE, tilesAcross, type Area } from '@zesty-crow/core/planes';
import type { ShownTile, Surface } from '../picture/messages.ts';

interface Sheet {
  canvas: HTMLCanvasElement;
  context: CanvasRenderingContext2D;
}

interface Sheets {
  /** By number of halvings; each is made when it is first wanted. */
  byHalvings: (Sheet | undefined)[];
  /** For each tile the sheets that hold it as it is, a bit for each number of halvings. */
  known: Uint8Array;
}

/** What to draw: a canvas, and how many of the picture's pixels each of its pixels stands for. */
export interface Drawn {
  canvas: HTMLCanvasElement;
  step: number;
}

/** Canvases that hold what the worker computed: of the picture's own size, and of a half, a quarter, … of it. */
export class Surfaces {
  private readonly all = new Map<Surface, Sheets>();
  /** A smaller picture that stands in until tiles have come. */
  private preview: CanvasImageSource | undefined;
  private readonly tilesX: number;
  private readonly count: number;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.tilesX = tilesAcross(width);
    this.count = this.tilesX * tilesAcross(height);
  }

  private sheets(surface: Surface): Sheets {
    let sheets = this.all.get(surface);
    if (!sheets) {
      sheets = {
        byHalvings: new Array<undefined>(MOST_HALVINGS + 1).fill(undefined),
        // All is dimmed until a mask is there.
        known: new Uint8Array(this.count).fill(surface === 'dim' ? 0xff : 0),
      };
      this.all.set(surface, sheets);
    }
    return sheets;
  }

  private sheet(surface: Surface, halvings: number): Sheet {
    const sheets = this.sheets(surface);
    const there = sheets.byHalvings[halvings];
    if (there) return there;
    const canvas = document.createElement('canvas');
    canvas.width = Math.ceil(this.width / 2 ** halvings);
    canvas.height = Math.ceil(this.height / 2 ** halvings);
    // Tiles are put in far more often than the whole is drawn.
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    if (surface === 'dim') {
      context.fillStyle = 'rgb(0 0 0 / 45%)';
      context.fillRect(0, 0, canvas.width, canvas.height);
    } else {
      // What is seen at another size stands in, tile by tile.
      const other = sheets.byHalvings.find((s) => s !== undefined)?.canvas ?? this.preview;
      if (surface === 'view' && other) context.drawImage(other, 0, 0, canvas.width, canvas.height);
    }
    return (sheets.byHalvings[halvings] = { canvas, context });
  }

  /** Takes a smaller picture that stands in until the pixels are there. */
  putPreview(picture: CanvasImageSource): void {
    const { byHalvings } = this.sheets('view');
    if (byHalvings.every((s) => s === undefined)) this.preview = picture;
  }

  put(surface: Surface, tiles: ShownTile[]): void {
    const { known } = this.sheets(surface);
    for (const { tile, halvings, known: now, data } of tiles) {
      const side = TILE >> halvings;
      const x = (tile % this.tilesX) * side;
      const y = Math.floor(tile / this.tilesX) * side;
      this.sheet(surface, halvings).context.putImageData(new ImageData(data, side, side), x, y);
      known[tile] = now;
    }
  }

  /**
   * What to draw at a scale: the smallest sheet that is not smaller than what is seen; while its tiles are still to
   * come, the one that has most of the part that is seen.
   */
  drawn(surface: Surface, scale: number, seen: Area): Drawn {
    const { known, byHalvings } = this.sheets(surface);
    const wanted = halvingsAt(scale);
    const have = new Array<number>(MOST_HALVINGS + 1).fill(0);
    const last = Math.floor((this.height - 1) / TILE);
    const right = this.tilesX - 1;
    const at = (pixels: number, most: number) => Math.min(most, Math.max(0, Math.floor(pixels / TILE)));
    for (let ty = at(seen.y0, last); ty <= at(seen.y1, last); ty++)
      for (let tx = at(seen.x0, right); tx <= at(seen.x1, right); tx++)
        for (let h = 0; h <= MOST_HALVINGS; h++) have[h]! += (known[ty * this.tilesX + tx]! >> h) & 1;
    let best = wanted;
    for (let h = 0; h <= MOST_HALVINGS; h++) if (byHalvings[h] && have[h]! > have[best]!) best = h;
    return { canvas: this.sheet(surface, best).canvas, step: 2 ** best };
  }
}
