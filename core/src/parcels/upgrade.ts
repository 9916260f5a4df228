import { upgradeDocument } from '../fields/upgrade.ts';

/** Values of a parcel in a stored document, as far as upgrading looks at them. */
type Stored = Record<string, unknown>;
const isRecord = (value: unknown): value is Stored =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What neutral settings meant in version 1, written out where they mean something else since. */
function toVersion2(parcel: unknown): unknown {
  if (!isRecord(parcel)) return parcel;
  const { kind } = parcel;
  const settings = isRecord(parcel['settings']) ? parcel['settings'] : {};
  const { format, how } = settings;
  const isExr =
    format === 'exr' ||
    (kind === 'picture' && format === undefined) ||
    (kind === 'masks' && how === 'channels');
  const hasWindow = kind === 'picture' || kind === 'masks' || kind === 'cut-outs';
  return {
    ...parcel,
    settings: {
      ...settings,
      // An EXR was always written with its overscan,
      ...(hasWindow && isExr ? { window: 'data' } : {}),
      // and float TIFF in sRGB unless something else was asked for.
      ...(kind === 'picture' && format === 'tiff32' && settings['transform'] === undefined
        ? { transform: 'srgb' }
        : {}),
    },
  };
}

/** A stored list of parcels as one of today's version. Throws an Error for one that a newer Zesty Crow has made. */
export const upgradeParcelList = (stored: unknown): unknown =>
  upgradeDocument(stored, 'zesty-crow/parcels', 2, {
    1: (document) => {
      const { parcels } = document as { parcels?: unknown };
      return Array.isArray(parcels) ? { ...document, parcels: parcels.map(toVersion2) } : document;
    },
  });
