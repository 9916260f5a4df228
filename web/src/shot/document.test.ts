import { emptyPlan, type Plan } from '@zesty-crow/core/plan';
import { FakeServer } from '../../test/fake-server.ts';
import { useDocument } from './document.ts';

const server = new FakeServer();
beforeEach(() => server.reset());

async function open() {
  const document = useDocument('plan', emptyPlan);
  await document.load('shot');
  return document;
}
const samples = (d: { body: { value: Plan } }) => d.body.value.render.samples;

test('edits are steps that are undone and done again, also after the page was loaded anew', async () => {
  const first = await open();
  for (const n of [16, 32]) {
    first.body.value.render.samples = n;
    await first.commit(`Samples ${n}`);
  }
  expect(first.saving.value).toBe('saved');
  expect(server.body<Plan>('plan').render.samples).toBe(32);
  expect(first.undoLabel.value).toBe('Samples 32');
  await first.undo();
  expect(samples(first)).toBe(16);

  const again = await open();
  expect(samples(again)).toBe(16);
  expect([again.undoLabel.value, again.redoLabel.value]).toEqual(['Samples 16', 'Samples 32']);
  await again.redo();
  expect(samples(again)).toBe(32);
  expect([again.canUndo.value, again.canRedo.value]).toEqual([true, false]);
});

test('what was not changed is no step', async () => {
  const document = await open();
  await document.commit('nothing');
  expect(server.calls.filter((c) => c.startsWith('PUT'))).toEqual([]);
  expect(document.canUndo.value).toBe(false);
});

test('edits made while another is on its way are kept, and saved in their order', async () => {
  const document = await open();
  document.body.value.render.samples = 16;
  void document.commit('one');
  document.body.value.render.samples = 64;
  expect(document.saving.value).not.toBe('unsaved');
  await document.commit('two');
  expect(samples(document)).toBe(64);
  await document.undo();
  expect(samples(document)).toBe(16);
});

test('who comes second gets what the first one made, and overwrites nothing', async () => {
  const document = await open();
  server.edit('plan', 'theirs', {
    ...emptyPlan(),
    rules: [{ what: 'objects', pattern: 'bees/*', number: 3 }],
  });
  document.body.value.render.samples = 99;
  await document.commit('mine');
  expect(document.body.value.rules).toHaveLength(1);
  expect(samples(document)).not.toBe(99);
  expect(document.saving.value).toBe('saved');
  expect(server.documents['plan']!.list.map((s) => s.label)).toEqual(['theirs']);
});

test('an edit that the server did not take stays here and can be saved when it is back', async () => {
  const document = await open();
  server.down = true;
  document.body.value.render.samples = 48;
  await document.commit('lost line');
  expect(document.saving.value).toBe('unsaved');
  expect(samples(document)).toBe(48);
  server.down = false;
  await document.saveAgain();
  expect(document.saving.value).toBe('saved');
  expect(server.body<Plan>('plan').render.samples).toBe(48);
});

test('an edit in another window is followed, unless there is something unsaved here', async () => {
  const document = await open();
  const told = async () => {
    server.tell('shot', { id: 'shot' });
    await new Promise((resolve) => setTimeout(resolve, 5));
  };
  server.edit('plan', 'theirs', { ...emptyPlan(), render: { ...emptyPlan().render, samples: 7 } });
  await told();
  expect(samples(document)).toBe(7);
  document.body.value.render.samples = 8;
  server.edit('plan', 'theirs', emptyPlan());
  await told();
  expect(samples(document)).toBe(8);
});
