import { isNothing } from '../../cast/cast.ts';
import type { Finding } from '../../findings/finding.ts';
import type { IdIndex } from '../../idindex/id-index.ts';
import type { Check } from '../check.ts';
import { countOf, Places } from '../places.ts';

/** Fewer strangers are no proof. */
const FEW = 10;

/** Slots of what has an inside: three pixels side by side, and one of the same below the middle one. */
function withInside({ width, slot, pixel, length }: IdIndex): Set<number> {
  const found = new Set<number>();
  let above = new Int32Array(width).fill(-1);
  let own = new Int32Array(width).fill(-1);
  let row = -1;
  for (let i = 0; i < slot.length; i++) {
    const y = Math.floor(pixel[i]! / width);
    if (y !== row) {
      [above, own] = [own, above];
      if (y !== row + 1) above.fill(-1);
      own.fill(-1);
      row = y;
    }
    const x = pixel[i]! - y * width;
    for (let k = x + 1; k < x + length[i]! - 1; k++) {
      if (above[k] === slot[i]) found.add(slot[i]!);
      own[k] = slot[i]!;
    }
  }
  return found;
}

/** IDs that were resized or filtered: mixtures of two IDs are a third, and thousands of them lie along the edges. */
export const filteredIds: Check = {
  code: 'ids-filtered',
  title: 'IDs as they were rendered',
  scope: 'frame',
  run: ({ cast, layers, width, height }) =>
    cast.flatMap(({ name, members, index }): Finding[] => {
      const layer = layers.find((l) => l.name === name);
      if (layer?.kind !== 'cryptomatte') return [];
      const inside = withInside(index);
      // A stranger has no name, and nothing that is wholly its own: it is as thin as an edge.
      const strangers = members.filter(
        (m) => !isNothing(m) && !layer.manifest.nameOf.has(m.id) && !inside.has(index.slotOf.get(m.id)!),
      );
      const others = members.length - strangers.length;
      // Without names, hair and grass are as thin; only far more of them than there could be say something.
      const many = strangers.length > (layer.manifestFrom === 'missing' ? 20 : 0.5) * others;
      if (strangers.length < FEW || !many) return [];
      const slots = new Set(strangers.map((m) => index.slotOf.get(m.id)));
      const places = new Places(width, height);
      for (let i = 0; i < index.slot.length; i++) if (slots.has(index.slot[i])) places.add(index.pixel[i]!);
      return [
        {
          severity: 'error',
          code: 'ids-filtered',
          message: `${name}: ${countOf(strangers.length, 'ID')} that nothing has lie along the edges. The pass was resized, filtered or colour-managed after rendering, which makes strangers of IDs. Render it again, at the size of the picture and untouched.`,
          places: places.areas(),
        },
      ];
    }),
};
