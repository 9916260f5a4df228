import type { Size } from '../../planes/size.ts';
import { appended } from '../append.ts';
import type { ChangeList } from '../change.ts';
import { listPlacedOver } from '../placed-over.ts';
import type { Edited } from './edited.ts';

/** All changes of another shot after those of this one; the first of them is opened. */
export function takeAll(list: ChangeList, other: ChangeList, from: string, newId: () => string): Edited {
  const now = appended(list, other, newId);
  const first = now.changes[list.changes.length]?.id;
  return {
    list: now,
    words: `Take the changes of “${from}”`,
    ...(first === undefined ? {} : { open: first }),
  };
}

/** Places that go by the whole picture, brought over to the display window of a picture of this size. */
export const placeOver = (list: ChangeList, size: Size): Edited => ({
  list: listPlacedOver(list, size),
  words: 'Convert positions to the display window',
});
