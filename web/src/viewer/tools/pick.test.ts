import type { Probe } from '../../picture/messages.ts';
import type { ToolHost } from '../tool.ts';
import { pickTool, type PickTarget } from './pick.ts';

const probeOf = (ids: { id: number; name: string }[]): Probe => ({
  x: 0,
  y: 0,
  before: [0, 0, 0],
  after: [0, 0, 0],
  layers: [{ layer: 'objects', ids: ids.map((i) => ({ ...i, coverage: 1 })) }],
  mask: 0,
});
const soon = () => new Promise((resolve) => setTimeout(resolve, 5));

/** A tool whose ID layer comes when it is told to. */
function toolOf() {
  let state: 'coming' | 'there' | 'failed' = 'coming';
  const answers: ((probe: Probe | undefined) => void)[] = [];
  const done: string[] = [];
  const host: ToolHost = {
    probe: () => new Promise((resolve) => answers.push(resolve)),
    scale: () => 1,
  };
  const target: PickTarget = {
    layer: () => 'objects',
    behind: () => 0,
    isIn: () => false,
    put: (_layer, m, way) => void done.push(`${way} ${m.name}`),
    done: async () => void done.push('step'),
    membersAlong: async () => [],
    outline: async () => new Float32Array(0),
    state: () => state,
    dropped: () => void done.push('dropped'),
  };
  const arrive = (next: typeof state, probe: Probe | undefined) => {
    state = next;
    for (const answer of answers.splice(0)) answer(probe);
  };
  return { tool: pickTool(host, target), done, arrive };
}

const HIVE = [{ id: 7, name: 'hive' }];

test('a click before the IDs are there waits where it was made, and is done once', async () => {
  const { tool, done, arrive } = toolOf();
  tool.down({ x: 30, y: 40 });
  tool.up();
  await soon();
  expect(tool.waiting.value).toEqual({ x: 30, y: 40 });
  expect(done).toEqual([]);
  arrive('there', probeOf(HIVE));
  await soon();
  expect(tool.waiting.value).toBeUndefined();
  expect(done).toEqual(['in hive', 'step']);
});

test('it is dropped with a word if the IDs never come', async () => {
  const { tool, done, arrive } = toolOf();
  tool.down({ x: 1, y: 1 });
  tool.up();
  await soon();
  arrive('failed', probeOf([]));
  await soon();
  expect(tool.waiting.value).toBeUndefined();
  expect(done).toEqual(['dropped']);
});

test('once they are there nothing waits', async () => {
  const { tool, done, arrive } = toolOf();
  arrive('there', undefined);
  tool.down({ x: 1, y: 1 });
  await soon();
  expect(tool.waiting.value).toBeUndefined();
  arrive('there', probeOf(HIVE));
  await soon();
  expect(done).toEqual(['in hive']);
});
