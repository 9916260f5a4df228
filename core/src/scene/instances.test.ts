import { Document, WebIO } from '@gltf-transform/core';
import { EXTMeshGPUInstancing } from '@gltf-transform/extensions';
import { openScene, SceneError } from './open.ts';
import { outlineOf } from './outline.ts';
import { sceneAt } from './read-gltf.ts';

/** A field of one flower, listed as instances of a node that itself stands 10 to the right. */
async function field(): Promise<Uint8Array> {
  const d = new Document();
  const buffer = d.createBuffer();
  const list = (type: 'VEC3' | 'VEC4', ...values: number[]) =>
    d.createAccessor().setType(type).setBuffer(buffer).setArray(Float32Array.from(values));
  const mesh = d
    .createMesh('flower')
    .addPrimitive(d.createPrimitive().setAttribute('POSITION', list('VEC3', 0, 0, 0, 1, 0, 0, 0, 1, 0)));
  const extension = d.createExtension(EXTMeshGPUInstancing).setRequired(true);
  const half = Math.SQRT1_2;
  const instances = extension
    .createInstancedMesh()
    .setAttribute('TRANSLATION', list('VEC3', 0, 0, 0, 0, 0, -3))
    // The second is turned a quarter about z, so that its x shows upwards.
    .setAttribute('ROTATION', list('VEC4', 0, 0, 0, 1, 0, 0, half, half))
    .setAttribute('SCALE', list('VEC3', 1, 1, 1, 2, 2, 2));
  const node = d
    .createNode('flowers')
    .setMesh(mesh)
    .setTranslation([10, 0, 0])
    .setExtras({ bloom: 'June' })
    .setExtension('EXT_mesh_gpu_instancing', instances);
  d.createScene('field').addChild(node);
  return new WebIO().registerExtensions([EXTMeshGPUInstancing]).writeBinary(d);
}

test('each instance is an object of its own, with the place and the attributes that the list gives it', async () => {
  const file = await openScene(await field());
  const objects = outlineOf(file).nodes.filter((n) => n.kind === 'object');
  expect(objects.map((n) => n.path)).toEqual(['flowers/flowers_1', 'flowers/flowers_2']);
  expect(objects.map((n) => n.attributes)).toEqual([{ bloom: 'June' }, { bloom: 'June' }]);
  expect(outlineOf(file).nodes[0]).toMatchObject({ path: 'flowers', kind: 'group' });
  const scene = sceneAt(file);
  expect(scene.parts).toHaveLength(2);
  const corners = (t: number) =>
    Array.from(scene.indices.subarray(3 * t, 3 * t + 3), (v) =>
      Array.from(scene.positions.subarray(3 * v, 3 * v + 3), (x) => Math.round(x * 1e5) / 1e5),
    );
  expect(corners(0)).toEqual([
    [10, 0, 0],
    [11, 0, 0],
    [10, 1, 0],
  ]);
  expect(corners(1)).toEqual([
    [10, 0, -3],
    [10, 2, -3],
    [8, 0, -3],
  ]);
});

test('a scene that cannot be read without an unknown extension is refused by its name', async () => {
  const bytes = new TextEncoder().encode(
    JSON.stringify({
      asset: { version: '2.0' },
      extensionsUsed: ['ACME_wax'],
      extensionsRequired: ['ACME_wax'],
      scenes: [{}],
    }),
  );
  const opened = openScene(bytes);
  await expect(opened).rejects.toThrow(SceneError);
  await expect(opened).rejects.toThrow('ACME_wax');
});
