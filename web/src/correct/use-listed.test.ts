import { emptyChangeList, noMask, type Change, type ChangeList } from '@zesty-crow/core';
import { markRaw, nextTick, reactive } from 'vue';
import { patchOf } from '@zesty-crow/core/fields';
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
  const list = reactive<ChangeList>({
    ...emptyChangeList(),
    changes: Array.from({ length: count }, (_, i) => change(i)),
  });
  let looks = 0;
  // The state is asked for once for each change that is gone through.
  const listed = useListed(
    () => list,
    () => {
      looks++;
      return {};
    },
  );
  const gone = (edit: () => void) => {
    edit();
    const before = looks;
    void listed.value;
    return looks - before;
  };
  void listed.value;
  return { list, listed, gone };
}

test.each([6, 60, 600])('a tick of a slider goes through one change of %d, and tells its value', (count) => {
  const { list, listed, gone } = listOf(count);
  const before = listed.value;
  expect(gone(() => (list.changes[3]!.corrections[0]!.values = { stops: 0.5 }))).toBe(1);
  const now = listed.value;
  expect(now.filter((c, i) => c !== before[i])).toHaveLength(1);
  expect(JSON.stringify(patchOf(before, now)).length).toBeLessThan(200);
  // What was copied is not what is edited.
  expect(before[3]!.corrections[0]!.values['stops']).toBe(0);
  // Nothing was edited: nothing is gone through, and the list is the very same.
  expect(gone(() => undefined)).toBe(0);
  expect(listed.value).toBe(now);
});

test('a change that comes, goes or moves leaves the others as they were', () => {
  const { list, listed, gone } = listOf(5);
  const before = listed.value;
  expect(gone(() => list.changes.splice(1, 1))).toBeLessThanOrEqual(1);
  expect(listed.value).toEqual([0, 2, 3, 4].map((i) => before[i]));
  gone(() => list.changes.reverse());
  expect(listed.value.map((c) => before.indexOf(c))).toEqual([4, 3, 2, 0]);
  gone(() => list.changes.push(change(9)));
  expect(listed.value.at(-1)).toMatchObject({ id: 'change-9' });
});

test('a list that was read anew is the one of before where nothing is different', () => {
  const { list, listed, gone } = listOf(4);
  const before = listed.value;
  const anew = JSON.parse(JSON.stringify(list.changes)) as Change[];
  anew[2]!.words = 'Brass calmer';
  gone(() => (list.changes = anew));
  expect(listed.value.map((c, i) => c === before[i])).toEqual([true, true, false, true]);
});

test('a heading is a change’s own, too; a stroke that is drawn shows, one that was drawn is not looked into', async () => {
  const { list, listed, gone } = listOf(3);
  list.headings.push({ ...noMask(), id: 'glass', words: 'Glass', on: true });
  gone(() => (list.changes[1]!.heading = 'glass'));
  gone(() => (list.headings[0]!.on = false));
  expect(listed.value.map((c) => c.on)).toEqual([true, false, true]);
  list.changes[0]!.brush.push({ way: 'add', size: 5, soft: 0.5, points: [[1, 2]] } as never);
  void listed.value;
  gone(() => list.changes[0]!.brush[0]!.points.push([3, 4]));
  expect(listed.value[0]!.brush[0]!.points).toEqual([
    [1, 2],
    [3, 4],
  ]);
  const sealed = markRaw({ way: 'add', size: 5, soft: 0.5, points: [[5, 6]] });
  gone(() => (list.changes[2]!.brush = [sealed] as never));
  const own = listed.value[2]!.brush[0];
  gone(() => (list.changes[2]!.on = false));
  expect(listed.value[2]!.brush[0]).toBe(own);
  await nextTick();
});
