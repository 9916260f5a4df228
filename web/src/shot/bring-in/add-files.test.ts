import { sortFiles, worthAsking } from './add-files.ts';

const dropped = (...paths: string[]) =>
  paths.map((path) => ({
    path,
    size: 1,
    from: new File(['x'], path.slice(path.lastIndexOf('/') + 1)),
  }));

describe('sorting dropped files', () => {
  test('every shot is a group, manifests go with each, the rest is refused', async () => {
    const { groups, refused } = await sortFiles(dropped('a.exr', 'names.json', 'B.EXR', 'notes.txt'));
    expect(groups.map((g) => [g.name, g.files.map((f) => f.file.path)])).toEqual([
      ['a', ['a.exr', 'names.json']],
      ['B', ['B.EXR', 'names.json']],
    ]);
    expect(refused.map((f) => f.path)).toEqual(['notes.txt']);
    expect(worthAsking(groups)).toBe(true);
  });
  test('a manifest without a picture is refused, too', async () => {
    const { groups, refused } = await sortFiles(dropped('names.json'));
    expect(groups).toEqual([]);
    expect(refused).toHaveLength(1);
  });
  test('a picture with its names is no question; passes of one are looked at first', async () => {
    expect(worthAsking((await sortFiles(dropped('table.exr', 'table.json'))).groups)).toBe(false);
    expect(worthAsking((await sortFiles(dropped('table.exr', 'table_depth.exr'))).groups)).toBe(true);
  });
  test('what covers the surfaces of a scene is no picture of a shot', async () => {
    const { groups, refused } = await sortFiles(dropped('hive.gltf', 'hive.bin', 'wood.png', 'table.exr'));
    expect(groups.map((g) => g.name)).toEqual(['table']);
    expect(refused).toEqual([]);
  });
});
