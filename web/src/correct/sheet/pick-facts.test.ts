import type { MemberPick } from '@zesty-crow/core';
import type { Layer } from '../../picture/picture.ts';
import { factsOf, pickWarnings } from './pick-facts.ts';

const member = (name: string, id: number, coverage = 100) => ({ name, id, coverage, pixels: coverage });
const objects: Layer = {
  name: 'CryptoObject',
  family: 'objects',
  state: 'there',
  members: [
    member('lavender/sprig_1', 1),
    member('lavender/sprig_2', 2),
    member('lavender/sprig_3', 3, 2.5),
    member('hive', 4),
    member('nothing', 0, 5000),
  ],
  unseen: ['lavender/sprig_9'],
};
const pick = (member: string, more: Partial<MemberPick> = {}): MemberPick => ({
  mode: 'with',
  layer: 'CryptoObject',
  member,
  ...more,
});
const texts = (...who: MemberPick[]) => pickWarnings(who, [objects]).map((w) => w.text);

test('what the frame says of a pick', () => {
  const rule = pick('lavender/*', { rule: true });
  expect(factsOf(rule, [objects], 1000)).toEqual({ known: true, ids: [1, 2, 3], share: 0.2025, lost: false });
  expect(factsOf(pick('lavender/sprig_9'), [objects], 1000)).toMatchObject({ ids: [], lost: false });
  expect(factsOf(pick('smoker'), [objects], 1000)).toMatchObject({ lost: true });
  expect(factsOf(pick('smoker'), [{ ...objects, state: 'coming' }], 1000)).toMatchObject({
    known: false,
    lost: false,
  });
});

test('others that are named alike are proposed, until they are in or were taken out', () => {
  expect(texts(pick('lavender/sprig_1'))).toEqual(['2 more like lavender/sprig_*']);
  expect(texts(pick('lavender/sprig_1'), pick('lavender/sprig_2', { mode: 'without' }))).toEqual([
    '1 more like lavender/sprig_*',
  ]);
  expect(texts(pick('hive'))).toEqual([]);
});

test('tiny and unseen members of a choice are told', () => {
  expect(texts(pick('lavender/sprig_*', { rule: true }))).toEqual([
    'lavender/sprig_3 is tiny here: 2.5 px.',
    'lavender/sprig_9 is meant, but not seen in this frame.',
  ]);
});
