<script setup lang="ts">
import { ElButton, ElCheckbox } from 'element-plus';
import { Plus, Trash2, X } from '@lucide/vue';
import { nextTick } from 'vue';
import { passKind, type Wish } from '@zesty-crow/core';
import { usePlan } from '../shot/plan.ts';
import { useSelection } from './selection.ts';

const plan = usePlan();
const selection = useSelection();
const KIND: Record<string, string> = { objects: 'object', materials: 'material', groups: 'group' };

function write(wish: Wish, words: string): void {
  wish.words = words.trim();
  void plan.commit(`Wish “${wish.words}”`);
}
function addSelection(wish: Wish): void {
  for (const pick of selection.picks)
    if (!wish.who.some((p) => p.layer === pick.layer && p.member === pick.member)) wish.who.push(pick);
  void plan.commit(`Point “${wish.words}” at the selection`);
}
function setFirst(wish: Wish, on: boolean): void {
  if (on) wish.first = true;
  else delete wish.first;
  void plan.commit(`${on ? 'Render first' : 'Do not render first'}: “${wish.words}”`);
}
function take(wish: Wish, at: number): void {
  const [gone] = wish.who.splice(at, 1);
  void plan.commit(`Take ${gone!.member} out`);
}
/** Shows in view and list whom a wish concerns. */
function show(wish: Wish): void {
  const parts = new Set(plan.judged.find((j) => j.wish.id === wish.id)?.parts ?? []);
  const { roster } = plan;
  const material = wish.who.length > 0 && wish.who.every((p) => p.layer === 'materials');
  selection.what = material ? 'materials' : 'objects';
  const found = roster.parts.flatMap((p, i) =>
    parts.has(i) ? [material ? roster.materials[p.material]!.source : roster.objects[p.object]!.source] : [],
  );
  if (material) selection.materials = new Set(found);
  else selection.objects = new Set(found);
  selection.last = found[0];
}
async function add(): Promise<void> {
  plan.addWish('', selection.picks);
  await nextTick();
  const all = document.querySelectorAll<HTMLTextAreaElement>('.wish-card textarea');
  all[all.length - 1]?.focus();
}
const cheapestTitle = (wish: Wish) => {
  const use = plan.cheapest(wish.id);
  return use ? passKind(use.kind)!.label : undefined;
};
</script>

<template>
  <section class="card-panel" aria-label="Wishes">
    <header>
      <h2>Wishes</h2>
      <ElButton size="small" :icon="Plus" @click="add">New wish</ElButton>
    </header>
    <div class="body scroll">
      <p v-if="plan.plan.wishes.length === 0" class="empty">
        What might the client ask for? Write it down and point it at things: the plan is judged by it.
      </p>
      <article v-for="j in plan.judged" :key="j.wish.id" class="wish-card">
        <textarea
          :value="j.wish.words"
          rows="1"
          maxlength="500"
          placeholder="What might be asked for?"
          aria-label="Words of the wish"
          @change="write(j.wish, ($event.target as HTMLTextAreaElement).value)"
        />
        <ul class="who">
          <li v-for="(p, i) in j.wish.who" :key="p.layer + p.member">
            <span class="cut" :class="{ rule: p.rule }" :title="p.member">{{ p.member }}</span>
            <small>{{ KIND[p.layer] }}</small>
            <button
              class="plain-button"
              type="button"
              :aria-label="`Take ${p.member} out`"
              @click="take(j.wish, i)"
            >
              <X :size="13" :stroke-width="1.6" />
            </button>
          </li>
        </ul>
        <div class="acts">
          <ElButton v-if="selection.picks.length" size="small" text @click="addSelection(j.wish)"
            >Add selection</ElButton
          >
          <ElButton v-if="j.parts.length" size="small" text @click="show(j.wish)">Show</ElButton>
        </div>
        <ElCheckbox
          v-model="j.wish.throughGlass"
          label="in mirrors and through glass, too"
          size="small"
          @change="plan.commit(`Change “${j.wish.words}”`)"
        />
        <ElCheckbox
          :model-value="j.wish.first ?? false"
          label="first while rendering"
          title="Where its members are, samples are taken first"
          size="small"
          @change="setFirst(j.wish, $event === true)"
        />
        <p class="verdict" :class="{ served: j.served }">
          <b aria-hidden="true">{{ j.served ? '✓' : '!' }}</b> {{ j.verdict }}
        </p>
        <ElButton
          v-if="!j.served && j.parts.length && cheapestTitle(j.wish)"
          size="small"
          @click="plan.addCheapest(j.wish.id)"
          >Add {{ cheapestTitle(j.wish)!.toLowerCase() }}, the cheapest</ElButton
        >
        <button
          class="plain-button bin"
          type="button"
          :aria-label="`Delete wish ${j.wish.words}`"
          @click="plan.removeWish(j.wish.id)"
        >
          <Trash2 :size="15" :stroke-width="1.6" />
        </button>
      </article>
    </div>
  </section>
</template>

<style scoped>
.wish-card {
  position: relative;
  padding: 9px 12px 11px;
  margin-bottom: 10px;
  background: var(--paper);
}
.wish-card textarea {
  width: calc(100% - 24px);
  border: 0;
  padding: 0;
  resize: none;
  background: none;
  font-size: 15px;
  font-weight: 600;
  color: var(--ink);
  field-sizing: content;
}
.who {
  list-style: none;
  margin: 3px 0 0;
  padding: 0;
}
.who li {
  display: flex;
  align-items: baseline;
  gap: 5px;
}
.who .cut {
  min-width: 0;
}
.who .rule {
  font-style: italic;
}
.who small {
  color: var(--ink-quiet);
  flex: 1;
}
.acts {
  margin-left: -8px;
}
.acts .el-button + .el-button {
  margin-left: 0;
}
.wish-card :deep(.el-checkbox) {
  height: 24px;
  white-space: normal;
}
.verdict {
  margin: 4px 0 6px;
  color: var(--alarm);
}
.verdict.served {
  color: var(--ink-quiet);
  margin-bottom: 0;
}
.verdict b {
  display: inline-block;
  width: 12px;
}
.bin {
  position: absolute;
  top: 10px;
  right: 10px;
  color: var(--ink-quiet);
}
</style>
