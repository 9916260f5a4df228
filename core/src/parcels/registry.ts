import { wholeValues } from '../fields/values.ts';
import type { FieldValue } from '../fields/field.ts';
import { cutOuts } from './kinds/cut-outs.ts';
import { idPasses } from './kinds/id-passes.ts';
import { layers } from './kinds/layers.ts';
import { masks } from './kinds/masks.ts';
import { papers } from './kinds/papers.ts';
import { picture } from './kinds/picture.ts';
import { report } from './kinds/report.ts';
import { variantSheet } from './kinds/variant-sheet.ts';
import { places } from './kinds/places.ts';
import type { ParcelKind } from './kind.ts';
import type { Parcel } from './parcel.ts';

/** Every kind of parcel there is, in the order in which the interface offers them. */
export const PARCEL_KINDS: readonly ParcelKind[] = [
  picture,
  masks,
  cutOuts,
  layers,
  idPasses,
  variantSheet,
  report,
  papers,
  places,
];

export const parcelKind = (kind: string): ParcelKind | undefined => PARCEL_KINDS.find((k) => k.kind === kind);

/** All settings of a parcel. */
export const settingsOfParcel = ({
  kind,
  settings,
}: Pick<Parcel, 'kind' | 'settings'>): Record<string, FieldValue> =>
  wholeValues(parcelKind(kind)?.fields ?? [], settings);
