import { halvingsAt, sameValue } from '@zesty-crow/core';
import type { ViewDisplay, ViewState } from './messages.ts';
import { modeOf } from './surfaces/list.ts';

/** What another view makes due. */
export interface ViewDifference {
  /** All tiles of the large surface, and of what is shown as before, are others. */
  view: boolean;
  before: boolean;
  /** Pixels are to be looked at again for warnings: at once, or when nothing moves. */
  warnings: boolean;
  watched: boolean;
  /** The open change's mask is another; `whole` if it is that of another change. */
  mask: boolean;
  whole: boolean;
  /** Outlines are seen finer or coarser. */
  outline: boolean;
}

const sameDisplay = (a: ViewDisplay, b: ViewDisplay) =>
  a.stops === b.stops && a.gamma === b.gamma && a.transform === b.transform && a.table === b.table;

/** Of a change, what makes its mask. */
const MASK = ['who', 'edge', 'fence', 'brush', 'over'] as const;

function sameMask(last: ViewState | undefined, now: ViewState): boolean {
  const open = (view: ViewState | undefined) => view?.changes.find((c) => c.id === view.openChange);
  const [a, b] = [open(last), open(now)];
  return MASK.every((key) => sameValue(a?.[key], b?.[key])) && sameValue(last?.openHeading, now.openHeading);
}

/** What differs between two views, as far as surfaces are concerned; `last` is undefined for a frame just opened. */
export function differenceOf(last: ViewState | undefined, now: ViewState): ViewDifference {
  const mode = modeOf(now);
  const display = !last || !sameDisplay(last.display, now.display);
  const another = last?.openChange !== now.openChange;
  return {
    view:
      display || last.mode !== now.mode || last.layer !== now.layer || (mode.changed?.(last, now) ?? false),
    // Only one of two modes shows something else as before.
    before: display || (modeOf(last).before === undefined) !== (mode.before === undefined),
    warnings: last !== undefined && last.warnings.join() !== now.warnings.join(),
    watched: display,
    mask: another || !sameMask(last, now),
    whole: another || !last,
    outline: last !== undefined && halvingsAt(last.scale) !== halvingsAt(now.scale),
  };
}
