import type { Parcel } from './parcel.ts';
import type { ParcelShot } from './job.ts';

/** A file that was handed over, with its sum. */
export interface Listed {
  name: string;
  sha256: string;
}
/** The same with all that is known of it. */
export interface ListedFile extends Listed {
  size: number;
  /** Id of its parcel. */
  parcel: string;
  frame: number | null;
  variant: string;
}

/** Whether a text is a list of ours. */
export function isManifest(text: string): boolean {
  try {
    return (JSON.parse(text) as { format?: unknown } | null)?.format === 'zesty-crow/manifest';
  } catch {
    return false;
  }
}

/** What an earlier list says of files that are still there and not among the new ones. */
export function earlierFiles(
  text: string | undefined,
  files: readonly Pick<Listed, 'name'>[],
  isThere: (name: string) => boolean,
): Listed[] {
  try {
    const { format, files: old } = JSON.parse(text ?? '') as { format: string; files: Listed[] };
    const taken = new Set(files.map((f) => f.name));
    return format === 'zesty-crow/manifest' ? old.filter((f) => !taken.has(f.name) && isThere(f.name)) : [];
  } catch {
    // Whatever else is called so is nobody's list.
    return [];
  }
}

/**
 * A list of files with their sums, as it lies beside them.
 * @param more `earlier`: files of other parcels that lie there, too; `notes`: what was missing when these were made
 */
export function manifestOf(
  { shot, version, parcels }: Pick<ParcelShot, 'shot' | 'version'> & { parcels: readonly Parcel[] },
  created: Date,
  files: readonly ListedFile[],
  { earlier = [], notes = [] }: { earlier?: readonly Listed[]; notes?: readonly string[] } = {},
): string {
  const titles = new Map(parcels.map((p) => [p.id, p.title]));
  return `${JSON.stringify(
    {
      format: 'zesty-crow/manifest',
      shot,
      version,
      made: created.toISOString(),
      ...(notes.length ? { notes } : {}),
      files: [
        ...earlier,
        ...files.map(({ name, size, sha256, parcel, frame, variant }) => ({
          name,
          size,
          sha256,
          parcel: titles.get(parcel) ?? parcel,
          ...(frame === null ? {} : { frame }),
          ...(variant ? { variant } : {}),
        })),
      ],
    },
    null,
    1,
  )}\n`;
}
