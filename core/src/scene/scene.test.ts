import { frozenBytes } from '../../test/fixtures/frozen.ts';
import { Document, WebIO, type Node } from '@gltf-transform/core';
import {
  EXTMeshoptCompression,
  KHRDracoMeshCompression,
  KHRMeshQuantization,
  KHRTextureTransform,
} from '@gltf-transform/extensions';
import { encode as encodePng } from 'fast-png';
import { openScene, SceneError } from './open.ts';
import { outlineOf } from './outline.ts';
import { readGlb, sceneAt } from './read-gltf.ts';
import { sampleTexture } from './texture.ts';

/** A document with one triangle for each name of a path. */
function documentOf(
  paths: string[],
  change: (d: Document, nodes: Map<string, Node>) => void = () => undefined,
) {
  const d = new Document();
  const buffer = d.createBuffer();
  const scene = d.createScene('test');
  const nodes = new Map<string, Node>();
  for (const path of paths) {
    let above: Node | undefined;
    const names = path.split('/');
    names.forEach((name, i) => {
      const key = names.slice(0, i + 1).join('/');
      let node = nodes.get(key);
      if (!node) {
        node = d.createNode(name);
        nodes.set(key, node);
        if (above) above.addChild(node);
        else scene.addChild(node);
      }
      above = node;
    });
    const positions = d
      .createAccessor()
      .setType('VEC3')
      .setBuffer(buffer)
      .setArray(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0));
    const primitive = d.createPrimitive().setAttribute('POSITION', positions);
    above!.setMesh(d.createMesh(path).addPrimitive(primitive));
  }
  change(d, nodes);
  return d;
}
const glb = (d: Document) =>
  new WebIO().registerExtensions([KHRMeshQuantization, KHRTextureTransform]).writeBinary(d);
const json = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));

describe('a whole scene', () => {
  test('has a camera, a sun, unique names, shared materials, glass and metal', async () => {
    const scene = await readGlb(frozenBytes('honey_table.glb'));
    const names = scene.objects.map((o) => o.path);
    expect(new Set(names).size).toBe(names.length);
    expect(names).toEqual(
      expect.arrayContaining(['jars/jar_1/lid', 'jars/jar_3/honey', 'smoker/bellows', 'hive/roof']),
    );
    expect(names.filter((n) => n.startsWith('lavender/sprig_')).length).toBeGreaterThanOrEqual(40);
    expect(scene.suns).toHaveLength(1);
    const used = (path: string) =>
      scene.parts
        .filter((p) => scene.objects[p.object]!.path === path)
        .map((p) => scene.materials[p.material]!.name);
    expect(used('jars/jar_1/lid')).toEqual(used('jars/jar_2/lid'));
    expect(used('smoker/bellows')).toEqual(['beech', 'leather']);
    expect(scene.materials.find((m) => m.name === 'honey')).toMatchObject({
      transmission: 1,
      absorption: expect.anything(),
    });
    expect(scene.materials.find((m) => m.name === 'brass')!.metalness).toBe(1);
    expect(scene.positions.every(Number.isFinite) && scene.normals.every(Number.isFinite)).toBe(true);
    expect(scene.firstMoving).toBe(scene.indices.length / 3);
  });

  test('of the flight moves its bee and its camera', async () => {
    const file = await openScene(frozenBytes('bee_flight.glb'));
    expect(outlineOf(file).seconds).toBeCloseTo(9 / 24, 3);
    const moment = { time: 4 / 24, frameTime: 1 / 24, shutter: 0.5 };
    const scene = sceneAt(file, moment);
    const moving = new Set(
      Array.from(
        scene.trianglePart.subarray(scene.firstMoving),
        (p) => scene.objects[scene.parts[p]!.object]!.path,
      ),
    );
    expect([...moving]).toEqual(['bees/bee_flying']);
    expect(scene.camera.lensRadius).toBeGreaterThan(0);
    expect(scene.camera.matrix[12]).not.toBe(scene.camera.matrixEnd[12]);
    // What the shutter sees ends where the pose of half a frame later begins.
    const later = sceneAt(file, { ...moment, time: 4.5 / 24 });
    const at = 3 * scene.indices[3 * scene.firstMoving]!;
    expect(scene.positionsEnd[at]).toBeCloseTo(later.positions[at]!, 6);
  });
});

describe('names', () => {
  test('are paths; missing and double ones are reported and told apart', async () => {
    const d = documentOf(['jars/lid', 'jars/label']);
    const scene = d.getRoot().listScenes()[0]!;
    for (const name of ['', '', 'jars'])
      scene.addChild(d.createNode(name).setMesh(d.getRoot().listMeshes()[0]!));
    const file = await openScene(await glb(d));
    const outline = outlineOf(file);
    expect(outline.nodes.filter((n) => n.kind === 'object').map((n) => n.path)).toEqual([
      'jars/lid',
      'jars/label',
      'unnamed',
      'unnamed_2',
      'jars_2',
    ]);
    expect(outline.findings.map((f) => f.code)).toEqual(
      expect.arrayContaining([
        'name-missing',
        'name-double',
        'camera-missing',
        'light-missing',
        'normals-missing',
      ]),
    );
    // Two nodes share a mesh: two objects.
    expect(sceneAt(file).objects).toHaveLength(5);
  });

  test('are text, whatever they hold', async () => {
    const name = '<img src=x onerror=alert(1)> "é" {{1}}';
    const scene = await readGlb(await glb(documentOf([name.replaceAll('/', '')])));
    expect(scene.objects[0]!.name).toBe(name.replaceAll('/', ''));
  });
});

describe('what is wrong with a scene is said in plain words', () => {
  test.each([
    ['text', new TextEncoder().encode('hello, this is text'), 'not a glTF'],
    ['nothing', new Uint8Array(0), 'not a glTF'],
    ['an empty document', json({ asset: { version: '2.0' } }), 'no scene'],
    [
      'a circle',
      json({
        asset: { version: '2.0' },
        scenes: [{ nodes: [0] }],
        nodes: [{ children: [1], name: 'hive' }, { children: [2] }, { children: [1] }],
      }),
      'two parents',
    ],
    [
      'a closed circle',
      json({
        asset: { version: '2.0' },
        scenes: [{ nodes: [] }],
        nodes: [{ children: [1], name: 'hive' }, { children: [0] }],
      }),
      'below itself',
    ],
    [
      'a missing child',
      json({ asset: { version: '2.0' }, scenes: [{ nodes: [0] }], nodes: [{ children: [7] }] }),
      'not there',
    ],
    [
      'missing geometry',
      json({
        asset: { version: '2.0' },
        scenes: [{ nodes: [] }],
        buffers: [{ uri: 'hive.bin', byteLength: 12 }],
      }),
      '"hive.bin"',
    ],
  ])('%s', async (_, bytes, words) => {
    await expect(openScene(bytes)).rejects.toThrow(SceneError);
    await expect(openScene(bytes)).rejects.toThrow(words);
  });

  test('a scene without triangles cannot be rendered', async () => {
    const d = new Document();
    d.createScene('empty').addChild(d.createNode('nothing'));
    const file = await openScene(await glb(d));
    expect(outlineOf(file).findings.map((f) => f.code)).toContain('scene-empty');
    expect(() => sceneAt(file)).toThrow('no triangles');
  });

  test('corners that are no numbers are left out and counted', async () => {
    const d = documentOf(['sound', 'broken'], (doc) => {
      const broken = doc.getRoot().listMeshes()[1]!.listPrimitives()[0]!;
      broken.getAttribute('POSITION')!.setArray(Float32Array.of(0, NaN, 0, 1, 0, 0, 0, 1, 0));
    });
    const findings: { code: string }[] = [];
    const scene = sceneAt(await openScene(await glb(d)), undefined, findings as never);
    expect(scene.indices).toHaveLength(3);
    expect(findings.map((f) => f.code)).toEqual(['triangles-broken']);
  });

  test('a missing texture leaves the plain colour and says so', async () => {
    const d = documentOf(['jar']);
    const texture = d
      .createTexture('label')
      .setURI('label.png')
      .setImage(Uint8Array.of(1))
      .setMimeType('image/png');
    d.getRoot()
      .listMeshes()[0]!
      .listPrimitives()[0]!
      .setMaterial(d.createMaterial('paper').setBaseColorTexture(texture));
    const { json: document, resources } = await new WebIO().writeJSON(d);
    const beside = new Map(Object.entries(resources).filter(([name]) => name.endsWith('.bin')));
    const file = await openScene(json(document), beside);
    expect(file.findings.map((f) => f.code)).toContain('texture-missing');
    expect(sceneAt(file).materials[0]!.colourMap).toBeUndefined();
    // With something that is no picture in its place, the fault is another one.
    const findings: { code: string }[] = [];
    const garbled = await openScene(
      json(document),
      new Map([...beside, ['label.png', Uint8Array.of(1, 2, 3)]]),
    );
    sceneAt(garbled, undefined, findings as never);
    expect(findings.map((f) => f.code)).toContain('texture-unreadable');
  });

  test('without a camera everything is in view', async () => {
    const { camera, positions } = await readGlb(await glb(documentOf(['a'])));
    const m = camera.matrix;
    for (let v = 0; v < positions.length; v += 3) {
      const d = [0, 1, 2].map((k) => positions[v + k]! - m[12 + k]!);
      const along = (c: number) => d[0]! * m[4 * c]! + d[1]! * m[4 * c + 1]! + d[2]! * m[4 * c + 2]!;
      expect(-along(2)).toBeGreaterThan(0);
      expect(Math.abs(along(1) / along(2))).toBeLessThan(Math.tan(camera.yfov / 2));
    }
  });
});

describe('poses', () => {
  test('keys are interpolated, held before and after, and turned the short way', async () => {
    const d = documentOf(['bee'], (doc, nodes) => {
      const buffer = doc.getRoot().listBuffers()[0]!;
      const accessor = (type: 'SCALAR' | 'VEC3' | 'VEC4', list: number[]) =>
        doc.createAccessor().setType(type).setBuffer(buffer).setArray(Float32Array.from(list));
      const animation = doc.createAnimation('fly');
      const half = Math.SQRT1_2;
      for (const [path, type, out] of [
        ['translation', 'VEC3', [0, 0, 0, 4, 0, 0]],
        ['rotation', 'VEC4', [0, 0, 0, 1, 0, 0, half, half]],
      ] as const) {
        const sampler = doc
          .createAnimationSampler()
          .setInput(accessor('SCALAR', [1, 3]))
          .setOutput(accessor(type, [...out]));
        animation
          .addSampler(sampler)
          .addChannel(
            doc
              .createAnimationChannel()
              .setTargetNode(nodes.get('bee')!)
              .setTargetPath(path)
              .setSampler(sampler),
          );
      }
    });
    const file = await openScene(await glb(d));
    const corner = (time: number) => [
      ...sceneAt(file, { time, frameTime: 1, shutter: 0 }).positions.subarray(3, 6),
    ];
    expect(corner(0)).toEqual([1, 0, 0]);
    expect(corner(9)[0]).toBeCloseTo(4, 5);
    expect(corner(9)[1]).toBeCloseTo(1, 5);
    // Half way: two units on and 45 degrees turned.
    expect(corner(2)[0]).toBeCloseTo(2 + Math.SQRT1_2, 5);
    expect(corner(2)[1]).toBeCloseTo(Math.SQRT1_2, 5);
  });

  test('morph targets and skins move vertices as glTF says', async () => {
    const d = documentOf(['flower', 'stalk'], (doc, nodes) => {
      const buffer = doc.getRoot().listBuffers()[0]!;
      const vec3 = (list: number[]) =>
        doc.createAccessor().setType('VEC3').setBuffer(buffer).setArray(Float32Array.from(list));
      const [flower, stalk] = doc.getRoot().listMeshes();
      flower!
        .listPrimitives()[0]!
        .addTarget(doc.createPrimitiveTarget().setAttribute('POSITION', vec3([0, 0, 2, 0, 0, 2, 0, 0, 2])));
      flower!.setWeights([0.25]);
      const joint = doc.createNode('joint').setTranslation([0, 5, 0]);
      doc.getRoot().listScenes()[0]!.addChild(joint);
      nodes.get('stalk')!.setSkin(doc.createSkin().addJoint(joint)).setTranslation([100, 0, 0]);
      const four = (array: Uint8Array | Float32Array) =>
        doc.createAccessor().setType('VEC4').setBuffer(buffer).setArray(array);
      stalk!
        .listPrimitives()[0]!
        .setAttribute('JOINTS_0', four(new Uint8Array(12)))
        .setAttribute('WEIGHTS_0', four(Float32Array.from({ length: 12 }, (_, i) => (i % 4 ? 0 : 1))));
    });
    const { positions } = await readGlb(await glb(d));
    expect([...positions.subarray(3, 6)]).toEqual([1, 0, 0.5]);
    // A skinned mesh goes where its joints are, not where its node is.
    expect([...positions.subarray(12, 15)]).toEqual([1, 5, 0]);
  });
});

describe('compressed geometry', () => {
  test.each(['draco', 'meshopt'] as const)('by %s is read', async (way) => {
    const d = documentOf(['jars/lid']);
    const io = new WebIO();
    if (way === 'draco') {
      const { default: draco } = (await import('draco3dgltf')) as unknown as {
        default: { createEncoderModule(): Promise<unknown> };
      };
      d.createExtension(KHRDracoMeshCompression).setRequired(true);
      const primitive = d.getRoot().listMeshes()[0]!.listPrimitives()[0]!;
      const indices = d
        .createAccessor()
        .setType('SCALAR')
        .setArray(Uint16Array.of(0, 1, 2));
      primitive.setIndices(indices.setBuffer(d.getRoot().listBuffers()[0]!));
      io.registerExtensions([KHRDracoMeshCompression]).registerDependencies({
        'draco3d.encoder': await draco.createEncoderModule(),
      });
    } else {
      const { MeshoptEncoder } = await import('meshoptimizer');
      await MeshoptEncoder.ready;
      d.createExtension(EXTMeshoptCompression).setRequired(true);
      io.registerExtensions([EXTMeshoptCompression]).registerDependencies({
        'meshopt.encoder': MeshoptEncoder,
      });
    }
    const scene = await readGlb(await io.writeBinary(d));
    expect(scene.objects.map((o) => o.path)).toEqual(['jars/lid']);
    const corners = Array.from(scene.indices, (i) =>
      [...scene.positions.subarray(3 * i, 3 * i + 3)].map((v) => Math.round(v * 100) / 100 + 0).join(' '),
    );
    expect(corners.sort()).toEqual(['0 0 0', '0 1 0', '1 0 0']);
  });
});

describe('textures', () => {
  test('are sampled between texels, repeated, moved and linearised', async () => {
    const image = encodePng({
      width: 2,
      height: 1,
      data: Uint8Array.of(255, 0, 0, 255, 0, 0, 255, 128),
      channels: 4,
      depth: 8,
    });
    const d = documentOf(['a'], (doc) => {
      const primitive = doc.getRoot().listMeshes()[0]!.listPrimitives()[0]!;
      const uv = doc
        .createAccessor()
        .setType('VEC2')
        .setBuffer(doc.getRoot().listBuffers()[0]!)
        .setArray(new Float32Array(6));
      const m = doc
        .createMaterial('paint')
        .setBaseColorTexture(doc.createTexture('t').setImage(image).setMimeType('image/png'));
      m.getBaseColorTextureInfo()!.setExtension(
        'KHR_texture_transform',
        doc.createExtension(KHRTextureTransform).createTransform().setOffset([0.5, 0]).setScale([2, 1]),
      );
      primitive.setAttribute('TEXCOORD_0', uv).setMaterial(m);
    });
    const scene = await readGlb(await glb(d));
    const use = scene.materials[0]!.colourMap!;
    expect(use.transform.map((v) => v + 0)).toEqual([2, 0, 0.5, 0, 1, 0]);
    const out = new Float64Array(4);
    sampleTexture(use.texture, 0.25, 0.5, true, out);
    expect([...out]).toEqual([1, 0, 0, 1]);
    sampleTexture(use.texture, 0.5, 0.5, false, out);
    expect(out[0]).toBeCloseTo(0.5, 5);
    expect(out[3]).toBeCloseTo((1 + 128 / 255) / 2, 5);
    // Half way beyond the edge the picture begins again.
    sampleTexture(use.texture, 1.25, 0.5, true, out);
    expect([...out]).toEqual([1, 0, 0, 1]);
  });
});
