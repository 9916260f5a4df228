import { missingPasses } from '@zesty-crow/core/apply';
import { listedChanges, picksOf, type ListedChange } from '@zesty-crow/core/changes';
import { INDEX_FORMAT } from '@zesty-crow/core/idindex';
import { chosenNames, framesText, parcelKind, settingsOfParcel, type Parcel } from '@zesty-crow/core/parcels';
import { matchMembers, type MemberPick, type Named } from '@zesty-crow/core/picks';
import type { Pool } from '../database/pool.ts';
import { takePrepared } from '../versions/prepared.ts';
import type { Area } from '../versions/prepare-frame.ts';
import type { ParcelHome, ParcelWork } from './start-run.ts';

/** Frames that are looked at; of more, as many that lie evenly among them. */
const MOST_FRAMES = 100;

/** Members that a frame shows in a layer; undefined where that has not been read beforehand. */
export type Sight = (frame: number | undefined, layer: string) => Promise<readonly Named[] | undefined>;

/** Looks once at each layer of each frame. */
export function sightOf(pool: Pool, home: ParcelHome): Sight {
  const known = new Map<string, Promise<readonly Named[] | undefined>>();
  const look = async (frame: number | undefined, layer: string) => {
    const key = { versionId: home.versionId, sums: home.sumOf(frame), layer, format: INDEX_FORMAT };
    const bytes = await takePrepared(pool, { ...key, what: 'areas' });
    if (!bytes) return undefined;
    return (JSON.parse(String(bytes)) as Area[])
      .filter(([, coverage]) => coverage > 0)
      .map(([id, , , name]) => ({ id, name }));
  };
  return (frame, layer) => {
    const key = `${frame} ${layer}`;
    const asked = known.get(key) ?? look(frame, layer);
    known.set(key, asked);
    return asked;
  };
}

const shown = ({ member }: Pick<MemberPick, 'member'>, members: readonly Named[]) =>
  matchMembers(member, members).length > 0;
const several = (names: readonly string[]) =>
  `${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''}`;

/** Evenly some of many. */
const some = <T>(all: readonly T[]): T[] => {
  const step = Math.max(1, all.length / MOST_FRAMES);
  return Array.from({ length: Math.min(all.length, MOST_FRAMES) }, (_, i) => all[Math.floor(i * step)]!);
};

/** Whether what a mask begins with is empty in a frame, as far as that is known. */
async function isEmpty({ who, brush }: ListedChange, frame: number | undefined, sight: Sight) {
  const picks = who.filter((p) => p.mode === 'with');
  if (picks.length === 0 || brush.length > 0) return false;
  for (const pick of picks) {
    for (const layer of [pick.layer, ...(pick.also ?? []).map((a) => a.layer)]) {
      const members = await sight(frame, layer);
      if (!members || shown(pick, members)) return false;
    }
  }
  return true;
}

/** What of a parcel would go wrong in the frames that have to be made, a sentence each. */
export async function foresee(
  home: ParcelHome,
  parcel: Parcel,
  work: ParcelWork,
  { passes, sight }: { passes: readonly string[] | undefined; sight: Sight },
): Promise<string[]> {
  const kind = parcelKind(parcel.kind);
  if (!kind || work.toMake.length === 0) return [];
  const notes: string[] = [];
  const frames = some(work.toMake.map((w) => w.frame));
  const settings = settingsOfParcel(parcel);
  const byChanges = kind.reads === 'applied' || kind.reads === 'list' || settings['of'] === 'changes';
  const where = (own: readonly (number | undefined)[]) => {
    const numbers = own.flatMap((f) => f ?? []);
    if (numbers.length === 0) return '';
    return own.length === frames.length && frames.length > 1
      ? ' in any frame'
      : ` in ${numbers.length === 1 ? 'frame' : 'frames'} ${framesText(numbers)}`;
  };
  if (byChanges) {
    const wanted = listedChanges(home.shot.list).filter((c) => c.on || kind.reads !== 'applied');
    const lost: string[] = [];
    for (const pick of wanted.flatMap(picksOf)) {
      const seen = await Promise.all(frames.map((f) => sight(f, pick.layer)));
      // A rule may well mean nobody; a name means somebody.
      if (!pick.rule && seen.every((members) => members && !shown(pick, members))) lost.push(pick.member);
    }
    if (lost.length) notes.push(`${several([...new Set(lost)])} cannot be seen${where(frames)}.`);
    for (const change of wanted) {
      const empty: (number | undefined)[] = [];
      for (const frame of frames) if (await isEmpty(change, frame, sight)) empty.push(frame);
      const name = `“${change.words || 'Without words'}”`;
      if (empty.length === frames.length)
        notes.push(`The mask of ${name} is empty${frames.length > 1 ? ' in every frame' : ''}.`);
      else if (empty.length) notes.push(`The mask of ${name} is empty${where(empty)}.`);
    }
    if (passes)
      for (const { change, pass } of missingPasses(wanted, passes))
        notes.push(
          `“${change.words || 'Without words'}” needs the pass ${pass}, which this version has not: that correction is left out.`,
        );
  } else if (typeof settings['members'] === 'string') {
    const layer = settings['layer'] as string;
    const seen = (await Promise.all(frames.map((f) => sight(f, layer)))).filter((m) => m !== undefined);
    const lost = chosenNames(settings['members']).filter(
      (member) => seen.length === frames.length && seen.every((members) => !shown({ member }, members)),
    );
    if (lost.length) notes.push(`${several(lost)} cannot be seen${where(frames)}.`);
  }
  return notes;
}
