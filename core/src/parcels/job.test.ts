import { type Change, type ChangeList } from '../changes/change.ts';
import { contentOf, expectedNames, mendedIn, statesOf, type ParcelShot } from './job.ts';
import { emptyParcelList } from './parcel.ts';
import { parseParcelList } from './parse.ts';
import { list, shot, parcelOf } from '../../test/fixtures/parcels.ts';

/** Which files come of a parcel, and when they are made again. */
describe('what is made', () => {
  const two: ParcelShot = { ...shot, frames: [1, 2, 3, 8] };
  const parcel = parcelOf('picture', {}, { frames: '2-8', variants: ['', 'v', 'gone'] });
  test('is every frame in every variant that there is', () => {
    expect(statesOf(parcel, two)).toEqual(
      [2, 3, 8].flatMap((frame) => ['', 'v'].map((variant) => ({ variant, frame }))),
    );
    expect(expectedNames({ ...parcel, name: '{variant}/{shot}.{frame}' }, two).slice(0, 2)).toEqual([
      'unnamed/honey_table.0002.exr',
      'night/honey_table.0002.exr',
    ]);
    expect(statesOf(parcelOf('report'), two)).toEqual([{ variant: '', frame: 1 }]);
  });
  test('is another one where something of it changed, and only there', () => {
    const key = (l: ChangeList, state = { variant: '', frame: 2 as number | undefined }) =>
      contentOf(parcel, { ...two, list: l }, state);
    const night = { ...list, variants: [{ ...list.variants[0]!, sets: [] }] };
    expect(key(night)).toBe(key(list));
    expect(key(night, { variant: 'v', frame: 2 })).not.toBe(key(list, { variant: 'v', frame: 2 }));
    const [first, second] = list.changes as [Change, Change];
    const limited = { ...list, changes: [first, { ...second, frames: { first: 1, last: 2 } }] };
    expect(key(limited)).toBe(key(list));
    expect(key(limited, { variant: '', frame: 3 })).not.toBe(key(list, { variant: '', frame: 3 }));
    // Masks do not ask what is done under them.
    const masks = parcelOf('masks');
    const brighter = { ...list, changes: [first, { ...second, corrections: [] }] };
    expect(contentOf(masks, { ...two, list: brighter }, { variant: '', frame: 2 })).toBe(
      contentOf(masks, two, { variant: '', frame: 2 }),
    );
    expect(contentOf({ ...parcel, settings: { type: 'half' } }, two, { variant: '', frame: 2 })).not.toBe(
      key(list),
    );
  });
  test('is another one once the numbers of what it is made with were mended, and as before where they were not', () => {
    const [first] = list.changes as [Change];
    const with_ = (kind: string, on = true): ParcelShot => ({
      ...two,
      list: { ...list, changes: [{ ...first, corrections: [{ id: 'k', kind, on, values: {} }] }] },
    });
    const state = { variant: '', frame: 2 };
    // Defocus was mended once, exposure never.
    const now = contentOf(parcel, with_('defocus'), state);
    expect(contentOf(parcel, with_('defocus'), state, 1)).not.toBe(now);
    expect(contentOf(parcel, with_('defocus'), state, 2)).toBe(contentOf(parcel, with_('defocus'), state, 1));
    expect(mendedIn(parcel, with_('defocus'), state)).toEqual([
      { kind: 'defocus', label: 'Defocus', revision: 2 },
    ]);
    for (const shot of [with_('exposure'), with_('defocus', false)])
      expect(contentOf(parcel, shot, state, 1)).toBe(contentOf(parcel, shot, state));
    // Masks are made without corrections.
    expect(mendedIn(parcelOf('masks'), with_('defocus'), state)).toEqual([]);
  });
  test('is stored as it was', () => {
    const stored = { ...emptyParcelList(), parcels: [parcel] };
    expect(parseParcelList(JSON.parse(JSON.stringify(stored)))).toEqual(stored);
    expect(() =>
      parseParcelList({ ...stored, parcels: [{ ...parcel, settings: { format: 'gif' } }] }),
    ).toThrow(/settings/);
  });
});
