import { useLocalStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import type { MemberPick } from '@zesty-crow/core';

const MOST = 12;

/** What was picked last, in whatever shot; kept in the browser. */
export const useRecentPicks = defineStore('recent-picks', () => {
  const picks = useLocalStorage<Pick<MemberPick, 'layer' | 'member' | 'rule'>[]>(
    'zesty-crow recent picks',
    [],
  );
  function note(...added: readonly { layer: string; member: string; rule?: boolean }[]): void {
    const fresh = added.map(({ layer, member, rule }) => ({ layer, member, ...(rule ? { rule } : {}) }));
    const rest = picks.value.filter((p) => !fresh.some((f) => f.layer === p.layer && f.member === p.member));
    picks.value = [...fresh, ...rest].slice(0, MOST);
  }
  return { picks, note };
});
