import { execFileSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { parseChangeList } from '@zesty-crow/core';
import { fail, outcome, run } from '../test/calls.ts';
import { at } from '../test/files.ts';
import { samplePath } from '../../core/test/fixtures/samples.ts';

/** On a farm frames are handed over one by one: each by its own number, and nothing missing in silence. */
const change = (more: object = {}) => ({
  id: 'a',
  words: 'Brighter smoker',
  on: true,
  done: false,
  who: [{ mode: 'with', layer: 'CryptoObject', member: 'table/smoker' }],
  corrections: [{ id: 'b', kind: 'exposure', on: true, values: { stops: 1 } }],
  ...more,
});
function list(name: string, ...changes: object[]): string {
  const whole = parseChangeList({ format: 'zesty-crow/changes', version: 1, changes });
  writeFileSync(at(name), JSON.stringify(whole));
  return at(name);
}
const parcel = (kind: string, title: string, settings: object, more = {}) => ({
  ...{ id: title, kind, title, frames: '', variants: [''], settings },
  ...{ name: '{parcel}/{shot}_{part}.{frame}', folder: '', ...more },
});
function parcels(name: string, ...all: object[]): string {
  writeFileSync(at(name), JSON.stringify({ format: 'zesty-crow/parcels', version: 1, parcels: all }));
  return at(name);
}
const FRAMES = ['1001', '1004', '1010'];
const file = (frame: string) => at(`farm/hive.${frame}.exr`);
beforeAll(() => {
  mkdirSync(at('farm'));
  for (const frame of FRAMES) copyFileSync(samplePath('all.exr'), file(frame));
});

describe('the number of a file', () => {
  const keys = { stops: [1001, 1010].map((frame, i) => ({ frame, value: 1 - i, way: 'linear' })) };
  const applied = async (files: string, changes: string, ...more: string[]) => {
    await run('apply', files, '--changes', changes, '--out', at('farm.png'), '--depth', '8', ...more);
    return readFileSync(at('farm.png'));
  };

  test('is the frame whose keys hold, unless another one is named', async () => {
    const keyed = list('farm-keyed.json', change());
    const whole = JSON.parse(readFileSync(keyed, 'utf8')) as { changes: { corrections: object[] }[] };
    Object.assign(whole.changes[0]!.corrections[0]!, { keys });
    writeFileSync(keyed, JSON.stringify(whole));
    const inSequence = await applied(at('farm'), keyed, '--frame', '1004');
    expect((await applied(file('1004'), keyed)).equals(inSequence)).toBe(true);
    expect((await applied(file('1001'), keyed)).equals(inSequence)).toBe(false);
    expect((await applied(file('1001'), keyed, '--frame', '1004')).equals(inSequence)).toBe(true);
  });

  test('keeps frames apart that are packed one by one, into one folder', async () => {
    const what = parcels('farm.json', parcel('masks', 'Smoker', { of: 'members', members: 'table/smoker' }));
    for (const frame of FRAMES) await run('pack', file(frame), '--parcels', what, '--out', at('farm-out'));
    expect(readdirSync(at('farm-out/smoker')).sort()).toEqual(
      FRAMES.map((frame) => `hive_table_smoker.${frame}.png`),
    );
    expect(readdirSync(at('farm-out')).filter((n) => n.startsWith('manifest'))).toEqual(
      FRAMES.map((frame) => `manifest.${frame}.json`),
    );
    for (const frame of FRAMES)
      execFileSync('sha256sum', ['-c', `SHA256SUMS.${frame}`], { cwd: at('farm-out') });
    await run('pack', file('1001'), '--frame', '7', '--parcels', what, '--out', at('farm-out'));
    expect(existsSync(at('farm-out/smoker/hive_table_smoker.0007.png'))).toBe(true);
    await run('pack', at('farm'), '--frame', '1010', '--parcels', what, '--out', at('farm-one'));
    expect(readdirSync(at('farm-one/smoker'))).toEqual(['farm_table_smoker.1010.png']);
  });

  test('is told as it is where it is not there', async () => {
    const said = await fail(
      'apply',
      at('farm'),
      '--frame',
      '9',
      '--changes',
      list('farm-a.json', change()),
      '--out',
      at('x.png'),
    );
    expect(said).toContain('There are: 1001, 1004, 1010.');
  });
});

describe('what is missing', () => {
  const haze = { corrections: [{ id: 'h', kind: 'haze', on: true, values: { pass: 'far' } }] };
  const CASES: [string, object, RegExp][] = [
    ['a member', change({ who: [{ mode: 'with', layer: 'CryptoObject', member: 'wasp' }] }), /names "wasp"/],
    [
      'a rule',
      change({ who: [{ mode: 'with', layer: 'CryptoObject', member: 'wasp_*', rule: true }] }),
      /"wasp_\*"/,
    ],
    ['a pass', change(haze), /needs the pass far/],
    ['a mask', change({ who: [] }), /The mask of "Brighter smoker" is empty/],
  ];
  test.each(CASES)(
    '%s: apply tells it, and with --strict ends with 3 and writes nothing',
    async (_, own, words) => {
      const args = ['apply', file('1001'), '--changes', list('farm-lost.json', own), '--out'];
      const told = await outcome(...args, at('farm-told.exr'));
      expect([told.code, told.err]).toEqual([0, expect.stringMatching(words)]);
      const strict = await outcome(...args, at('farm-strict.exr'), '--strict');
      expect([strict.code, strict.err]).toEqual([3, expect.stringMatching(words)]);
      expect(existsSync(at('farm-strict.exr'))).toBe(false);
    },
  );

  const picture = parcel('picture', 'Look', { format: 'png8' });
  test.each<[string, object, object, RegExp]>([
    ...CASES.map(([what, own, words]) => [what, own, picture, words] as [string, object, object, RegExp]),
    [
      'frames',
      change(),
      { ...picture, frames: '9' },
      /asks for frames 9, of which none is there. There are: 1001, 1004, 1010/,
    ],
    ['a variant', change(), { ...picture, variants: ['', 'gone'] }, /asks for a variant .* \(gone\)/],
  ])(
    '%s: pack tells it and keeps it in its list, and with --strict ends with 3',
    async (_, own, what, words) => {
      const given = [
        '--parcels',
        parcels('farm-lost-parcels.json', what),
        '--changes',
        list('farm-lost.json', own),
      ];
      const told = await outcome('pack', at('farm'), ...given, '--out', at('farm-pack'));
      expect([told.code, told.err]).toEqual([0, expect.stringMatching(words)]);
      const { notes } = JSON.parse(readFileSync(at('farm-pack/manifest.json'), 'utf8')) as {
        notes: string[];
      };
      expect(notes.join(' ')).toMatch(words);
      const strict = await outcome('pack', at('farm'), ...given, '--out', at('farm-none'), '--strict');
      expect([strict.code, strict.err]).toEqual([3, expect.stringMatching(words)]);
      expect(existsSync(at('farm-none'))).toBe(false);
    },
  );

  test('nothing: --strict changes nothing', async () => {
    const given = [
      '--parcels',
      parcels('farm-all.json', picture),
      '--changes',
      list('farm-a.json', change()),
    ];
    const said = await outcome('pack', at('farm'), ...given, '--out', at('farm-all'), '--strict');
    expect(said).toEqual({ code: 0, err: '' });
    expect(readdirSync(at('farm-all/look'))).toHaveLength(3);
  });
});
