<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import { computed } from 'vue';
import type { StepUse } from '@zesty-crow/core/changes';
import { things } from '@zesty-crow/core/cast';
import { usePicture } from '../../picture/picture.ts';
import { notify, notifyError } from '../../server/notify.ts';
import type { Owner } from '@zesty-crow/core/changes/edit';
import { useChanges } from '../../shot/changes/changes.ts';
import { useView } from '../../shot/view.ts';

/** Which member a shape of a fence goes with from frame to frame. */
const props = defineProps<{ owner: Owner; use: StepUse }>();
const changes = useChanges();
const picture = usePicture();
const view = useView();

const keyOf = (layer: string, member: string) => `${layer}\0${member}`;
const STAYS = '-';
const chosen = computed(() => {
  const { follow } = props.use;
  return follow ? keyOf(follow.layer, follow.member) : STAYS;
});
/** What is picked first, then all of the kind of ID that is picked from. */
const offered = computed(() => {
  const { follow } = props.use;
  const own = props.owner.who.filter((p) => p.mode === 'with' && !p.rule);
  const layer = picture.cast.find((l) => l.name === view.layer);
  const all = things(layer?.members ?? []).map((m) => ({ layer: layer!.name, member: m.name }));
  const rows = [...(follow ? [follow] : []), ...own, ...all];
  return [...new Map(rows.map(({ layer: of, member }) => [keyOf(of, member), { layer: of, member }]))];
});
/** It is not in this frame, so that the shape stays. */
const unseen = computed(() => {
  const { follow } = props.use;
  const layer = picture.cast.find((l) => l.name === follow?.layer);
  return layer?.state === 'there' && !layer.members.some((m) => m.name === follow!.member);
});

async function choose(key: string): Promise<void> {
  if (key === STAYS) return changes.setFollow(props.owner, props.use.id, undefined);
  const [layer, member] = key.split('\0') as [string, string];
  const from = await picture.middleOf(layer, member);
  if (!from) return notify(`“${member}” is not seen in this frame. Open one that shows it.`);
  changes.setFollow(props.owner, props.use.id, { layer, member, from });
}
</script>

<template>
  <div class="follow">
    <span>Follows</span>
    <ElSelect
      size="small"
      filterable
      :model-value="chosen"
      aria-label="Follows"
      @update:model-value="choose($event as string).catch(notifyError)"
    >
      <ElOption :value="STAYS" label="nothing, it stays" />
      <ElOption v-for="[key, m] in offered" :key="key" :value="key" :label="m.member" />
    </ElSelect>
    <p v-if="unseen" class="paper-hint">Not in this frame: the shape stays where it was placed.</p>
  </div>
</template>

<style scoped>
.follow {
  display: grid;
  grid-template-columns: 84px 1fr;
  gap: 6px;
  align-items: center;
  padding: 3px 0;
}
.follow p {
  grid-column: 1 / -1;
  margin: 0;
}
</style>
