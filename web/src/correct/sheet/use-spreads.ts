import { computed, shallowRef, watch } from 'vue';
import type { Spread } from '@zesty-crow/core';
import type { Field } from '@zesty-crow/core/fields';
import { usePicture } from '../../picture/picture.ts';
import type { Owner } from '@zesty-crow/core/changes/edit';

type CurveField = Extract<Field, { kind: 'curve' }>;

const PIECES = 52;
const CHANNELS = ['red', 'green', 'blue'] as const;

/**
 * How the colours of a change's part are spread along the axes of its curves, by the field's key: found anew when the
 * part is another one, while anybody looks.
 */
export function useSpreads(owner: () => Owner, fields: () => readonly Field[], wanted: () => boolean) {
  const picture = usePicture();
  const spreads = shallowRef<Readonly<Record<string, Spread[]>>>({});
  const curves = computed(() => fields().filter((f): f is CurveField => f.kind === 'curve'));
  const part = computed(() => {
    const { id, who, edge, fence, brush } = owner();
    return JSON.stringify([id, who, edge, fence, brush]);
  });

  async function find(): Promise<void> {
    const changeId = owner().id;
    const own = part.value;
    const found = await Promise.all(
      curves.value.map(async ({ key, axis }) => {
        const channel = CHANNELS.find((c) => c === key);
        return [key, await picture.coloursAlong({ changeId, axis, channel, pieces: PIECES })] as const;
      }),
    );
    if (own === part.value) spreads.value = Object.fromEntries(found);
  }
  // The mask is there once all that was asked for has been computed.
  let due = '';
  watch(
    [() => wanted() && curves.value.length > 0, part, () => picture.settledCount, () => picture.opened],
    ([on, now, , opened]) => {
      const key = `${now} ${picture.reading} ${opened?.width}`;
      if (!on || due === key) return;
      due = key;
      void find();
    },
    { immediate: true },
  );
  return spreads;
}
