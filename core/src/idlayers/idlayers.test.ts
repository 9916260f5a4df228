import fc from 'fast-check';
import { sample, sampleBytes, samplePath, truth } from '../../test/fixtures/samples.ts';
import { tool, writeScratch } from '../../test/fixtures/tools.ts';
import { readExr } from '../formats/exr/read.ts';
import { writeExr } from '../formats/exr/write.ts';
import { decodeCryptomatte, encodeCryptomatte, findCryptomattes } from './cryptomatte.ts';
import { formatManifest, parseManifest } from './manifest.ts';
import { hashName, idFromHex, idOfName, idToHex } from './ids.ts';
import { loadIdLayers } from './load.ts';
import { safeSidecarName } from './sidecar.ts';
import type { RankPlanes } from './rank-planes.ts';

describe('names and IDs', () => {
  test.each([
    ['CryptoObject', '3ae39a58'],
    ['CryptoMaterial', 'be359d67'],
    ['hive', '11a6762c'],
    ['a', '3c2569b2'],
    ['table/étiquette "n°7"', 'c97f90c4'],
    ['bee_0128', '80371de7'],
    ['bee_0195', '7f823328'],
  ])('%s hashes to %s', (name, hash) => expect(idToHex(hashName(name))).toBe(hash));

  test('exponents that a float cannot keep are flipped', () => {
    expect(idToHex(idOfName('bee_0128'))).toBe('80b71de7');
    expect(idToHex(idOfName('bee_0195'))).toBe('7f023328');
  });

  test('every stored ID is a normal float, and survives one', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (name) => {
        const id = idOfName(name);
        const asFloat = new Float32Array(Uint32Array.of(id).buffer);
        expect(Number.isFinite(asFloat[0])).toBe(true);
        expect(Math.abs(asFloat[0]!)).toBeGreaterThanOrEqual(2 ** -126);
        expect(new Uint32Array(Float32Array.of(asFloat[0]!).buffer)[0]).toBe(id);
        expect(idFromHex(idToHex(id))).toBe(id);
      }),
    );
  });

  test('the samples agree about every name', () => {
    for (const [name, { id }] of [...Object.entries(truth.objects), ...Object.entries(truth.materials)])
      expect(idToHex(idOfName(name))).toBe(id);
  });
});

describe('manifests', () => {
  test('any names come back', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.string({ unit: 'grapheme', minLength: 1 })), (names) => {
        const entries = names.map((n) => [n, idOfName(n)] as const);
        const { nameOf } = parseManifest(formatManifest(entries));
        // Two names may have one ID; then it goes by either.
        const namesOf = (id: number) => entries.flatMap(([name, own]) => (own === id ? [name] : []));
        for (const [, id] of entries) expect(namesOf(id)).toContain(nameOf.get(id));
        expect(nameOf.size).toBe(new Set(entries.map(([, id]) => id)).size);
      }),
    );
  });
  test('a name that looks like a number keeps its place', () =>
    expect(
      formatManifest([
        ['b', 2],
        ['1', 1],
      ]),
    ).toBe('{"b":"00000002","1":"00000001"}'));
  test.each([
    ['{', 'not valid JSON'],
    ['[1]', 'not a JSON object'],
    ['{"a": 5}', 'not a hex number'],
    ['{"a": "xyz"}', 'not a hex number'],
  ])('%s is refused', (text, message) => expect(() => parseManifest(text)).toThrow(message));
  test('two names with one ID are reported', () =>
    expect(parseManifest('{"a": "00000001", "b": "1"}').clashes).toEqual(['b']));
  test.each(['../secret.json', 'a/b.json', 'a\\b.json', 'c:x.json', '', '..'])('%s is not followed', (name) =>
    expect(safeSidecarName(name)).toBeUndefined(),
  );
});

describe('finding cryptomattes', () => {
  test('both layers of a full file', () => {
    const found = findCryptomattes(sample('all.exr').header);
    expect(found.map((f) => [f.name, f.ranks.length, f.faults.length])).toEqual([
      ['CryptoObject', 6, 0],
      ['CryptoMaterial', 6, 0],
    ]);
    expect(found[0]!.ranks[1]).toEqual({ id: 'CryptoObject00.B', coverage: 'CryptoObject00.A' });
  });

  test('other spellings of the channels are accepted', () => {
    const image = sample('object_two_ranks.exr');
    const spelt = { R: 'red', G: 'g', B: 'blue', A: 'a' } as Record<string, string>;
    const channels = image.channels.map((c) => ({
      ...c,
      name: `left.${c.name.slice(0, -1)}${spelt[c.name.slice(-1)]}`,
    }));
    const again = readExr(writeExr({ ...image.header, channels }));
    expect(findCryptomattes(again.header)[0]!.ranks).toHaveLength(2);
    expect(loadIdLayers(again).layers[0]!.planes!.ids[0]).toEqual(
      loadIdLayers(image).layers[0]!.planes!.ids[0],
    );
  });

  test('IDs in half are a fault and never decoded', () => {
    const { layers, findings } = loadIdLayers(sample('broken_half.exr'));
    expect(layers[0]!.planes).toBeUndefined();
    expect(findings).toContainEqual(expect.objectContaining({ severity: 'error', code: 'ids-half' }));
    expect(() => decodeCryptomatte(layers[0]!.info, [], { width: 1, height: 1 })).toThrow('16-bit half');
  });

  test('names from a file beside the picture, or none', () => {
    const image = sample('object_sidecar.exr');
    const name = findCryptomattes(image.header)[0]!.sidecar!;
    const text = new TextDecoder().decode(sampleBytes('sidecar.json'));
    const loaded = loadIdLayers(image, new Map([[name, text]])).layers[0]!;
    expect(loaded.manifestFrom).toBe('sidecar');
    expect([...loaded.manifest.nameOf.values()].sort()).toEqual(Object.keys(truth.objects).sort());
    expect(loadIdLayers(image).findings[0]!.code).toBe('sidecar-missing');
    expect(loadIdLayers(sample('object_no_manifest.exr')).findings[0]!.code).toBe('manifest-missing');
  });
});

describe('encoding', () => {
  const planes = (): RankPlanes => ({
    width: 5,
    height: 2,
    ids: [0, 1, 2].map((r) =>
      Uint32Array.from({ length: 10 }, (_, i) => (i > r ? idOfName(`bee_${i + r}`) : 0)),
    ),
    coverage: [0, 1, 2].map((r) => Float32Array.from({ length: 10 }, (_, i) => (i > r ? 0.5 / 2 ** r : 0))),
  });

  test('what is written is found and decoded, and the reference tools read it', () => {
    const names = Array.from({ length: 14 }, (_, i) => [`bee_${i}`, idOfName(`bee_${i}`)] as const);
    const original = planes();
    const { channels, attributes } = encodeCryptomatte('CryptoBees', original, names);
    expect(channels).toHaveLength(8);
    const bytes = writeExr({ dataWindow: { xMin: 0, yMin: 0, xMax: 4, yMax: 1 }, channels, attributes });
    const layer = loadIdLayers(readExr(bytes)).layers[0]!;
    expect(layer.name).toBe('CryptoBees');
    original.ids.forEach((plane, r) => expect(layer.planes!.ids[r]).toEqual(plane));
    original.coverage.forEach((plane, r) => expect(layer.planes!.coverage[r]).toEqual(plane));
    expect(layer.manifest.nameOf.get(idOfName('bee_7'))).toBe('bee_7');
    const header = tool('exrheader', writeScratch('bees.exr', bytes));
    const key = idToHex(hashName('CryptoBees')).slice(0, 7);
    expect(header).toContain(`cryptomatte/${key}/name (type string): "CryptoBees"`);
    expect(header).toContain('uint32_to_float32');
  });

  test('the attributes are those of the reference samples', () => {
    const header = tool('exrheader', samplePath('all.exr'));
    const { attributes } = encodeCryptomatte('CryptoObject', planes(), []);
    for (const a of attributes) expect(header).toContain(a.name);
  });
});
