import { execFile, execFileSync } from 'node:child_process';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { parseChangeList } from '@zesty-crow/core';
import { outcome, run } from '../test/calls.ts';
import { at } from '../test/files.ts';
import { samplePath } from '../../core/test/fixtures/samples.ts';

/** What `pack` does with files that lie in a folder, and with others that write there at the same time. */
const FRAMES = ['1001', '1002', '1003', '1004'];
const frameFile = (frame: string) => at(`into/hive.${frame}.exr`);
const masks = (more: object = {}) => ({
  ...{ id: 'a', kind: 'masks', title: 'Smoker', settings: { of: 'members', members: 'table/smoker' } },
  ...{ name: '{parcel}/{shot}_{part}.{frame}', ...more },
});
function parcels(name: string, ...all: object[]): string {
  writeFileSync(at(name), JSON.stringify({ format: 'zesty-crow/parcels', version: 2, parcels: all }));
  return at(name);
}
const sound = (folder: string, sums = 'SHA256SUMS') =>
  execFileSync('sha256sum', ['-c', sums], { cwd: at(folder) });
const listed = (folder: string, list = 'manifest.json') =>
  (JSON.parse(readFileSync(at(`${folder}/${list}`), 'utf8')) as { files: { name: string }[] }).files.map(
    (f) => f.name,
  );
beforeAll(() => {
  mkdirSync(at('into'));
  for (const frame of FRAMES) copyFileSync(samplePath('all.exr'), frameFile(frame));
});

test('what differs is replaced, what is the same is left alone, and foreign files are nobody’s', async () => {
  const what = parcels('into-replace.json', masks());
  const pack = () => run('pack', frameFile('1001'), '--parcels', what, '--out', at('replaced'));
  mkdirSync(at('replaced/smoker'), { recursive: true });
  const made = at('replaced/smoker/hive_table_smoker.1001.png');
  writeFileSync(made, 'older');
  writeFileSync(`${made}.part`, 'foreign');
  writeFileSync(at('replaced/manifest.1001.json'), '{"made": "by somebody else"}');
  await pack();
  const first = statSync(made).mtimeMs;
  expect(readFileSync(`${made}.part`, 'utf8')).toBe('foreign');
  expect(readFileSync(at('replaced/manifest.1001.json'), 'utf8')).toContain('somebody else');
  expect(listed('replaced', 'manifest.1001.2.json')).toEqual(['smoker/hive_table_smoker.1001.png']);
  sound('replaced', 'SHA256SUMS.1001.2');
  await pack();
  expect(statSync(made).mtimeMs).toBe(first);
});

test('never replace: nothing is written where a file would become another one', async () => {
  const what = parcels('into-stop.json', masks({ existing: 'stop' }));
  const pack = (...more: string[]) =>
    outcome('pack', at('into'), '--parcels', what, '--out', at('kept'), ...more);
  expect((await pack()).code).toBe(0);
  // Again the same: a list of its own, nothing else.
  expect((await pack()).code).toBe(0);
  expect(readdirSync(at('kept')).sort()).toEqual([
    ...['SHA256SUMS', 'SHA256SUMS.2', 'manifest.2.json', 'manifest.json', 'smoker'],
  ]);
  writeFileSync(at('kept/smoker/into_table_smoker.1001.png'), 'painted over');
  const before = readdirSync(at('kept'), { recursive: true }).sort();
  const { code, err } = await pack();
  expect([code, err]).toEqual([1, expect.stringMatching(/1001\.png is there already and another file/)]);
  expect(readFileSync(at('kept/smoker/into_table_smoker.1001.png'), 'utf8')).toBe('painted over');
  expect(readdirSync(at('kept'), { recursive: true }).sort()).toEqual(before);
});

test('a new numbered folder each time, and one for all frames that are packed one by one', async () => {
  const what = parcels('into-numbered.json', masks({ existing: 'number' }));
  const pack = (files: string) => run('pack', files, '--parcels', what, '--out', at('numbered'));
  await pack(at('into'));
  await pack(at('into'));
  expect(readdirSync(at('numbered'))).toEqual(['0001', '0002']);
  for (const frame of FRAMES) await pack(frameFile(frame));
  expect(readdirSync(at('numbered'))).toEqual(['0001', '0002', '0003']);
  expect(readdirSync(at('numbered/0003/smoker'))).toHaveLength(FRAMES.length);
  for (const frame of FRAMES) sound('numbered/0003', `SHA256SUMS.${frame}`);
});

test('parcels that would make one file are told before anything is written', async () => {
  const what = parcels(
    'into-clash.json',
    ...['a', 'b'].map((id) => ({
      id,
      kind: 'picture',
      title: id,
      name: '{shot}.{frame}',
      settings: { format: 'png8' },
    })),
  );
  const { code, err } = await outcome('pack', at('into'), '--parcels', what, '--out', at('clash'));
  expect([code, err]).toEqual([
    1,
    expect.stringMatching(/b: Another parcel has a file called into\.1001\.png/),
  ]);
  expect(existsSync(at('clash'))).toBe(false);
});

test('a parcel of which nothing may be missing ends it as --strict does, and the others of the set with it', async () => {
  const wasp = { settings: { of: 'members', members: 'wasp, table/smoker' } };
  const strict = parcels('into-strict.json', masks({ ...wasp, strict: true }));
  const told = await outcome('pack', at('into'), '--parcels', strict, '--out', at('strict'));
  expect([told.code, told.err]).toEqual([3, expect.stringMatching(/Frame 1001: "Smoker" names "wasp"/)]);
  expect(existsSync(at('strict'))).toBe(false);
  const loose = parcels(
    'into-loose.json',
    masks({ settings: { of: 'members', members: 'table/*' }, strict: true }),
  );
  expect((await outcome('pack', at('into'), '--parcels', loose, '--out', at('strict'))).code).toBe(0);
});

test('an empty mask ends a strict parcel before the files of its frame', async () => {
  // From 1003 on the mask takes out whom it has taken in.
  const change = (id: string, mode: string, frames: object) => ({
    ...{ id, words: id, on: true, done: false, frames },
    who: [
      { mode: 'with', layer: 'CryptoObject', member: 'table/smoker' },
      ...(mode === 'empty' ? [{ mode: 'without', layer: 'CryptoObject', member: 'table/smoker' }] : []),
    ],
    corrections: [{ id: `${id}-step`, kind: 'exposure', on: true, values: { stops: 1 } }],
  });
  const list = parseChangeList({
    ...{ format: 'zesty-crow/changes', version: 1 },
    changes: [change('seen', 'seen', { last: 1002 }), change('gone', 'empty', { first: 1003 })],
  });
  writeFileSync(at('into-empty.json'), JSON.stringify(list));
  const picture = {
    id: 'p',
    kind: 'picture',
    title: 'Look',
    name: '{shot}.{frame}',
    settings: { format: 'png8' },
  };
  const what = parcels('into-empty-parcels.json', { ...picture, strict: true });
  const args = ['--parcels', what, '--changes', at('into-empty.json'), '--out', at('empty')];
  const { code, err } = await outcome('pack', at('into'), ...args);
  expect([code, err]).toEqual([3, expect.stringMatching(/Frame 1003: The mask of "gone" is empty/)]);
  expect(readdirSync(at('empty'))).toEqual(['into.1001.png', 'into.1002.png']);
});

test('a farm of four processes packs frames one by one into one folder', async () => {
  const what = parcels('into-farm.json', masks(), {
    id: 'p',
    kind: 'picture',
    title: 'Look',
    name: '{parcel}/{shot}.{frame}',
    settings: { format: 'png8' },
  });
  const program = fileURLToPath(new URL('../bin/zesty-crow.mjs', import.meta.url));
  const call = promisify(execFile);
  await Promise.all(
    FRAMES.map((frame) =>
      call(program, ['pack', frameFile(frame), '--parcels', what, '--out', at('of-farm')]),
    ),
  );
  const files = readdirSync(at('of-farm'), { recursive: true, withFileTypes: true }).filter((f) =>
    f.isFile(),
  );
  expect(files.map((f) => f.name).sort()).toEqual(
    FRAMES.flatMap((f) => [
      ...[`SHA256SUMS.${f}`, `manifest.${f}.json`, `hive.${f}.png`, `hive_table_smoker.${f}.png`],
    ]).sort(),
  );
  for (const frame of FRAMES) sound('of-farm', `SHA256SUMS.${frame}`);
});
