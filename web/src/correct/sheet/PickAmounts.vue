<script setup lang="ts">
import { ElSwitch } from 'element-plus';
import { computed } from 'vue';
import type { MemberPick } from '@zesty-crow/core';
import { AMOUNT } from '@zesty-crow/core/fields';
import NumberControl from '../../fields/NumberControl.vue';
import { usePicture } from '../../picture/picture.ts';
import { useView } from '../../shot/view.ts';
import { seenElsewhere } from '../layer-label.ts';

/** By how much a pick counts, and where else its names are taken from: in glass, in mirrors. */
const props = defineProps<{ pick: MemberPick }>();
const emit = defineEmits<{
  /** The pick as it is to be, while it still moves. */
  change: [pick: MemberPick];
  /** What moved has come to rest: one step of the history. */
  commit: [label: string];
}>();
const picture = usePicture();
const view = useView();

/** Where else its names are seen. */
const elsewhere = computed(() =>
  props.pick.mode === 'inside'
    ? []
    : seenElsewhere(
        props.pick.layer,
        picture.cast.map((l) => l.name),
      ),
);
const also = (layer: string) => props.pick.also?.find((a) => a.layer === layer);
function setAmount(percent: number): void {
  const { amount: _, ...rest } = props.pick;
  emit('change', percent >= 100 ? rest : { ...rest, amount: percent / 100 });
}
function setAlso(layer: string, amount: number | undefined): void {
  const { also: others = [], ...rest } = props.pick;
  const next = others.filter((a) => a.layer !== layer);
  if (amount !== undefined) next.push({ layer, amount });
  emit('change', next.length > 0 ? { ...rest, also: next } : rest);
}
</script>

<template>
  <div class="amounts">
    <NumberControl
      :field="AMOUNT"
      :model-value="Math.round(100 * (pick.amount ?? 1))"
      @update:model-value="setAmount($event)"
      @commit="emit('commit', 'Amount')"
      @moving="view.adjusting = $event"
    />
    <div v-for="e in elsewhere" :key="e.layer">
      <label>
        <ElSwitch
          size="small"
          :model-value="also(e.layer) !== undefined"
          :aria-label="`Also ${e.where}`"
          @update:model-value="
            setAlso(e.layer, $event ? 1 : undefined);
            emit('commit', $event ? `Also ${e.where}` : `Not ${e.where}`);
          "
        />
        Also {{ e.where }}
      </label>
      <NumberControl
        v-if="also(e.layer)"
        :field="AMOUNT"
        :model-value="Math.round(100 * also(e.layer)!.amount)"
        @update:model-value="setAlso(e.layer, $event / 100)"
        @commit="emit('commit', 'Amount')"
        @moving="view.adjusting = $event"
      />
    </div>
  </div>
</template>

<style scoped>
.amounts {
  padding: 2px 0 8px 12px;
}
label {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 26px;
}
</style>
