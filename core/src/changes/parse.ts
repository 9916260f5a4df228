import { validateChangeList } from '../generated/validators.mjs';
import type { Change, ChangeList, Keyframe, StepUse } from './change.ts';
import { withKey } from './keyframes.ts';
import { withHeading } from './rows.ts';
import { STEP_KEYS, type StepKey } from './step-settings.ts';
import { upgradeChangeList } from './upgrade.ts';

/**
 * Checks anything for being a change list, after bringing one of an earlier version up to date. Throws an Error that
 * names the place and what is wrong there.
 */
export function parseChangeList(stored: unknown): ChangeList {
  const value = upgradeChangeList(stored);
  if (!validateChangeList(value)) {
    const errors = validateChangeList.errors!;
    const e = errors.find((x) => x.keyword !== 'oneOf' && x.keyword !== 'const') ?? errors[0]!;
    const kind = (e.params as { allowedValue?: unknown }).allowedValue;
    throw new Error(
      `${e.instancePath || 'The document'} ${e.message}${typeof kind === 'string' ? ` "${kind}"` : ''}`,
    );
  }
  const list = value as ChangeList;
  const ids = new Set(list.changes.map((c) => c.id));
  if (ids.size !== list.changes.length) throw new Error('Two changes have the same id');
  const headings = new Set(list.headings.map((h) => h.id));
  if (headings.size !== list.headings.length) throw new Error('Two headings have the same id');
  if (new Set(list.variants.map((v) => v.id)).size !== list.variants.length)
    throw new Error('Two variants have the same id');
  // In another window its heading may have been deleted meanwhile: it stands under none then.
  const isLost = ({ heading }: Change) => heading !== undefined && !headings.has(heading);
  const changes = list.changes.map((c) => (isLost(c) ? withHeading(c, undefined) : c));
  return { ...list, changes: changes.map(inOrderOfFrames) };
}

/** A value of a frame is found by going along its keyframes. */
function inOrderOfFrames(change: Change): Change {
  const sorted = ({ keys, ...use }: StepUse): StepUse =>
    keys
      ? {
          ...use,
          keys: Object.fromEntries(
            Object.entries(keys).map(([key, own]) => [key, own.reduce<readonly Keyframe[]>(withKey, [])]),
          ),
        }
      : use;
  const lists = STEP_KEYS.map((key) => [key, change[key].map(sorted)]);
  return { ...change, ...(Object.fromEntries(lists) as Pick<Change, StepKey>) };
}
