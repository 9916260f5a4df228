import type { ParcelRunFile } from '../contract.ts';
import type { RunBody } from './runs.ts';

/** A list of files with their sums, as it lies beside them. */
export function manifestOf(
  { shot, version, parcels }: RunBody,
  created: Date,
  files: readonly ParcelRunFile[],
): string {
  const titles = new Map(parcels.map((p) => [p.id, p.title]));
  return `${JSON.stringify(
    {
      format: 'zesty-crow/manifest',
      shot,
      version,
      made: created.toISOString(),
      files: files.map(({ name, size, sha256, parcel, frame, variant }) => ({
        name,
        size,
        sha256,
        parcel: titles.get(parcel) ?? parcel,
        ...(frame === null ? {} : { frame }),
        ...(variant ? { variant } : {}),
      })),
    },
    null,
    1,
  )}\n`;
}
