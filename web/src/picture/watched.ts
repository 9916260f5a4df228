import { coveredBy, type Watched } from '@zesty-crow/core';
import type { ViewState } from './messages.ts';
import type { OpenFrame } from './open-frame.ts';

/** What pixels are looked at for warnings: as they are now and as rendered, and as far as warnings ask for it, masks. */
export const watchedIn = (open: OpenFrame, { warnings, changes, display }: ViewState): Watched => ({
  now: open.stack.result,
  rendered: open.planes,
  covered: warnings.includes('outside')
    ? coveredBy(
        changes.filter((c) => c.on).map((c) => open.stack.mask(c.id)),
        open.planes,
      )
    : undefined,
  guessed: warnings.includes('guessed') ? open.stack.guessed() : undefined,
  gain: 2 ** display.stops,
});
