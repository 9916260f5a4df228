import { sampleBytes, sample } from '../test/fixtures/samples.ts';
import { applyChanges } from '../src/apply/apply-changes.ts';
import { ExrError } from '../src/formats/exr/errors.ts';
import { readExrBy } from '../src/formats/exr/read.ts';
import { buildIdIndex, buildIdIndexBy } from '../src/idindex/id-index.ts';
import { loadIdLayers } from '../src/idlayers/load.ts';
import { openPicture } from '../src/version/open-picture.ts';
import { nodeCrew } from './crew.ts';

const { crew, end } = nodeCrew(4);
afterAll(end);
const shared = (bytes: Uint8Array): Uint8Array => {
  const copy = new Uint8Array(crew.allocate(bytes.length));
  copy.set(bytes);
  return copy;
};

test.each(['all.exr', 'material_piz.exr', 'object_overscan.exr'])(
  'four threads read %s as one does, and index it as one does',
  async (name) => {
    const one = sample(name);
    const many = await readExrBy(crew, shared(sampleBytes(name)));
    many.channels.forEach((c, i) =>
      expect(Buffer.compare(Buffer.from(c.data.buffer), Buffer.from(one.channels[i]!.data.buffer))).toBe(0),
    );
    const planes = loadIdLayers(many).layers[0]!.planes!;
    expect(await buildIdIndexBy(crew, planes)).toEqual(buildIdIndex(loadIdLayers(one).layers[0]!.planes!));
  },
);

test('what a thread finds damaged is told as if there were one', async () => {
  const bytes = shared(sampleBytes('all.exr'));
  bytes.fill(7, bytes.length - 4000, bytes.length - 100);
  await expect(readExrBy(crew, bytes)).rejects.toThrow(ExrError);
});

test('a change list comes out the same, bit for bit', async () => {
  const open = openPicture(sample('all.exr'));
  const list = ['bees/*', 'table/*'].map((member, i) => ({
    id: member,
    words: '',
    on: true,
    done: false,
    edge: [],
    fence: [],
    brush: [],
    plainEdges: true,
    who: [{ mode: 'with' as const, layer: 'CryptoObject', member }],
    corrections: [{ id: `${i}`, kind: 'hue-saturation-lightness', on: true, values: { hue: 40 * (i + 1) } }],
  }));
  const planes = {
    ...open.planes,
    ...Object.fromEntries(
      (['r', 'g', 'b'] as const).map((k) => {
        const plane = new Float32Array(crew.allocate(open.planes[k].byteLength));
        plane.set(open.planes[k]);
        return [k, plane];
      }),
    ),
  };
  const many = await applyChanges({ planes, cast: open.cast }, list, { crew });
  const one = await applyChanges(open, list);
  for (const k of ['r', 'g', 'b'] as const)
    expect(Buffer.compare(Buffer.from(many[k].buffer), Buffer.from(one[k].buffer))).toBe(0);
});

test('work that is called off stops, and the crew goes on with the next', async () => {
  const bytes = shared(sampleBytes('all.exr'));
  const abort = new AbortController();
  abort.abort(new Error('Not wanted any more.'));
  await expect(readExrBy(crew, bytes, { signal: abort.signal })).rejects.toThrow('Not wanted');
  expect((await readExrBy(crew, bytes)).channels.length).toBeGreaterThan(10);
});

test('a thread that ends leaves its work to the others', async () => {
  const small = nodeCrew(3);
  await small.end();
  expect((await readExrBy(small.crew, shared(sampleBytes('all.exr')))).channels.length).toBeGreaterThan(10);
});
