import { createPinia, setActivePinia } from 'pinia';
import { RENDERER, type Plan } from '@zesty-crow/core/plan';
import { TABLE } from '../../../core/test/fixtures/outlines.ts';
import { FakeServer } from '../../test/fake-server.ts';
import { usePlan } from './plan.ts';
import { useSelection } from '../prepare/selection.ts';

const server = new FakeServer();
let plan: ReturnType<typeof usePlan>;
let selection: ReturnType<typeof useSelection>;
beforeEach(async () => {
  server.reset();
  server.outline = TABLE;
  setActivePinia(createPinia());
  plan = usePlan();
  selection = useSelection();
  await plan.load('shot');
});
const stored = () => server.body<Plan>('plan');
const object = (source: string) => plan.roster.objects.find((o) => o.source === source)!;

describe('the plan of a shot', () => {
  test('gives numbers and names to many things in one step, and takes them off without a trace', async () => {
    const lids = ['jars/jar_1/lid', 'jars/jar_2/lid'];
    plan.editSheets('objects', lids, (i) => ({ number: 10 + i, name: `lid ${i + 1}` }), 'Number lids');
    await plan.commit('nothing more');
    expect(stored().objects).toEqual({
      'jars/jar_1/lid': { number: 10, name: 'lid 1' },
      'jars/jar_2/lid': { number: 11, name: 'lid 2' },
    });
    expect(object('jars/jar_2/lid')).toMatchObject({ number: 11, name: 'lid 2' });
    plan.editSheets('objects', lids, () => ({ number: undefined }), 'Numbers off');
    plan.editSheets('objects', ['jars/jar_1/lid'], () => ({ name: undefined }), 'Name off');
    await plan.commit('nothing more');
    expect(stored().objects).toEqual({ 'jars/jar_2/lid': { name: 'lid 2' } });
    await plan.undo();
    await plan.undo();
    await plan.undo();
    expect(plan.plan.objects).toEqual({});
  });

  test('judges a wish, names the cheapest pass for it and adds it', async () => {
    plan.addWish('Brass warmer', [{ mode: 'with', layer: 'materials', member: 'brass' }]);
    expect(plan.judged).toHaveLength(1);
    expect(plan.judged[0]!.verdict).toContain('No pass');
    const id = plan.plan.wishes[0]!.id;
    const cheapest = plan.cheapest(id)!;
    expect(cheapest).toBeDefined();
    plan.addCheapest(id);
    expect(plan.plan.passes.map((p) => p.kind)).toEqual([cheapest.kind]);
    expect(plan.judged[0]!.verdict).not.toContain('No pass');
    expect(plan.cost.bytes).toBeGreaterThan(0);
    plan.removeWish(id);
    await plan.commit('nothing more');
    expect(stored().wishes).toEqual([]);
    expect(stored().passes).toHaveLength(1);
  });

  test('proposes passes for all wishes, which serve them, and keeps data and light passes', async () => {
    for (const [layer, member] of [
      ['groups', 'jars'],
      ['materials', 'fur'],
      ['objects', 'dipper'],
    ])
      plan.addWish(`about ${member}`, [{ mode: 'with', layer: layer!, member: member! }]);
    plan.addPass('depth');
    plan.propose();
    await plan.commit('nothing more');
    expect(plan.plan.passes.some((p) => p.kind === 'depth')).toBe(true);
    expect(plan.judged.every((j) => !j.verdict.includes('No pass'))).toBe(true);
    expect(plan.errors).toEqual([]);
    await plan.undo();
    expect(plan.plan.passes.map((p) => p.kind)).toEqual(['depth']);
  });

  test('gives ID passes floats, and every pass the defaults of its kind', () => {
    expect(plan.addPass('cryptomatte')).toMatchObject({ depth: 'float', on: true, values: { by: 'object' } });
    expect(plan.addPass('normals').depth).toBe('half');
    // Half would round positions to steps that are seen.
    expect(plan.addPass('position').depth).toBe('float');
    expect(new Set(plan.plan.passes.map((p) => p.id)).size).toBe(3);
    plan.removePass(plan.plan.passes[0]!.id);
    expect(plan.plan.passes.map((p) => p.kind)).toEqual(['normals', 'position']);
  });

  test('estimates from what the scene really cost, once that is known', async () => {
    const before = plan.cost.seconds;
    const { width, height, samples } = plan.plan.render;
    const passes = [
      { id: 'picture', kind: 'picture', title: 'Picture', channels: 4, seconds: 1234, bytes: 5e6 },
    ];
    const figures = {
      frame: 1,
      width,
      height,
      samples,
      idsOnly: false,
      threads: 2,
      renderer: RENDERER,
      seconds: 1234,
      bytes: 5e6,
    };
    server.measured = [{ ...figures, passes }];
    await plan.loadScene('shot');
    expect(plan.cost.seconds).not.toBeCloseTo(before, 0);
    expect(plan.cost.seconds).toBeCloseTo(1234, 0);
  });

  test('finds faults as they are made', () => {
    plan.editSheets('objects', ['dipper'], () => ({ name: 'bee' }), 'x');
    plan.editSheets('objects', ['bees/bee_1'], () => ({ name: 'bee' }), 'x');
    expect(plan.errors.map((e) => e.message).join()).toContain('"bee"');
  });
});

describe('the selection', () => {
  test('is one row, or several when more are asked for; a second click lets go', () => {
    selection.choose('dipper', false);
    selection.choose('smoker/can', false);
    expect([...selection.objects]).toEqual(['smoker/can']);
    selection.choose('dipper', true);
    expect([...selection.objects].sort()).toEqual(['dipper', 'smoker/can']);
    selection.choose('smoker/can', true);
    expect([...selection.objects]).toEqual(['dipper']);
    selection.choose('dipper', false);
    expect([...selection.objects]).toEqual([]);
  });

  test('of a group means all that is in it, and stays a group in a wish', () => {
    selection.choose('jars/jar_1', false);
    selection.choose('dipper', true);
    expect([...selection.objectPaths].sort()).toEqual(['dipper', 'jars/jar_1/glass', 'jars/jar_1/lid']);
    expect(selection.picks).toEqual([
      { mode: 'with', layer: 'groups', member: 'jars/jar_1' },
      { mode: 'with', layer: 'objects', member: 'dipper' },
    ]);
  });

  test('of materials is apart from that of objects and follows their new names', () => {
    selection.choose('dipper', false);
    selection.what = 'materials';
    selection.choose('brass', false);
    plan.editSheets('materials', ['brass'], () => ({ name: 'warm brass' }), 'x');
    expect(selection.picks).toEqual([{ mode: 'with', layer: 'materials', member: 'warm brass' }]);
    selection.what = 'objects';
    expect([...selection.selected]).toEqual(['dipper']);
    selection.clear();
    expect([selection.objects.size, selection.materials.size]).toEqual([0, 0]);
  });
});
