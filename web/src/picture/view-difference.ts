import { halvingsAt } from '@zesty-crow/core';
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

function maskKey(view: ViewState | undefined): string {
  const c = view?.changes.find((change) => change.id === view.openChange);
  return JSON.stringify([c?.who, c?.edge, c?.fence, c?.brush, c?.over, view?.openHeading]);
}

/** What differs between two views, as far as surfaces are concerned; `last` is undefined for a frame just opened. */
export function differenceOf(last: ViewState | undefined, now: ViewState): ViewDifference {
  const mode = modeOf(now);
  const display = !last || !sameDisplay(last.display, now.display);
  const another = last?.openChange !== now.openChange;
  return {
    view:
      display || last.look !== now.look || last.layer !== now.layer || (mode.changed?.(last, now) ?? false),
    // Only one of two modes shows something else as before.
    before: display || (modeOf(last).before === undefined) !== (mode.before === undefined),
    warnings: last !== undefined && last.warnings.join() !== now.warnings.join(),
    watched: display,
    mask: another || maskKey(last) !== maskKey(now),
    whole: another || !last,
    outline: last !== undefined && halvingsAt(last.scale) !== halvingsAt(now.scale),
  };
}
