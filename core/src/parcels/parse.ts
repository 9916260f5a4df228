import { validateParcelList } from '../generated/validators.mjs';
import type { ParcelList } from './parcel.ts';
import { upgradeParcelList } from './upgrade.ts';

/** Checks anything for being a list of parcels. Throws an Error that names the place and what is wrong there. */
export function parseParcelList(stored: unknown): ParcelList {
  const value = upgradeParcelList(stored);
  if (!validateParcelList(value)) {
    const errors = validateParcelList.errors!;
    const e = errors.find((x) => x.keyword !== 'oneOf' && x.keyword !== 'const') ?? errors[0]!;
    throw new Error(`${e.instancePath || 'The document'} ${e.message}`);
  }
  const list = value as ParcelList;
  if (new Set(list.parcels.map((p) => p.id)).size !== list.parcels.length)
    throw new Error('Two parcels have the same id');
  return list;
}
