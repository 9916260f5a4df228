import { Document, WebIO } from '@gltf-transform/core';
import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { smallScene } from '../../test/fixtures/small-scene.ts';
import { openScene, outlineOf, sceneAt, SceneError } from './index.ts';

const json = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));
const asset = { version: '2.0' };

test('fifty thousand things of one name are told apart, and only a few steps are needed for each', async () => {
  const nodes = Array.from({ length: 50_000 }, () => ({ name: 'bee' }));
  const scene = { asset, scene: 0, scenes: [{ nodes: nodes.map((_, i) => i) }], nodes };
  const { nodes: named } = await openScene(json(scene));
  expect(new Set(named.map((n) => n.path)).size).toBe(50_000);
  expect(named.slice(0, 3).map((n) => n.path)).toEqual(['bee', 'bee_2', 'bee_3']);
  expect(named.at(-1)!.path).toBe('bee_50000');
});

test('a name that looks like a numbered one is not given twice', async () => {
  const nodes = ['bee', 'bee_2', 'bee', 'bee'].map((name) => ({ name }));
  const scene = { asset, scene: 0, scenes: [{ nodes: [0, 1, 2, 3] }], nodes };
  const { nodes: named } = await openScene(json(scene));
  expect(named.map((n) => n.path)).toEqual(['bee', 'bee_2', 'bee_3', 'bee_4']);
});

test('names that are numbers are read as texts', async () => {
  const nodes = [
    { name: 7, children: [1] },
    { name: 'jar', mesh: 0 },
  ];
  const meshes = [{ name: 12, primitives: [{ attributes: { POSITION: 0 }, material: 0 }] }];
  const accessors = [{ componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [0, 0, 0] }];
  const scene = {
    asset,
    scenes: [{ name: 1, nodes: [0] }],
    nodes,
    meshes,
    accessors,
    materials: [{ name: 3 }],
  };
  const file = await openScene(json(scene));
  expect(file.nodes.map((n) => n.path)).toEqual(['7', '7/jar']);
  expect(JSON.stringify(outlineOf(file))).toContain('"3"');
});

test('numbers without end are refused before any is made', async () => {
  const accessors = [{ componentType: 5126, count: 2e9, type: 'VEC3' }];
  await expect(openScene(json({ asset, accessors }))).rejects.toThrow(/claims 22.4 GB of numbers/);
  const packed = { buffer: 0, byteLength: 9, byteStride: 255, count: 1e9, mode: 'ATTRIBUTES' };
  const bufferViews = [{ buffer: 0, byteLength: 9, extensions: { EXT_meshopt_compression: packed } }];
  const scene = { asset, bufferViews, extensionsUsed: ['EXT_meshopt_compression'] };
  await expect(openScene(json(scene))).rejects.toThrow(/claims 237.5 GB of numbers/);
});

const chain = (length: number) =>
  Array.from({ length }, (_, i) => ({ name: 'n', ...(i + 1 < length ? { children: [i + 1] } : {}) }));

test('a tree deeper than any is refused in words, one of a hundred levels is read', async () => {
  const scene = (length: number) => json({ asset, scenes: [{ nodes: [0] }], nodes: chain(length) });
  await expect(openScene(scene(50_000))).rejects.toThrow(/nested more than 512 levels/);
  await expect(openScene(scene(50_000))).rejects.toThrow(SceneError);
  expect((await openScene(scene(100))).nodes).toHaveLength(100);
});

test('a long chain that closes on itself is found', async () => {
  const nodes = chain(20_000);
  nodes[19_999]!.children = [0];
  await expect(openScene(json({ asset, scenes: [{ nodes: [0] }], nodes }))).rejects.toThrow(/below itself/);
});

test.each([
  ['a .glb that ends in its head', Uint8Array.of(0x67, 0x6c, 0x54, 0x46, 2, 0, 0, 0, 12, 0, 0, 0)],
  ['nodes that are no list', json({ asset, nodes: 'hive', scenes: [{ nodes: [0] }] })],
  ['children that are no list', json({ asset, nodes: [{ children: 5 }], scenes: [{ nodes: [0] }] })],
  ['an address that is none', json({ asset, buffers: [{ uri: '%E0%A4%A', byteLength: 3 }], scenes: [{}] })],
  ['buffers that are no list', json({ asset, buffers: 7, scenes: [{}] })],
  ['no scene', json({ asset })],
])('%s: said in words', async (_, bytes) => {
  await expect(openScene(bytes)).rejects.toThrow(SceneError);
});

test('whatever byte is wrong, the scene is read or refused in words', async () => {
  const sound = await smallScene();
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(fc.nat(sound.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }),
      fc.option(fc.nat(sound.length)),
      async (hits, end) => {
        const bytes = sound.slice(0, end ?? sound.length);
        for (const [at, value] of hits) if (at < bytes.length) bytes[at] = value;
        try {
          const file = await openScene(bytes);
          outlineOf(file);
          sceneAt(file);
        } catch (error) {
          expect(error).toBeInstanceOf(SceneError);
        }
      },
    ),
    { numRuns: runs(300) },
  );
});

test('names and attributes that cannot be stored are replaced, and that is told', async () => {
  const document = new Document();
  const node = document.createNode('hi\0ve').setExtras({ note: 'half \ud83d', n: 1 });
  document.createScene().addChild(node);
  const file = await openScene(await new WebIO().writeBinary(document));
  expect(file.nodes[0]!.path).toBe('hi\uFFFDve');
  expect(file.findings.map((f) => f.code)).toContain('name-repaired');
  expect(outlineOf(file).nodes[0]!.attributes).toEqual({ note: 'half \uFFFD', n: '1' });
});
