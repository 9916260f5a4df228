import { isIn, isNothing, matchMembers, putIn, putOut, swapped, type MemberPick } from '@zesty-crow/core';
import { usePicture } from '../picture/picture.ts';
import { notify } from '../server/notify.ts';
import { useChanges } from '../shot/changes/changes.ts';
import { useView } from '../shot/view.ts';
import { useRecentPicks } from './sheet/recent-picks.ts';

interface Met {
  id: number;
  name: string;
}

/** What can be done to the choice of what is open: one step of the history each. */
export function usePicking() {
  const changes = useChanges();
  const picture = usePicture();
  const view = useView();
  const recent = useRecentPicks();
  const who = (): readonly MemberPick[] => changes.owner?.who ?? [];
  const isChosen = (layer: string, member: Met) => isIn(who(), layer, member);

  function set(next: readonly MemberPick[], label: string): void {
    changes.setWho(next);
    void changes.commit(label.slice(0, 200));
  }
  /** Takes something for the pick that is being swapped, if one is. */
  function swap(layer: string, member: string, rule = false): boolean {
    const at = view.swapping;
    const old = at === undefined ? undefined : who()[at];
    view.swapping = undefined;
    if (!old) return false;
    recent.note({ layer, member, rule });
    set(
      who().map((p, i) => (i === at ? swapped(p, layer, member, rule) : p)),
      `Swap ${old.member} for ${member}`,
    );
    return true;
  }
  /** Puts members in; those that are all in already go out. */
  function take(layer: string, members: readonly Met[]): void {
    const found = members.filter((m) => !isNothing(m));
    if (found.length === 0) return notify('There is nothing to take there.');
    if (found.length === 1 && swap(layer, found[0]!.name)) return;
    const out = found.every((m) => isChosen(layer, m));
    const put = out ? putOut : putIn;
    if (!out) recent.note(...found.slice(0, 3).map((m) => ({ layer, member: m.name })));
    const what = found.length === 1 ? found[0]!.name : `${found.length} members`;
    set(
      found.reduce<readonly MemberPick[]>((now, m) => put(now, layer, m), who()),
      `${out ? 'Take out' : 'Put in'} ${what}`,
    );
  }
  function takeRule(layer: string, member: string): void {
    if (swap(layer, member, true)) return;
    recent.note({ layer, member, rule: true });
    const members = picture.cast.find((l) => l.name === layer)?.members ?? [];
    const ruled = new Set(matchMembers(member, members).map((m) => m.name));
    // What the rule brings need not be named any more.
    const rest = who().filter(
      (p) =>
        !(
          p.layer === layer &&
          p.mode === 'with' &&
          !p.rule &&
          p.amount === undefined &&
          !p.also &&
          ruled.has(p.member)
        ),
    );
    const there = rest.some((p) => p.layer === layer && p.mode === 'with' && p.member === member);
    set(there ? rest : [...rest, { mode: 'with', layer, member, rule: true }], `Put in ${member}`);
  }
  /** All that is farther away than some members, or nearer. */
  async function takeByDepth(layer: string, ids: number[], way: 'behind' | 'before'): Promise<void> {
    const found = await picture.membersByDepth(layer, ids, way);
    if (found.length === 0)
      return notify(`There is nothing ${way === 'behind' ? 'behind' : 'in front of'} it.`);
    const fresh = found.filter((m) => !isChosen(layer, m));
    if (fresh.length > 0) take(layer, fresh);
  }

  let asked = 0;
  /** Shows where members are, until something else is shown or nothing. */
  async function show(layer?: string, ids: readonly number[] = []): Promise<void> {
    const own = ++asked;
    const outline =
      layer !== undefined && ids.length ? await picture.memberOutline(layer, [...ids]) : undefined;
    if (own === asked) view.highlight = outline;
  }
  /** The same, and brings them into sight. */
  async function reveal(layer: string, ids: readonly number[]): Promise<void> {
    await show(layer, ids);
    const outline = view.highlight;
    if (!outline?.length) return;
    const area = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
    for (let i = 0; i < outline.length; i += 2) {
      const [x, y] = [outline[i]!, outline[i + 1]!];
      area.x0 = Math.min(area.x0, x);
      area.y0 = Math.min(area.y0, y);
      area.x1 = Math.max(area.x1, x);
      area.y1 = Math.max(area.y1, y);
    }
    view.revealed = area;
  }
  return { isChosen, set, take, takeRule, takeByDepth, swap, show, reveal };
}
