import { groupFiles, missingFrames } from './group-files.ts';

/** Groups of a listing as text: `name version: file(frame,label) …`. */
function grouped(listing: string): { groups: string[]; refused: string[]; doubts: string[] } {
  const { groups, refused } = groupFiles(
    listing
      .split(/\s+/)
      .filter(Boolean)
      .map((path) => ({ path })),
  );
  return {
    groups: groups.map(
      (g) =>
        `${g.name}${g.version ? ` ${g.version}` : ''}: ${g.files
          .map(
            (f) =>
              `${f.role === 'sidecar' ? 'names' : f.label || '-'}${f.frame === null ? '' : `@${f.frame}`}`,
          )
          .join(' ')}`,
    ),
    refused: refused.map((r) => r.file.path),
    doubts: groups.flatMap((g) => g.doubts),
  };
}

/** Folders as renderers and people leave them. */
test.each<[what: string, listing: string, groups: string[]]>([
  ['one file', 'honey_table.exr', ['honey_table: -']],
  ['a picture and its passes', 'table_beauty.exr table_depth.exr table_N.exr', ['table: beauty depth N']],
  ['a bare picture and passes', 'table.exr table_ao.exr table_crypto.exr', ['table: - ao crypto']],
  ['frames after a dot', 'flight.0001.exr flight.0002.exr flight.0004.exr', ['flight: -@1 -@2 -@4']],
  ['frames after a line', 'flight_0010.png flight_0011.png', ['flight: -@10 -@11']],
  ['short frames after a dot', 'flight.1.exr flight.2.exr', ['flight: -@1 -@2']],
  ['frames glued to a word', 'beauty0001.exr beauty0002.exr', ['beauty: beauty@1 beauty@2']],
  [
    'passes and frames',
    'hive_depth.0001.exr hive_beauty.0001.exr hive_beauty.0002.exr',
    ['hive: depth@1 beauty@1 beauty@2'],
  ],
  ['two versions', 'table_v1.exr table_v2.exr', ['table v1: -', 'table v2: -']],
  [
    'versions before passes',
    'table_v01_beauty.exr table_v01_z.exr table_v02_beauty.exr',
    ['table v01: beauty z', 'table v02: beauty'],
  ],
  ['versions and frames', 'jar_v3.0101.exr jar_v3.0102.exr', ['jar v3: -@101 -@102']],
  ['object buffers', 'table.png buffer_01.png', ['table: - buffer 01']],
  [
    'object buffers of the shot',
    'table_buffer_01.png table_buffer_02.png table_beauty.png',
    ['table: buffer 01 buffer 02 beauty'],
  ],
  [
    'puzzle sets',
    'table_puzzle_set1.png table_puzzle_set2.png table.png',
    ['table: puzzle set1 puzzle set2 -'],
  ],
  [
    'flat colours and their twin',
    'smoker_flat.png smoker_flat_lines.png smoker.tif',
    ['smoker: flat flat lines -'],
  ],
  [
    'a folder a pass',
    'beauty/jar.0001.exr depth/jar.0001.exr beauty/jar.0002.exr',
    ['jar: beauty@1 depth@1 beauty@2'],
  ],
  ['a folder a version', 'v001/jar_beauty.exr v002/jar_beauty.exr', ['jar v001: beauty', 'jar v002: beauty']],
  [
    'a folder a shot',
    'hive/beauty.exr hive/depth.exr smoker/beauty.exr',
    ['hive: beauty depth', 'smoker: beauty'],
  ],
  ['names beside', 'table.exr table.json', ['table: - names']],
  ['names called otherwise', 'table_beauty.exr manifest.json', ['table: beauty names']],
  [
    'light passes',
    'jar_diffuse.exr jar_specular.exr jar_refraction.exr jar_emission.exr',
    ['jar: diffuse specular refraction emission'],
  ],
  [
    'cryptomattes by themselves',
    'jar.exr jar_cryptoObject.exr jar_cryptoMaterial.exr',
    ['jar: - cryptoObject cryptoMaterial'],
  ],
  ['different shots', 'hive.exr smoker.exr lavender.exr', ['hive: -', 'smoker: -', 'lavender: -']],
  ['capital endings', 'Hive.EXR HIVE_depth.exr', ['Hive: -', 'HIVE: depth']],
  ['spaces and dashes', 'honey-jar-beauty.exr honey-jar-depth.exr', ['honey-jar: beauty depth']],
  ['cameras', 'table_cam2.exr table_cam3.exr', ['table_cam2: -', 'table_cam3: -']],
  [
    'frames that begin at 1001',
    'bee.1001.exr bee.1002.exr bee_depth.1001.exr',
    ['bee: -@1001 -@1002 depth@1001'],
  ],
  ['dots everywhere', 'shot.hive.beauty.0005.exr shot.hive.depth.0005.exr', ['shot.hive: beauty@5 depth@5']],
  ['a number that is no frame', 'jar_2.exr jar_3.exr', ['jar_2: -', 'jar_3: -']],
  ['only passes', 'depth.exr normal.exr beauty.exr', ['depth: depth normal beauty']],
])('%s', (_what, listing, groups) => expect(grouped(listing).groups).toEqual(groups));

test('what is no picture is refused, and litter of the system with it', () => {
  const { groups, refused } = grouped('table.exr notes.txt .DS_Store Thumbs.db scene.blend');
  expect(groups).toEqual(['table: -']);
  expect(refused).toEqual(['notes.txt', '.DS_Store', 'Thumbs.db', 'scene.blend']);
  expect(grouped('names.json').refused).toEqual(['names.json']);
});

test('what is not certain is asked', () => {
  expect(grouped('table.exr table_warm.exr')).toMatchObject({
    groups: ['table: - warm'],
    doubts: ['Is warm a pass of table?'],
  });
  expect(grouped('a/jar.exr b/jar.exr names.json').doubts).toHaveLength(2);
  expect(grouped('jar_beauty.exr jar_beauty.png').doubts[0]).toContain('seem to be the same pass');
  expect(grouped('bee.0001.exr bee.0002.exr bee_depth.exr').doubts[0]).toContain(
    'One file has no frame number',
  );
});

test('every decision has its reason', () => {
  const { groups } = groupFiles([
    { path: 'jar_v2_depth.0007.exr' },
    { path: 'jar_v2_extra.0007.exr' },
    { path: 'jar_v2.0007.exr' },
  ]);
  expect(groups[0]!.files.map((f) => f.why)).toEqual([
    'frame 7 by its number, depth by its name, v2 by its name',
    'frame 7 by its number, v2 by its name, its name begins with jar',
    'frame 7 by its number, v2 by its name',
  ]);
});

test('gaps in a sequence are found', () => {
  const { groups } = groupFiles([1, 2, 5, 6].map((n) => ({ path: `bee.${n}.exr` })));
  expect(missingFrames(groups[0]!)).toEqual([3, 4]);
});

test('hundreds of files take no time to speak of', () => {
  const names = Array.from({ length: 300 }, (_, i) => ({
    path: `bee_${['beauty', 'depth', 'ids'][i % 3]}.${1000 + Math.floor(i / 3)}.exr`,
  }));
  const { groups } = groupFiles(names);
  expect(groups).toHaveLength(1);
  expect(groups[0]!.files).toHaveLength(300);
});
