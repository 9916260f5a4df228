import { existsSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { join } from 'node:path';
import { nextNumbered } from '@zesty-crow/core/node';
import {
  calledLikeList,
  clashesOf,
  likeList,
  expectedNames,
  parcelKind,
  patternFault,
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
  const fault = patternFault(parcel.name);
  if (fault) faults.push(fault);
  let names: string[] = [];
  let work: ParcelWork = { there: [], outdated: { states: 0, mended: [] }, toMake: [] };
  try {
    names = expectedNames(parcel, shot);
    work = await workOf(pool, home, parcel);
    if (statesOf(parcel, shot).length === 0) faults.push('No frame, or no variant, is chosen.');
  } catch (error) {
    faults.push(error instanceof Error ? error.message : String(error));
  }
  const clashes = clashesOf(names);
  if (clashes.length)
    faults.push(`Several files would be called ${clashes[0]!}. Put more placeholders into the name.`);
  const list = calledLikeList(names);
  if (list !== undefined) faults.push(likeList(list));
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
  if (!faults.length) notes.push(...(await foresee(home, parcel, work, { passes: facts.passes, sight })));
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
  const namesOf = (i: number) =>
    checks[i]!.faults.length ? [] : [...new Set(expectedNames(home.parcels[i]!, home.shot))];
  home.parcels.forEach((parcel, i) => {
    const beside = home.parcels.flatMap((other, k) =>
      k < i && other.folder === parcel.folder ? namesOf(k) : [],
    );
    const [clash] = clashesOf([...namesOf(i), ...beside]);
    if (clash !== undefined)
      checks[i]!.faults.push(`Another parcel has a file called ${clash}, too. Put {parcel} into the name.`);
  });
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
const statesCount = ({ there }: { there: { frame: number | null; variant: string }[] }) =>
  new Set(there.map((f) => `${f.frame} ${f.variant}`)).size;
