import type { Area } from '../src/planes/area.ts';
import type { RgbPlanes } from '../src/planes/rgb-planes.ts';
import { fillGaps } from '../src/render/fill-gaps.ts';
import { Film } from '../src/render/film.ts';
import type { RenderSettings } from '../src/render/settings.ts';
import type { TileSums } from '../src/render/tile-sums.ts';
import type { Rgb, Scene } from '../src/scene/scene.ts';
import type { Attention, PassLook } from './attention.ts';

/** Least milliseconds between two looks at the picture, and how many times as long as one takes. */
const LOOK_EVERY = 1500;
const LOOK_SHARE = 20;
/** From so many samples on, pixels with half as many do not stand out: the picture is shown in the middle of a round, too. */
const ALIKE = 16;

const cornerOf = ({ x0, y0 }: Area) => `${x0} ${y0}`;

/** What a frame looks like so far. */
export interface Look {
  /** Scene-linear, or, for a pass, as shown on a screen. */
  planes: RgbPlanes;
  /** Id of the pass that is shown in place of the picture. */
  pass?: string;
}

/**
 * What a frame looks like while it is rendered: the picture, or the pass that one wishes to see; of IDs alone each object
 * is in a grey of its own. It is told first when the whole frame has been gone over once, however coarsely, and never with
 * gaps.
 */
export class GrowingPicture {
  private readonly planes: [Float32Array<ArrayBuffer>, Float32Array<ArrayBuffer>, Float32Array<ArrayBuffer>];
  /** Pixels that have a sample. */
  private readonly known: Uint8Array;
  private readonly greys: readonly Rgb[];
  private next = 0;
  private shown: { pass: string; look: PassLook } | undefined;
  /** Rectangles that still show what was shown before, because they were being worked on; by their corners. */
  private readonly stale = new Set<string>();
  /** It has been told once. */
  private begun = false;

  constructor(
    private readonly scene: Scene,
    private readonly settings: RenderSettings,
    private readonly tell: (look: Look) => void,
    private readonly attention?: Attention,
  ) {
    const pixels = settings.width * settings.height;
    // Of a patch only some pixels are rendered; the others are mid grey.
    const grey = settings.patch ? 0.18 : 0;
    const plane = () => new Float32Array(pixels).fill(grey);
    this.planes = [plane(), plane(), plane()];
    this.known = new Uint8Array(pixels);
    this.greys = scene.parts.map((_, i): Rgb => {
      const own = 0.05 + 0.6 * ((i * 0.618034) % 1);
      return [own, own, own];
    });
    this.shown = attention?.look();
  }

  /**
   * Takes over what a rectangle looks like.
   * @param upTo the samples that pixels have after this round
   */
  take(tile: TileSums, upTo: number): void {
    const { width } = this.settings;
    const { x0, x1, y0, y1 } = tile.area;
    this.draw(tile);
    const fresh = this.stale.delete(cornerOf(tile.area)) && this.stale.size === 0;
    // Later every pixel has one.
    if (upTo <= 1)
      for (let y = y0, p = 0; y < y1; y++)
        for (let x = x0; x < x1; x++, p++) if (tile.samples[p]! > 0) this.known[y * width + x] = 1;
    if (fresh) this.showNow();
    else if (upTo > ALIKE) this.show();
  }

  /** The whole frame has been gone over once more; the first times nobody is kept waiting. */
  endRound(upTo: number): void {
    if (upTo <= 1) this.next = 0;
    this.begun = true;
    this.show();
  }

  /**
   * Shows at once what one wishes to see, if that is something else now.
   * @param tiles those that are not being worked on
   * @param busy where the others are: as soon as they have come, too, all of it is shown
   */
  attend(tiles: Iterable<TileSums>, busy: Iterable<Area>): void {
    const shown = this.attention?.look();
    if (shown?.pass === this.shown?.pass) return;
    this.shown = shown;
    for (const tile of tiles) this.draw(tile);
    this.stale.clear();
    for (const area of busy) this.stale.add(cornerOf(area));
    if (this.stale.size === 0) this.showNow();
  }

  private showNow(): void {
    this.next = 0;
    if (this.begun) this.show();
  }

  private draw(tile: TileSums): void {
    const { width, light } = this.settings;
    const { x0, x1, y0, y1 } = tile.area;
    const part = new Film(this.scene, this.settings, [tile]);
    if (light && !this.shown) return void part.light(undefined, this.planes);
    for (const plane of this.planes)
      for (let y = y0; y < y1; y++) plane.fill(0, y * width + x0, y * width + x1);
    part.mix(this.shown?.look.colours ?? this.greys, this.planes, this.shown?.look.layer);
  }

  private show(): void {
    const started = performance.now();
    if (started < this.next || this.stale.size > 0) return;
    const { width, height } = this.settings;
    // What a patch leaves out is no gap.
    const gaps = !this.settings.patch && this.known.includes(0);
    const [r, g, b] = gaps ? this.planes.map((p) => p.slice()) : this.planes;
    if (gaps) fillGaps([r!, g!, b!], this.known, width, height);
    this.tell({
      planes: { width, height, r: r!, g: g!, b: b! },
      ...(this.shown ? { pass: this.shown.pass } : {}),
    });
    const took = performance.now() - started;
    this.next = performance.now() + Math.max(LOOK_EVERY, LOOK_SHARE * took);
  }
}
