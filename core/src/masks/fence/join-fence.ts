import { amountOf } from '../../fields/amount.ts';
import type { FieldValue } from '../../fields/field.ts';
import type { Area } from '../../planes/area.ts';
import type { Size } from '../../planes/size.ts';
import type { FenceKind } from './fence-kind.ts';

const { max, min } = Math;

/** A shape that is on, with every value. */
export interface FenceShape {
  kind: FenceKind;
  values: Record<string, FieldValue>;
}

/**
 * How much of each pixel lies inside a fence, 0 to 1: its shapes one after the other, as fuzzy sets (Zadeh 1965), so
 * that what overlaps does not add up. The first shape begins with nothing if it is added, otherwise with all.
 */
export function insideOf(shapes: readonly FenceShape[], frame: Size, area: Area, out: Float32Array): void {
  const one = new Float32Array(out.length);
  out.fill(shapes[0]?.values['join'] === 'add' ? 0 : 1);
  for (const { kind, values } of shapes) {
    kind.rasterise(values, frame, area, one);
    const amount = amountOf(values);
    const { join } = values;
    for (let i = 0; i < out.length; i++) {
      const cover = one[i]! * amount;
      if (join === 'cut') out[i] = min(out[i]!, 1 - cover);
      else if (join === 'inside') out[i] = min(out[i]!, 1 - amount + cover);
      else out[i] = max(out[i]!, cover);
    }
  }
}
