import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import type { MemberPick } from '@zesty-crow/core/picks';
import { usePlan } from '../shot/plan.ts';

/** What is selected in Prepare: objects by path, or materials by name in the scene. */
export const useSelection = defineStore('selection', () => {
  const plan = usePlan();
  const what = ref<'objects' | 'materials'>('objects');
  const objects = ref<ReadonlySet<string>>(new Set());
  const materials = ref<ReadonlySet<string>>(new Set());
  /** The row that was chosen last: it is scrolled into view. */
  const last = ref<string>();

  /** Id of the pass of the plan that the view shows; nothing for the scene as it is. */
  const pass = ref('');
  const selected = computed(() => (what.value === 'objects' ? objects.value : materials.value));
  function set(next: Iterable<string>): void {
    if (what.value === 'objects') objects.value = new Set(next);
    else materials.value = new Set(next);
  }
  /** Chooses one thing alone, or puts it in or out. */
  function choose(source: string, more: boolean): void {
    last.value = source;
    if (!more) return set(selected.value.size === 1 && selected.value.has(source) ? [] : [source]);
    const next = new Set(selected.value);
    if (!next.delete(source)) next.add(source);
    set(next);
  }
  function clear(): void {
    objects.value = new Set();
    materials.value = new Set();
  }

  /** Objects that are selected, those of selected groups included. */
  const objectPaths = computed(() => {
    const paths = new Set<string>();
    for (const path of objects.value) {
      const group = plan.roster.groups.find((g) => g.path === path);
      if (group) for (const i of group.objects) paths.add(plan.roster.objects[i]!.source);
      else paths.add(path);
    }
    return paths;
  });

  /** The selection as picks for a wish. */
  const picks = computed<MemberPick[]>(() => {
    if (what.value === 'materials')
      return [...materials.value].flatMap((source) => {
        const m = plan.roster.materials.find((x) => x.source === source);
        return m ? [{ mode: 'with' as const, layer: 'materials', member: m.name }] : [];
      });
    return [...objects.value].flatMap((path) => {
      const group = plan.roster.groups.find((g) => g.path === path);
      if (group) return [{ mode: 'with' as const, layer: 'groups', member: group.name }];
      const o = plan.roster.objects.find((x) => x.source === path);
      return o ? [{ mode: 'with' as const, layer: 'objects', member: o.name }] : [];
    });
  });

  return { pass, what, objects, materials, last, selected, set, choose, clear, objectPaths, picks };
});
