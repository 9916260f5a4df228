import { emptyChangeList, noMask, type Change, type ChangeList } from '@zesty-crow/core';
import {
  addChange,
  addHeading,
  addStroke,
  moveRow,
  removeChange,
  setDone,
  setOn,
  setValues,
  setWords,
  type Edited,
} from '@zesty-crow/core/changes/edit';
import { sharedWith, patchOf } from '@zesty-crow/core/fields';
import { shallowRef } from 'vue';
import { useListed } from './use-listed.ts';

const change = (i: number): Change => ({
  id: `change-${i}`,
  words: 'Lids in the green of the hive',
  on: true,
  done: false,
  plainEdges: false,
  ...noMask(),
  who: [{ mode: 'with', layer: 'objects', member: `jars/jar_${i}` }],
  corrections: [{ id: `use-${i}`, kind: 'exposure', on: true, values: { stops: 0 } }],
});
function listOf(count: number) {
  const list = shallowRef<ChangeList>({
    ...emptyChangeList(),
    changes: Array.from({ length: count }, (_, i) => change(i)),
  });
  const listed = useListed(
    () => list.value,
    () => ({}),
  );
  void listed.value;
  const edited = (edit: Edited | undefined) => {
    list.value = edit!.list;
    return listed.value;
  };
  return { list, listed, edited };
}

test.each([6, 60, 600])('a tick of a slider goes through one change of %d, and tells its value', (count) => {
  const { list, listed, edited } = listOf(count);
  const before = listed.value;
  const now = edited(setValues(list.value, {}, 'change-3', 'corrections', 'use-3', { stops: 0.5 }));
  expect(now.filter((c, i) => c !== before[i])).toHaveLength(1);
  expect(JSON.stringify(patchOf(before, now)).length).toBeLessThan(200);
  expect(before[3]!.corrections[0]!.values['stops']).toBe(0);
  // An edit that changes nothing leaves the very same list.
  list.value = { ...list.value };
  expect(listed.value).toBe(now);
});

test('a change that comes, goes or moves leaves the others as they were', () => {
  const { list, listed, edited } = listOf(5);
  const before = listed.value;
  edited(removeChange(list.value, 'change-1', undefined));
  expect(listed.value).toEqual([0, 2, 3, 4].map((i) => before[i]));
  edited(moveRow(list.value, 3, 0));
  expect(listed.value.map((c) => before.indexOf(c))).toEqual([4, 0, 2, 3]);
  edited(addChange(list.value, 'change-9'));
  expect(listed.value.map((c) => before.indexOf(c))).toEqual([4, 0, 2, 3, -1]);
});

test('a list that was read anew is the one of before where nothing is different', () => {
  const { list, listed } = listOf(4);
  const before = listed.value;
  const anew = structuredClone(setWords(list.value, 'change-2', 'Brass calmer').list);
  list.value = sharedWith(list.value, anew);
  expect(listed.value.map((c, i) => c === before[i])).toEqual([true, true, false, true]);
});

test('a heading is a change’s own, too; one that is edited leaves what stands elsewhere', () => {
  const { list, listed, edited } = listOf(3);
  edited(addHeading(list.value, 'glass', 'change-1'));
  const before = listed.value;
  edited(setOn(list.value, {}, 'glass', false));
  expect(listed.value.map((c) => c.on)).toEqual([true, false, true]);
  expect(listed.value.map((c, i) => c === before[i])).toEqual([true, false, true]);
});

test('a stroke that was drawn is not looked into when something else is edited', () => {
  const { list, listed, edited } = listOf(3);
  const points = new Proxy<[number, number][]>([[5, 6]], {
    get(target, key, receiver) {
      if (key === 'length') looks++;
      return Reflect.get(target, key, receiver) as unknown;
    },
  });
  let looks = 0;
  edited(addStroke(list.value, 'change-2', { way: 'add', size: 5, soft: 0.5, points }));
  const [stroke] = listed.value[2]!.brush;
  looks = 0;
  edited(setDone(list.value, 'change-2', true));
  const after = looks;
  expect(listed.value[2]!.brush[0]).toBe(stroke);
  expect(after).toBe(0);
});
