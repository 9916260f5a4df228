import type { RgbPlanes } from '../../planes/rgb-planes.ts';
import { LIGHTLESS, type Focus, type Lens, type LensWindow } from '../../planes/lens.ts';

const { max, min } = Math;
/** What covers a pixel up to so much hides all that lies behind it. */
const WHOLE = 1 - 2 ** -10;

/**
 * What is blurred in front lets light past from behind, also from places that it hides in the picture. There, what lies
 * behind it as far around as its own light is spread stands for what is hidden.
 */
function layWhatIsHidden(lens: Lens, { area, margin, planes }: LensWindow, sharp: number): void {
  const [across, down] = [area.x1 - area.x0, area.y1 - area.y0];
  const map = new Uint8Array(across * down).fill(LIGHTLESS);
  const boxes = new Map<number, { x0: number; y0: number; x1: number; y1: number }>();
  const [laid, order] = [lens.laid(), lens.order()];
  for (let y = 0, to = 0; y < down; y++)
    for (let x = 0; x < across; x++, to++) {
      const layer = order[(y + margin) * planes.width + x + margin]!;
      if (layer >= sharp || laid[4 * to + 3]! > WHOLE) continue;
      map[to] = layer;
      const [px, py] = [area.x0 + x, area.y0 + y];
      const box = boxes.get(layer);
      if (!box) boxes.set(layer, { x0: px, y0: py, x1: px + 1, y1: py + 1 });
      else {
        box.x0 = min(box.x0, px);
        box.x1 = max(box.x1, px + 1);
        box.y1 = py + 1;
      }
    }
  for (const [layer, box] of boxes) lens.layBehind(layer, box, map);
}

/** Writes a window's area as a lens sees it. */
export function layFromFront(lens: Lens, window: LensWindow, focus: Focus, out: RgbPlanes): void {
  lens.begin(window, focus);
  lens.counts().forEach((count, layer) => {
    if (count > 0) lens.lay(layer);
  });
  layWhatIsHidden(lens, window, focus.apertures.length - 1);
  lens.finish(out);
}
