import { emptyChangeList, upgradeChangeList } from '@zesty-crow/core/changes';
import { emptyPlan, upgradePlan, type Plan } from '@zesty-crow/core/plan';
import { FakeServer } from '../../test/fake-server.ts';
import { useDocument } from './document.ts';

const server = new FakeServer();
beforeEach(() => server.reset());

async function open() {
  const document = useDocument('plan', emptyPlan, upgradePlan);
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

test('an edit that is quicker than the document’s arrival is put on top of it', async () => {
  server.edit('plan', 'before', { ...emptyPlan(), render: { ...emptyPlan().render, bounces: 9 } });
  const document = useDocument('plan', emptyPlan, upgradePlan);
  const loaded = document.load('shot');
  document.body.value.render.samples = 5;
  await Promise.all([document.commit('early'), loaded]);
  expect(server.body<Plan>('plan').render).toMatchObject({ bounces: 9, samples: 5 });
  expect(document.body.value).toEqual(server.body<Plan>('plan'));
  expect(server.documents['plan']!.list.map((s) => s.label)).toEqual(['before', 'early']);
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

/** The other window edits a plan as it is on the server. */
function elsewhere(label: string, change: (plan: Plan) => void): void {
  const plan = JSON.parse(JSON.stringify(server.body<Plan>('plan'))) as Plan;
  change(plan);
  server.edit('plan', label, plan);
}
const labels = () => server.documents['plan']!.list.map((s) => s.label);

test('two quick edits here while another window has edited: all three are kept', async () => {
  const document = await open();
  elsewhere('theirs', (p) => p.rules.push({ what: 'objects', pattern: 'bees/*', number: 3, countUp: false }));
  document.body.value.render.samples = 99;
  void document.commit('mine, first');
  document.body.value.render.bounces = 5;
  await document.commit('mine, second');
  expect(labels()).toEqual(['theirs', 'mine, first', 'mine, second']);
  const there = server.body<Plan>('plan');
  expect(there.rules).toHaveLength(1);
  expect([there.render.samples, there.render.bounces]).toEqual([99, 5]);
  expect(document.body.value).toEqual(there);
  expect(document.saving.value).toBe('saved');
  expect(document.conflicts.value).toEqual([]);
  // Each step stands on what the other window made: undoing both leaves that.
  await document.undo();
  await document.undo();
  expect(server.body<Plan>('plan').rules).toHaveLength(1);
  expect(server.body<Plan>('plan').render.samples).toBe(emptyPlan().render.samples);
});

test('what both windows have edited is offered side by side, and either can be taken', async () => {
  const document = await open();
  elsewhere('theirs', (p) => (p.render.samples = 7));
  document.body.value.render.samples = 99;
  document.body.value.render.bounces = 5;
  await document.commit('mine');
  expect(samples(document)).toBe(7);
  expect(server.body<Plan>('plan').render).toMatchObject({ samples: 7, bounces: 5 });
  expect(document.conflicts.value).toEqual([{ place: ['render', 'samples'], mine: 99, theirs: 7 }]);
  await document.settleConflict(document.conflicts.value[0]!, 'mine');
  expect(server.body<Plan>('plan').render).toMatchObject({ samples: 99, bounces: 5 });
  expect(document.conflicts.value).toEqual([]);
});

test('an undo that waits while another window has edited takes nothing of that back', async () => {
  const document = await open();
  document.body.value.render.samples = 99;
  await document.commit('mine');
  elsewhere('theirs', (p) => (p.render.bounces = 9));
  await document.undo();
  expect(labels()).toEqual(['mine', 'theirs']);
  expect(server.body<Plan>('plan').render).toMatchObject({ samples: 99, bounces: 9 });
  expect(document.body.value).toEqual(server.body<Plan>('plan'));
});

test('an edit made while an undo is on its way stands on what the undo brings', async () => {
  const document = await open();
  for (const n of [16, 32]) {
    document.body.value.render.samples = n;
    await document.commit(`Samples ${n}`);
  }
  const undone = document.undo();
  document.body.value.render.bounces = 7;
  await Promise.all([undone, document.commit('Bounces')]);
  expect(server.body<Plan>('plan').render).toMatchObject({ samples: 16, bounces: 7 });
  expect(document.body.value).toEqual(server.body<Plan>('plan'));
});

test('what is being typed is not lost when the other window’s edit arrives with a conflict', async () => {
  const document = await open();
  elsewhere('theirs', (p) => (p.render.bounces = 9));
  document.body.value.render.samples = 99;
  const saved = document.commit('mine');
  document.body.value.render.noise = 0.25;
  await saved;
  expect(document.body.value.render).toMatchObject({ samples: 99, bounces: 9, noise: 0.25 });
  await document.commit('noise');
  expect(server.body<Plan>('plan').render).toMatchObject({ samples: 99, bounces: 9, noise: 0.25 });
});

describe('edits that could not be sent', () => {
  const kept = new Map<string, string>();
  beforeEach(() => {
    kept.clear();
    globalThis.localStorage = {
      get length() {
        return kept.size;
      },
      key: (i: number) => [...kept.keys()][i] ?? null,
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => void kept.set(key, value),
      removeItem: (key: string) => void kept.delete(key),
      clear: () => kept.clear(),
    };
  });
  afterEach(() => {
    delete (globalThis as { localStorage?: Storage }).localStorage;
  });

  test('wait in the browser, and are sent when the server is back', async () => {
    const document = await open();
    server.down = true;
    document.body.value.render.samples = 48;
    await document.commit('lost line');
    document.body.value.render.bounces = 3;
    await document.commit('still lost');
    expect(document.saving.value).toBe('unsaved');
    expect([...kept.values()].join()).toContain('"samples":48');
    server.down = false;
    server.tell('open');
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(document.saving.value).toBe('saved');
    expect(labels()).toEqual(['lost line', 'still lost']);
    expect(kept.size).toBe(0);
  });

  test('stay when the shot is opened again, and are offered when another one was opened meanwhile', async () => {
    const document = await open();
    server.down = true;
    document.body.value.render.samples = 48;
    await document.commit('lost line');
    await document.load('shot');
    expect(samples(document)).toBe(48);
    expect(document.saving.value).toBe('unsaved');
    await expect(document.load('another')).rejects.toThrow();
    server.down = false;
    await document.load('shot');
    expect(document.leftBehind.value.map((l) => l.unsent.label)).toEqual(['lost line']);
    await document.settleLeft(document.leftBehind.value[0]!.key, true);
    expect(server.body<Plan>('plan').render.samples).toBe(48);
  });

  test('of a window that is gone are offered, and brought onto what is there now', async () => {
    const document = await open();
    server.down = true;
    document.body.value.render.samples = 48;
    await document.commit('lost line');
    // The window is gone; what it kept lies under a name that no living window has.
    const [[key, value]] = [...kept] as [[string, string]];
    kept.clear();
    kept.set(key.replace(/[^/]+$/, 'a-window-that-is-gone'), value);
    server.down = false;
    elsewhere('meanwhile', (p) => (p.render.bounces = 9));
    const next = await open();
    expect(next.leftBehind.value.map((l) => l.unsent.label)).toEqual(['lost line']);
    await next.settleLeft(next.leftBehind.value[0]!.key, true);
    expect(server.body<Plan>('plan').render).toMatchObject({ samples: 48, bounces: 9 });
    expect(next.leftBehind.value).toEqual([]);
    expect(kept.size).toBe(0);
  });

  test('because another window has edited the same wait until one is chosen, whatever closes', async () => {
    const gone = (window: string) => {
      const [[key, value]] = [...kept] as [[string, string]];
      kept.clear();
      kept.set(key.replace(/[^/]+$/, window), value);
    };
    const document = await open();
    elsewhere('theirs', (p) => (p.render.samples = 7));
    document.body.value.render.samples = 99;
    await document.commit('mine');
    expect([document.saving.value, document.conflicts.value.length]).toEqual(['saved', 1]);
    gone('closed');
    elsewhere('later', (p) => (p.render.samples = 8));
    const next = await open();
    const asked = { place: ['render', 'samples'], mine: 99, theirs: 8 };
    expect(next.conflicts.value).toEqual([asked]);
    expect(next.leftBehind.value).toEqual([]);
    // Not chosen this time either; then another shot is opened, and this one again.
    gone('closed too');
    const third = await open();
    expect(third.conflicts.value).toEqual([asked]);
    await third.load('another').catch(() => undefined);
    expect(third.conflicts.value).toEqual([]);
    await third.load('shot');
    expect(third.conflicts.value).toEqual([asked]);
    await third.settleConflict(third.conflicts.value[0]!, 'mine');
    expect(server.body<Plan>('plan').render.samples).toBe(99);
    expect(kept.size).toBe(0);
    expect((await open()).conflicts.value).toEqual([]);
  });

  test('of both kinds at once: what is only unsent is offered, what needs a choice is asked for', async () => {
    const document = await open();
    elsewhere('theirs', (p) => (p.render.samples = 7));
    document.body.value.render.samples = 99;
    await document.commit('mine');
    server.down = true;
    document.body.value.render.bounces = 3;
    await document.commit('lost line');
    const [[key, value]] = [...kept] as [[string, string]];
    kept.clear();
    kept.set(key.replace(/[^/]+$/, 'closed'), value);
    server.down = false;
    const next = await open();
    expect(next.conflicts.value).toEqual([{ place: ['render', 'samples'], mine: 99, theirs: 7 }]);
    expect(next.leftBehind.value.map((l) => l.unsent.label)).toEqual(['lost line']);
    await next.settleLeft(next.leftBehind.value[0]!.key, true);
    expect(server.body<Plan>('plan').render).toMatchObject({ samples: 7, bounces: 3 });
    await next.settleConflict(next.conflicts.value[0]!, 'theirs');
    expect(server.body<Plan>('plan').render).toMatchObject({ samples: 7, bounces: 3 });
    expect(kept.size).toBe(0);
  });

  test('of a Zesty Crow before an update are brought up to date; those of a newer one wait for it', async () => {
    const document = useDocument('changes', emptyChangeList, upgradeChangeList);
    const old = (...changes: object[]) => ({ format: 'zesty-crow/changes', version: 1, changes });
    const change = { id: 'a', words: 'Lids', on: true, done: false, who: [], corrections: [] };
    const place = (window: string) => `zesty-crow/unsent/changes/shot/${window}`;
    kept.set(place('old'), JSON.stringify({ base: old(), body: old(change), label: 'Add', at: 1 }));
    const newer = { ...emptyChangeList(), version: 99 };
    kept.set(place('newer'), JSON.stringify({ base: newer, body: newer, label: 'Later', at: 2 }));
    await document.load('shot');
    expect(document.leftBehind.value.map((l) => l.unsent.label)).toEqual(['Add']);
    await document.settleLeft(document.leftBehind.value[0]!.key, true);
    expect(server.body('changes')).toEqual({
      ...emptyChangeList(),
      changes: [{ ...change, edge: [], fence: [], brush: [], plainEdges: true }],
    });
    expect([...kept.keys()]).toEqual([place('newer')]);
  });
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
