import { sortFiles } from './add-files.ts';

const file = (name: string) => new File(['x'], name);

describe('sorting dropped files', () => {
  test('every picture is a group, manifests go with each, the rest is refused', () => {
    const { groups, refused } = sortFiles(['a.exr', 'names.json', 'B.EXR', 'notes.txt'].map(file));
    expect(groups.map((g) => [g.picture.name, g.sidecars.map((s) => s.name)])).toEqual([
      ['a.exr', ['names.json']],
      ['B.EXR', ['names.json']],
    ]);
    expect(refused.map((f) => f.name)).toEqual(['notes.txt']);
  });
  test('a manifest without a picture is refused, too', () => {
    const { groups, refused } = sortFiles([file('names.json')]);
    expect(groups).toEqual([]);
    expect(refused).toHaveLength(1);
  });
});
