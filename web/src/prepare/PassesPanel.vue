<script setup lang="ts">
import { ElButton, ElDropdown, ElDropdownItem, ElDropdownMenu, ElTooltip } from 'element-plus';
import { ListChecks, Plus } from '@lucide/vue';
import { computed, ref } from 'vue';
import { duration, megabytes, parsePlan, PASSES, passKind } from '@zesty-crow/core';
import { notifyError } from '../server/notify.ts';
import PassCard from './PassCard.vue';
import { usePlan } from '../shot/plan.ts';
import { textOfFile } from '../fields/file-text.ts';

/** Name of the shot. */
const props = defineProps<{ name: string }>();
const plan = usePlan();
const open = ref<string>();

const GROUPS = [
  { group: 'ids', label: 'ID passes' },
  { group: 'data', label: 'Data passes' },
  { group: 'light', label: 'Light passes' },
] as const;
const shown = computed(() =>
  GROUPS.map((g) => ({
    ...g,
    uses: plan.plan.passes.filter((p) => (passKind(p.kind)?.group ?? 'data') === g.group),
  })),
);
const costOf = (id: string) => plan.cost.passes.find((p) => p.id === id);
const picture = computed(() => costOf('picture'));
/** A pass's own message stands on its card. */
const notes = computed(() => plan.findings.filter((f) => f.code !== 'pass-fault'));

const chooser = ref<HTMLInputElement>();
async function chosen(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = '';
  if (!file) return;
  try {
    plan.plan = parsePlan(JSON.parse(await textOfFile(file, 32 * 2 ** 20)));
    void plan.commit(`Load ${file.name}`);
  } catch (error) {
    notifyError(new Error(`${file.name} is no ID plan: ${(error as Error).message}.`));
  }
}
function save(): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(
    new Blob([JSON.stringify(plan.plan, null, 2)], { type: 'application/json' }),
  );
  link.download = `${props.name || 'shot'}.plan.json`;
  link.click();
  URL.revokeObjectURL(link.href);
}
function add(kind: string): void {
  open.value = plan.addPass(kind).id;
}
</script>

<template>
  <section class="passes scroll" aria-label="ID plan">
    <header>
      <h2>ID plan</h2>
      <ElTooltip
        content="Replaces the ID passes by those that serve all wishes with the smallest files"
        :show-after="400"
      >
        <ElButton
          size="small"
          :icon="ListChecks"
          :disabled="plan.plan.wishes.length === 0"
          @click="plan.propose()"
          >Propose from wishes</ElButton
        >
      </ElTooltip>
    </header>
    <div class="row-head">
      <span>Picture, always rendered</span>
      <span>{{ picture ? duration(picture.seconds) : '' }}</span>
      <span>{{ picture ? megabytes(picture.bytes) : '' }}</span>
      <span />
    </div>
    <template v-for="g in shown" :key="g.group">
      <div class="group-head">
        <h3>{{ g.label }}</h3>
        <ElDropdown trigger="click" @command="add">
          <ElButton size="small" text :icon="Plus" :aria-label="`Add to ${g.label}`">Add</ElButton>
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem
                v-for="p in PASSES.filter((p) => p.group === g.group)"
                :key="p.kind"
                :command="p.kind"
                :title="p.hint"
                >{{ p.label }}</ElDropdownItem
              >
            </ElDropdownMenu>
          </template>
        </ElDropdown>
      </div>
      <ul>
        <PassCard
          v-for="use in g.uses"
          :key="use.id"
          :use="use"
          :cost="costOf(use.id)"
          :open="open === use.id"
          @toggle="open = open === use.id ? undefined : use.id"
        />
      </ul>
      <p v-if="g.uses.length === 0" class="paper-hint">none</p>
    </template>
    <footer>
      <div class="sum">
        <span>A frame</span><b>{{ duration(plan.cost.seconds) }}</b><b>{{ megabytes(plan.cost.bytes) }}</b>
      </div>
      <div v-if="plan.cost.frames > 1" class="sum">
        <span>{{ plan.cost.frames }} frames</span><b>{{ duration(plan.cost.seconds * plan.cost.frames) }}</b
        ><b>{{ megabytes(plan.cost.bytes * plan.cost.frames) }}</b>
      </div>
      <p class="paper-hint">
        {{
          plan.cost.measured
            ? 'Estimated from earlier renders of this scene.'
            : 'Typical figures; after the first render they are this scene’s own.'
        }}
      </p>
      <p v-for="f in notes" :key="f.code + f.message" class="note" :class="f.severity">{{ f.message }}</p>
      <div class="files">
        <ElButton size="small" @click="save">Save plan…</ElButton>
        <ElButton size="small" @click="chooser?.click()">Load plan…</ElButton>
        <input ref="chooser" type="file" accept=".json" hidden @change="chosen" />
      </div>
    </footer>
  </section>
</template>

<style scoped>
.passes {
  height: 100%;
  padding: 10px 14px 20px;
  background: var(--paper);
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-bottom: 6px;
}
h2 {
  margin: 0;
  font-size: 17px;
  font-weight: 600;
}
.row-head {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 52px 56px 34px;
  gap: 4px;
  padding: 5px 0;
  border-bottom: 1px solid var(--paper-line);
}
.row-head span + span {
  text-align: right;
  font-size: 13px;
  color: var(--ink-quiet);
}
.group-head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-top: 10px;
}
h3 {
  margin: 0;
  font-size: 14px;
  font-weight: 600;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
footer {
  margin-top: 14px;
  padding-top: 8px;
  border-top: 2px solid var(--ink);
}
.sum {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 72px 84px;
}
.sum b {
  text-align: right;
}
.note {
  margin: 6px 0 0;
  padding-left: 9px;
  border-left: 3px solid var(--paper-line);
}
.note.error {
  border-color: var(--alarm);
}
.note.warning {
  border-color: #b08b1e;
}
.files {
  margin-top: 12px;
}
</style>
