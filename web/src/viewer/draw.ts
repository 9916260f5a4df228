import type { Area } from '@zesty-crow/core/planes';
import { strokeTwice, type LineLayer } from './line-layer.ts';
import type { Placement } from './placement.ts';
import type { Surface } from '../picture/messages.ts';
import type { Surfaces } from './surfaces.ts';

export interface Scene {
  surfaces: Surfaces;
  placement: Placement;
  /** Device pixels per CSS pixel. */
  density: number;
  dim: boolean;
  outline: Float32Array | undefined;
  hover: Float32Array | undefined;
  /** Where both are kept as they were drawn. */
  lines: Readonly<Record<'outline' | 'hover', LineLayer>>;
  /** A line that is being drawn, in picture pixels, and a circle around a place of the screen. */
  drawn: readonly { x: number; y: number }[] | undefined;
  circle: { x: number; y: number; radius: number } | undefined;
  /** Marks of what is wrong over the picture. */
  warn: boolean;
  /** The mask in the place of the picture. */
  mask: boolean;
  /** Show the picture as rendered: everywhere, or left of this share of the viewer's width. */
  before: boolean | number;
  /** Where the files end too soon: there are no pixels there. */
  missing: readonly Area[];
  /** The frame, in pixels of the picture, where it is not the whole picture. */
  frame: { x: number; y: number; width: number; height: number } | undefined;
}

/** Slanted grey lines over places that are not in the file, which nobody takes for a picture. */
function hatch(context: CanvasRenderingContext2D, { x0, y0, x1, y1 }: Area, { k, x, y }: Placement): void {
  const [left, top, width, height] = [x0 * k + x, y0 * k + y, (x1 - x0) * k, (y1 - y0) * k];
  context.save();
  context.beginPath();
  context.rect(left, top, width, height);
  context.clip();
  context.fillStyle = 'rgb(74 74 74)';
  context.fillRect(left, top, width, height);
  context.strokeStyle = 'rgb(128 128 128)';
  context.lineWidth = 2;
  context.beginPath();
  for (let at = left - height; at < left + width; at += 14) {
    context.moveTo(at, top + height);
    context.lineTo(at + height, top);
  }
  context.stroke();
  context.restore();
}

/** Draws the viewer: picture, dimming, outlines, divider. Sizes are CSS pixels. */
export function drawViewer(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  scene: Scene,
): void {
  const { surfaces, placement, density } = scene;
  context.setTransform(density, 0, 0, density, 0, 0);
  context.clearRect(0, 0, width, height);
  // Close up, pixels are shown as they are; from afar they were averaged before.
  context.imageSmoothingEnabled = placement.k * density < 1.5;
  context.imageSmoothingQuality = 'low';
  const { k, x, y } = placement;
  const seen = { x0: -x / k, y0: -y / k, x1: (width - x) / k, y1: (height - y) / k };
  const picture = (surface: Surface) => {
    const { canvas, step } = surfaces.drawn(surface, k * density, seen);
    const scale = step * k;
    context.drawImage(canvas, x, y, canvas.width * scale, canvas.height * scale);
  };

  if (scene.mask) return picture('mask');
  picture(scene.before === true ? 'before' : 'view');
  if (typeof scene.before === 'number') {
    context.save();
    context.beginPath();
    context.rect(0, 0, scene.before * width, height);
    context.clip();
    picture('before');
    context.restore();
  }
  for (const area of scene.missing) hatch(context, area, placement);
  // Comparing is judging: nothing is dimmed then.
  if (scene.dim && scene.before === false) picture('dim');
  if (scene.warn && scene.before !== true) picture('warn');
  for (const which of ['outline', 'hover'] as const) {
    const segments = scene[which];
    if (!segments?.length || scene.before === true) continue;
    const drawn = scene.lines[which].of(segments, placement, width, height, density);
    context.drawImage(drawn, 0, 0, width, height);
  }
  if (scene.drawn || scene.circle) {
    context.beginPath();
    scene.drawn?.forEach((p, i) => context[i ? 'lineTo' : 'moveTo'](p.x * k + x, p.y * k + y));
    if (scene.drawn) context.closePath();
    const { circle } = scene;
    if (circle) context.arc(circle.x, circle.y, circle.radius * k, 0, 2 * Math.PI);
    strokeTwice(context);
  }
  if (scene.frame) {
    context.lineWidth = 1;
    context.setLineDash([4, 4]);
    context.strokeStyle = 'rgb(230 230 230 / 80%)';
    const f = scene.frame;
    context.strokeRect(
      f.x * placement.k + placement.x,
      f.y * placement.k + placement.y,
      f.width * placement.k,
      f.height * placement.k,
    );
    context.setLineDash([]);
  }
}
