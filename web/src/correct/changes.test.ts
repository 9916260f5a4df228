import { createPinia, setActivePinia } from 'pinia';
import type { ChangeList } from '@zesty-crow/core/changes';
import { FakeServer } from '../../test/fake-server.ts';
import { useChanges } from './changes.ts';

const server = new FakeServer();
let changes: ReturnType<typeof useChanges>;
beforeEach(async () => {
  server.reset();
  setActivePinia(createPinia());
  changes = useChanges();
  await changes.load('shot');
});
const stored = () => server.body<ChangeList>('changes').changes;
const words = () => stored().map((c) => c.words);
const jar = { mode: 'with' as const, layer: 'CryptoObject', member: 'jars/jar_1' };

test('a new change is opened and kept, and a pick without a change makes one', async () => {
  changes.setWho([jar]);
  await changes.commit('Pick');
  expect(changes.open!.who).toEqual([jar]);
  expect(stored()).toHaveLength(1);
  changes.addChange('Lids in blue', [jar]);
  await changes.commit('nothing more');
  expect(changes.open!.words).toBe('Lids in blue');
  expect(words()).toEqual(['', 'Lids in blue']);
});

test('changes are reordered and deleted step by step; the one after a deleted one is opened', async () => {
  for (const w of ['a', 'b', 'c']) changes.addChange(w);
  changes.moveRow(2, 0);
  await changes.commit('nothing more');
  expect(words()).toEqual(['c', 'a', 'b']);
  changes.openId = changes.list.changes[1]!.id;
  changes.removeChange(changes.openId);
  await changes.commit('nothing more');
  expect(words()).toEqual(['c', 'b']);
  expect(changes.open!.words).toBe('b');
  changes.removeChange(changes.open!.id);
  expect(changes.open!.words).toBe('c');
  await changes.undo();
  await changes.undo();
  expect(changes.list.changes.map((c) => c.words)).toEqual(['c', 'a', 'b']);
  changes.removeChange('gone already');
  expect(changes.list.changes).toHaveLength(3);
});

test('corrections are added and taken off a change', async () => {
  const change = changes.addChange('Brass warmer');
  const target = changes.list.changes.find((c) => c.id === change.id)!;
  changes.addStep(target, 'corrections', { kind: 'exposure', values: { stops: 1 } });
  await changes.commit('nothing more');
  expect(stored()[0]!.corrections).toMatchObject([{ kind: 'exposure', on: true }]);
  expect(changes.undoLabel).toBe('Add exposure');
  changes.removeStep(target, 'corrections', target.corrections[0]!.id);
  await changes.commit('nothing more');
  expect(stored()[0]!.corrections).toEqual([]);
});

test('steps are moved, reset, and copied to another change, each one step of the history', async () => {
  const one = changes.addChange('one');
  const two = changes.addChange('two');
  const [from, to] = [one, two].map((c) => changes.list.changes.find((d) => d.id === c.id)!);
  changes.addStep(from!, 'edge', { kind: 'feather', values: { size: 4 } });
  changes.addStep(from!, 'edge', { kind: 'turn-round', values: {} });
  changes.moveStep(from!, 'edge', 0, 1);
  expect(from!.edge.map((s) => s.kind)).toEqual(['turn-round', 'feather']);
  await changes.commit('nothing more');
  expect(changes.undoLabel).toBe('Reorder edge steps');
  changes.copyStep(from!.edge[1]!, 'edge', to!.id);
  expect(to!.edge).toMatchObject([{ kind: 'feather', values: { size: 4 }, on: true }]);
  expect(to!.edge[0]!.id).not.toBe(from!.edge[1]!.id);
  // A copy is a thing of its own.
  changes.resetStep(to!, 'edge', to!.edge[0]!.id);
  await changes.commit('nothing more');
  expect(from!.edge[1]!.values).toEqual({ size: 4 });
  expect(stored().at(-1)!.edge).toMatchObject([{ kind: 'feather', values: {} }]);
  for (const size of [{ size: 4 }, undefined]) {
    await changes.undo();
    expect(changes.list.changes.find((c) => c.id === two.id)!.edge[0]?.values).toEqual(size);
  }
});

test('what another window made joins the list, and what is open stays open', async () => {
  changes.addChange('mine');
  await changes.commit('nothing more');
  server.edit('changes', 'theirs', {
    ...server.body<ChangeList>('changes'),
    changes: [{ id: 'x', words: 'theirs', on: true, done: false, who: [], corrections: [] }],
  });
  changes.addChange('too late');
  await changes.commit('nothing more');
  await new Promise((resolve) => setTimeout(resolve, 5));
  expect(changes.list.changes.map((c) => c.words)).toEqual(['too late', 'theirs']);
  expect(changes.open!.words).toBe('too late');
});
