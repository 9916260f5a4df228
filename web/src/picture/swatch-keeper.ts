import {
  boundsUnder,
  displayByte,
  meanUnder,
  sameValue,
  smallMask,
  smallPicture,
  through,
  type DisplayUse,
  type ListedChange,
  type RgbPlanes,
} from '@zesty-crow/core';
import { breathe } from '@zesty-crow/core/crew';
import type { Swatches, ViewState } from './messages.ts';
import type { OpenFrame } from './open-frame.ts';

/** Longer side of the small picture of a change's part, and of a mask in the sheet, for screens of twice the density. */
const SMALL_PART = 72;
const SMALL_MASK = 112;

/** Of a change, what makes its colours. */
const MADE_OF = ['on', 'who', 'edge', 'fence', 'brush', 'over', 'plainEdges', 'corrections'] as const;

const css = (rgb: readonly number[]) => `rgb(${rgb.map((v) => Math.round(displayByte(v))).join(' ')})`;

/** Mean colours and small pictures under the masks of changes: made anew for changes that are others, when nothing moves. */
export class SwatchKeeper {
  private swatches: Swatches = {};
  private readonly stale = new Set<string>();
  /** Each change as it was when it was last looked at. */
  private readonly known = new Map<string, ListedChange>();

  reset(): void {
    this.swatches = {};
    this.known.clear();
  }

  /** Looks which changes are others; gives those that were edited. */
  note({ changes, openChange }: ViewState): string[] {
    return changes.flatMap((c) => {
      const last = this.known.get(c.id);
      const edited = last === undefined || MADE_OF.some((key) => !sameValue(last[key], c[key]));
      if (edited || c.id === openChange) this.stale.add(c.id);
      this.known.set(c.id, c);
      return edited ? [c.id] : [];
    });
  }

  /** Makes what is stale; undefined if something else has to be done meanwhile. */
  async refresh(open: OpenFrame, display: DisplayUse, idle: () => boolean): Promise<Swatches | undefined> {
    for (const id of [...this.stale]) {
      if (!idle()) return undefined;
      const mask = open.stack.mask(id);
      if (!mask) continue;
      const { toScreen } = open.planes;
      const means = meanUnder(mask, [open.planes, open.stack.result])?.map((rgb) =>
        toScreen ? through(toScreen, rgb) : rgb,
      );
      const area = boundsUnder(mask);
      const small = (of: RgbPlanes) => smallPicture(of, area!, SMALL_PART, display);
      this.swatches[id] = means && {
        before: css(means[0]!),
        after: css(means[1]!),
        mean: means[1]!,
        pictures: area && {
          before: small(open.planes),
          after: small(open.stack.result),
          mask: smallMask(mask, SMALL_MASK),
        },
      };
      this.stale.delete(id);
      await breathe();
    }
    return { ...this.swatches };
  }
}
