import { existsSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { join } from 'node:path';
import { nextNumbered } from '@zesty-crow/core/node';
import {
  expectedNames,
  lackingStates,
  namingFaults,
  parcelKind,
  settingsOfParcel,
  statesOf,
  type Parcel,
} from '@zesty-crow/core/parcels';
import type { ParcelCheck } from '../contract.ts';
import type { Pool } from '../database/pool.ts';
import type { Settings } from '../settings.ts';
import type { frameFacts } from '../versions/versions.ts';
import { foresee, sightOf, type Sight } from './foresee.ts';
import { folderWithin } from './allowed-folder.ts';
import { secondsOf } from './runs.ts';
import { workOf, type ParcelHome, type ParcelWork } from './start-run.ts';

/** Names that are told; more would not be read. */
const MOST_NAMES = 200;

/** What is the same for all parcels of a version, and asked once. */
interface Common {
  facts: Awaited<ReturnType<typeof frameFacts>>;
  /** Bytes that are free on the disk. */
  free: number;
  sight: Sight;
}

/** What would come of a parcel, and what would go wrong. */
async function checkParcel(
  pool: Pool,
  settings: Settings,
  home: ParcelHome,
  parcel: Parcel,
  { facts, free, sight }: Common,
): Promise<ParcelCheck> {
  const { shot } = home;
  const faults: string[] = [];
  const notes: string[] = [];
  const kind = parcelKind(parcel.kind);
  if (kind?.ofPicture && !facts.hasPicture) faults.push('This version holds no picture, only data passes.');
  let names: string[] = [];
  let work: ParcelWork = { there: [], outdated: { states: 0, mended: [] }, toMake: [] };
  try {
    names = expectedNames(parcel, shot);
    work = await workOf(pool, home, parcel);
    if (statesOf(parcel, shot).length === 0) faults.push('No frame, or no variant, is chosen.');
  } catch (error) {
    faults.push(error instanceof Error ? error.message : String(error));
  }
  const perFile = facts.width * facts.height * (kind?.bytesPerPixel(settingsOfParcel(parcel)) ?? 0);
  const bytes = perFile * names.length;
  if (parcel.folder)
    try {
      const within = await folderWithin(settings.handOver, parcel.folder);
      const root = parcel.existing === 'number' ? await nextNumbered(within) : within;
      if (root !== within) notes.push(`Goes to ${root}.`);
      const there = names.filter((n) => existsSync(join(root, n))).length;
      const many = there === 1 ? '1 file is' : `${there} files are`;
      if (there)
        notes.push(
          parcel.existing === 'stop'
            ? `${many} there already. If any would become another one, nothing is written.`
            : `${many} there already and will be replaced where they differ.`,
        );
    } catch (error) {
      faults.push(error instanceof Error ? error.message : String(error));
    }
  if (bytes > free) faults.push('There may not be room for it on the disk.');
  notes.push(...whyAgain(work));
  if (!faults.length) {
    const missing = [
      ...lackingStates(parcel, shot),
      ...(await foresee(home, parcel, work, { passes: facts.passes, sight })),
    ];
    // What nothing may be missing of is not begun.
    (parcel.strict ? faults : notes).push(...missing);
  }
  const each = await secondsOf(pool, home.shotId, parcel.id);
  const made = work.toMake.reduce((sum, w) => sum + w.variants.length, 0);
  return {
    parcel: parcel.id,
    names: names.slice(0, MOST_NAMES),
    files: names.length,
    toMake: made,
    unchanged: statesCount(work),
    bytes,
    seconds: each === undefined ? null : each * work.toMake.length,
    faults,
    notes,
  };
}

/** Checks all parcels of a version, also against each other. */
export async function checkParcels(
  pool: Pool,
  settings: Settings,
  home: ParcelHome,
  facts: Common['facts'],
): Promise<ParcelCheck[]> {
  const { bavail, bsize } = await statfs(settings.dataFolder);
  const common = { facts, free: bavail * bsize, sight: sightOf(pool, home) };
  const checks = await Promise.all(home.parcels.map((p) => checkParcel(pool, settings, home, p, common)));
  const sound = home.parcels.filter((_, i) => checks[i]!.faults.length === 0);
  for (const [id, fault] of namingFaults(sound, home.shot, (p) => p.folder))
    checks.find((c) => c.parcel === id)!.faults.push(fault);
  return checks;
}

/** Why something is made again of which nothing was changed. */
function whyAgain({ outdated: { states, mended } }: ParcelWork): string[] {
  if (states === 0) return [];
  const of = mended.length > 1 ? `${mended.slice(0, -1).join(', ')} and ${mended.at(-1)}` : mended[0]!;
  const what = states === 1 ? '1 frame was' : `${states} frames were`;
  return [`${what} made before the calculation of ${of} was corrected, and will be made again.`];
}

/** States of which the files are there. */
const statesCount = ({ there }: Pick<ParcelWork, 'there'>) => new Set(there.map((f) => f.key)).size;
