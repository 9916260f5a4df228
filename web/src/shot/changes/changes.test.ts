import { createPinia, setActivePinia } from 'pinia';
import { ofVariant, withSet, type Change, type ChangeList } from '@zesty-crow/core/changes';
import { FakeServer } from '../../../test/fake-server.ts';
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
const now = ({ id }: Change) => changes.list.changes.find((c) => c.id === id)!;
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
  changes.addStep(change, 'corrections', { kind: 'exposure', values: { stops: 1 } });
  await changes.commit('nothing more');
  expect(stored()[0]!.corrections).toMatchObject([{ kind: 'exposure', on: true }]);
  expect(changes.undoLabel).toBe('Add exposure');
  changes.removeStep(change, 'corrections', now(change).corrections[0]!.id);
  await changes.commit('nothing more');
  expect(stored()[0]!.corrections).toEqual([]);
});

test('steps are moved, reset, and copied to another change, each one step of the history', async () => {
  const one = changes.addChange('one');
  const two = changes.addChange('two');
  changes.addStep(one, 'edge', { kind: 'feather', values: { size: 4 } });
  changes.addStep(one, 'edge', { kind: 'turn-round', values: {} });
  changes.moveStep(one, 'edge', 0, 1);
  expect(now(one).edge.map((s) => s.kind)).toEqual(['turn-round', 'feather']);
  await changes.commit('nothing more');
  expect(changes.undoLabel).toBe('Reorder edge steps');
  changes.copySteps([now(one).edge[1]!], 'edge', two.id);
  expect(now(two).edge).toMatchObject([{ kind: 'feather', values: { size: 4 }, on: true }]);
  expect(now(two).edge[0]!.id).not.toBe(now(one).edge[1]!.id);
  // A copy is a thing of its own.
  changes.resetStep(two, 'edge', now(two).edge[0]!.id);
  await changes.commit('nothing more');
  expect(now(one).edge[1]!.values).toEqual({ size: 4 });
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

test('a value with keyframes is set at the frame that is open; of its last one the value stays', async () => {
  const change = changes.addChange('Lids');
  changes.addStep(change, 'corrections', { kind: 'exposure', values: { stops: 1 } });
  const step = changes.open!.corrections[0]!.id;
  const own = () => changes.list.changes[0]!.corrections[0]!;
  changes.setKey(change, 'corrections', step, 'stops', 1);
  expect(own().keys).toBeUndefined();
  changes.frame = 4;
  changes.setKey(change, 'corrections', step, 'stops', 1);
  changes.setWay(change, 'corrections', step, 'stops', own().keys!['stops']![0]!, 'eased');
  changes.frame = 9;
  changes.setValues(change, 'corrections', step, { stops: 3, amount: 50 });
  expect(own()).toMatchObject({
    values: { stops: 1, amount: 50 },
    keys: {
      stops: [
        { frame: 4, value: 1, way: 'eased' },
        { frame: 9, value: 3, way: 'eased' },
      ],
    },
  });
  changes.removeKey(change, 'corrections', step, 'stops', 4);
  changes.removeKey(change, 'corrections', step, 'stops', 9);
  expect(own()).toMatchObject({ values: { stops: 3, amount: 50 } });
  expect(own().keys).toBeUndefined();
});

test('members are renamed in all changes and headings in one step', async () => {
  changes.addChange('a', [jar]);
  changes.addChange('b', [{ ...jar, amount: 0.5 }]);
  changes.rename([{ layer: jar.layer, from: jar.member, to: 'glass_1' }]);
  await changes.commit('nothing more');
  expect(stored().map((c) => c.who)).toEqual([
    [{ ...jar, member: 'glass_1' }],
    [{ ...jar, member: 'glass_1', amount: 0.5 }],
  ]);
  expect(changes.undoLabel).toBe('Find “glass_1” again');
});

test('a change is limited to frames and commented, each one step of the history', async () => {
  const change = changes.addChange('Lids');
  changes.setFrames(change, { first: 9, last: 3 });
  await changes.commit('nothing more');
  expect(stored()[0]!.frames).toEqual({ first: 3, last: 9 });
  changes.setFrames(change, {});
  expect(changes.list.changes[0]!.frames).toBeUndefined();
  changes.addComment(change, 'A touch more blue.');
  await changes.commit('nothing more');
  expect(changes.undoLabel).toBe('Comment');
  expect(stored()[0]!.comments).toMatchObject([{ text: 'A touch more blue.' }]);
  changes.removeComment(change, stored()[0]!.comments![0]!.id);
  expect(changes.list.changes[0]!.comments).toEqual([]);
});

describe('variants', () => {
  const withExposure = async () => {
    const change = changes.addChange('Lids');
    changes.addStep(change, 'corrections', { kind: 'exposure', values: { stops: 1 } });
    await changes.commit('nothing more');
    return changes.open!;
  };
  test('hold what is set while they are worked on; the list stays, and shows through where they set nothing', async () => {
    const change = await withExposure();
    changes.addVariant('Variant');
    const one = changes.variant!;
    const step = change.corrections[0]!.id;
    changes.setValues(change, 'corrections', step, { stops: 2 });
    await changes.commit('Exposure');
    expect(changes.undoLabel).toBe('Exposure in “Variant”');
    expect(stored()[0]!.corrections[0]!.values).toEqual({ stops: 1 });
    expect(changes.open!.corrections[0]!.values).toEqual({ stops: 2 });
    changes.setOn(change, false);
    expect([changes.open!.on, changes.list.changes[0]!.on]).toEqual([false, true]);
    changes.variantId = undefined;
    changes.setValues(changes.open!, 'corrections', step, { stops: 3, amount: 50 });
    await changes.commit('Exposure');
    expect(changes.undoLabel).toBe('Exposure');
    changes.variantId = one.id;
    expect(changes.open!.corrections[0]!.values).toEqual({ stops: 2, amount: 50 });
    // What is no value belongs to the list, whatever is worked on.
    changes.addStep(changes.open!, 'corrections', { kind: 'tint', values: {} });
    changes.setDone(changes.open!, true);
    changes.addHeading(changes.open!);
    changes.openId = change.id;
    await changes.commit('nothing more');
    expect(stored()[0]).toMatchObject({ on: true, done: true, corrections: [{}, { kind: 'tint' }] });
    expect(stored()[0]!.corrections[0]!.values).toEqual({ stops: 3, amount: 50 });
    changes.resetStep(changes.open!, 'corrections', step);
    expect(changes.open!.corrections[0]!.values).toEqual({});
    expect(changes.list.changes[0]!.corrections[0]!.values).toEqual({ stops: 3, amount: 50 });
  });
  test('are made from swatches in one step, copied, renamed and deleted', async () => {
    const change = changes.addChange('Lids');
    changes.addStep(change, 'corrections', { kind: 'tint', values: {} });
    const use = changes.open!.corrections[0]!;
    changes.addVariants(
      [
        { name: 'Moss', values: { colour: [0.1, 0.2, 0.1] } },
        { name: 'Sky', values: { colour: [0.1, 0.2, 0.6] } },
      ],
      { change: change.id, step: use.id },
    );
    await changes.commit('nothing more');
    expect(changes.undoLabel).toBe('2 variants from swatches');
    const [moss] = changes.list.variants;
    changes.copyVariant(moss!.id);
    changes.renameVariant(changes.list.variants[1]!.id, ' Fern ');
    expect(changes.list.variants.map((v) => v.name)).toEqual(['Moss', 'Fern', 'Sky']);
    changes.variantId = changes.list.variants[1]!.id;
    changes.removeVariant(changes.list.variants[1]!.id);
    expect(changes.variant).toBeUndefined();
    await changes.commit('nothing more');
    expect(server.body<ChangeList>('changes').variants.map((v) => [v.name, v.sets[0]!.values])).toEqual([
      ['Moss', { colour: [0.1, 0.2, 0.1] }],
      ['Sky', { colour: [0.1, 0.2, 0.6] }],
    ]);
  });
  test('that two windows edit are both kept', async () => {
    await withExposure();
    for (const name of ['One', 'Two']) changes.addVariant(name);
    const [one, two] = changes.list.variants;
    await changes.commit('nothing more');
    const step = changes.open!.corrections[0]!.id;
    const before = server.body<ChangeList>('changes');
    const own = withSet(before, before.variants[0]!, before.changes[0]!.id, step, { values: { stops: -1 } });
    server.edit('changes', 'theirs', { ...before, variants: before.variants.with(0, own) });
    changes.variantId = two!.id;
    changes.setValues(changes.open!, 'corrections', step, { stops: 4 });
    await changes.commit('Exposure');
    expect(changes.conflicts).toEqual([]);
    const stops = (id: string) => ofVariant(changes.list, id).changes[0]!.corrections[0]!.values['stops'];
    expect([stops(one!.id), stops(two!.id)]).toEqual([-1, 4]);
  });
});
