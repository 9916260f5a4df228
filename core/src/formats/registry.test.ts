import { alone } from '../crew/alone.ts';
import { sampleBytes } from '../../test/fixtures/samples.ts';
import { readerByName, readerFor, READERS } from './registry.ts';

test('a file is known by its bytes, whatever it is called', async () => {
  const reader = readerFor(sampleBytes('all.exr'));
  expect(reader.format).toBe('exr');
  expect((await reader.outline(sampleBytes('all.exr'))).parts[0]!.dataWindow).toMatchObject({
    xMin: 0,
    xMax: 639,
  });
  expect(readerFor(Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10)).format).toBe('png');
  expect(reader.sniff(Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10))).toBe(false);
  expect(reader.sniff(new Uint8Array(2))).toBe(false);
});
test('what nobody knows is told in words', () =>
  expect(readerFor(new Uint8Array(64)).read(new Uint8Array(64), alone)).rejects.toThrow(
    'not an OpenEXR file',
  ));
test('before there are bytes, the name tells', () => {
  expect(readerByName('hive.0001.EXR')?.format).toBe('exr');
  expect(readerByName('exr')).toBeUndefined();
  expect(readerByName('notes.txt')).toBeUndefined();
});
test('no two formats claim the same ending', () => {
  const endings = READERS.flatMap((r) => r.endings);
  expect(new Set(endings).size).toBe(endings.length);
});
