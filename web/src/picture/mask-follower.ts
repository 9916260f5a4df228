import { halvingsAt, maskContour } from '@zesty-crow/core';
import type { ViewState } from './messages.ts';
import type { OpenFrame } from './open-frame.ts';
import { modeOf } from './surfaces/list.ts';

/** What follows the open change's mask: dimming, its outline, and modes that show it. */
export class MaskFollower {
  /** The outline is another one than was told. */
  private outlineDue = false;

  constructor(private readonly tell: (outline: Float32Array) => void) {}

  /**
   * The mask is another one: marks the tiles that show it.
   * @param whole it is the mask of another change, or of another picture
   */
  moved(open: OpenFrame, view: ViewState, whole: boolean): void {
    const { openChange } = view;
    const { shown, dimmed, stack } = open;
    const mode = modeOf(view);
    // Unrefined it may have changed elsewhere.
    if (mode.before) shown.before.touch();
    const mask = stack.mask(openChange);
    const moved = openChange === undefined ? undefined : stack.takeMoved(openChange);
    for (let t = 0; t < dimmed.length; t++) {
      const has = mask?.has(t) ? 1 : 0;
      const another = has !== dimmed[t];
      dimmed[t] = has;
      if (!whole && !another && !moved?.[t]) continue;
      if (has || another) shown.dim.touch(t);
      shown.mask.touch(t);
      if (mode.byMask) shown.view.touch(t);
    }
    this.tellOutline(open, view);
  }

  /** Tells an outline that waited until it was wanted. */
  catchUp(open: OpenFrame, view: ViewState): void {
    if (this.outlineDue && view.wanted.outline) this.tellOutline(open, view);
  }

  /** Tells the outline, as fine as it is seen; while nobody wants it, it waits. */
  tellOutline(open: OpenFrame, view: ViewState): void {
    this.outlineDue = !view.wanted.outline;
    if (this.outlineDue) return;
    const mask = open.stack.mask(view.openChange);
    this.tell(mask ? maskContour(mask, halvingsAt(view.scale)) : new Float32Array(0));
  }
}
