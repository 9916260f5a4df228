import type { FieldValues } from '../../fields/field.ts';
import type { ChangeList, Variant } from '../change.ts';
import { withoutSet, withSet } from '../variant.ts';
import type { Edited } from './edited.ts';

/** So many characters a name may have. */
const MOST_NAME = 200;

/** A name that no variant of a list has yet. */
function freeName(variants: readonly Variant[], name: string): string {
  const taken = new Set(variants.map((v) => v.name));
  for (let n = 1; ; n++) {
    const tried = n === 1 ? name : `${name} ${n}`;
    if (!taken.has(tried)) return tried.slice(0, MOST_NAME);
  }
}

/** A new variant that sets nothing yet. */
export function addVariant(list: ChangeList, id: string, name: string): Edited {
  const variant: Variant = { id, name: freeName(list.variants, name), sets: [] };
  return { list: { ...list, variants: [...list.variants, variant] }, words: `New variant “${variant.name}”` };
}

/** A variant for each of some named values of one step, all else as in the list. */
export function addVariants(
  list: ChangeList,
  made: readonly { name: string; values: FieldValues }[],
  at: { change: string; step: string },
  newId: () => string,
): Edited {
  const variants = made.reduce<readonly Variant[]>((all, { name, values }) => {
    const empty: Variant = { id: newId(), name: freeName(all, name), sets: [] };
    return [...all, withSet(list, empty, at.change, at.step, { values })];
  }, list.variants);
  return { list: { ...list, variants }, words: `${made.length} variants from swatches` };
}

/** A variant once more, right after it, under a name of its own. */
export function copyVariant(list: ChangeList, id: string, newId: string): Edited | undefined {
  const at = list.variants.findIndex((v) => v.id === id);
  const variant = list.variants[at];
  if (!variant) return undefined;
  const copy = { ...variant, id: newId, name: freeName(list.variants, variant.name) };
  return {
    list: { ...list, variants: list.variants.toSpliced(at + 1, 0, copy) },
    words: `Copy variant “${variant.name}”`,
  };
}

/** Another name of a variant; nothing where it says nothing, or is the same. */
export function renameVariant(list: ChangeList, id: string, text: string): Edited | undefined {
  const at = list.variants.findIndex((v) => v.id === id);
  const variant = list.variants[at];
  const name = text.trim().slice(0, MOST_NAME);
  if (!variant || name === '' || name === variant.name) return undefined;
  return {
    list: { ...list, variants: list.variants.with(at, { ...variant, name }) },
    words: 'Rename variant',
  };
}

export function removeVariant(list: ChangeList, id: string): Edited | undefined {
  const gone = list.variants.find((v) => v.id === id);
  if (!gone) return undefined;
  return {
    list: { ...list, variants: list.variants.filter((v) => v !== gone) },
    words: `Delete variant “${gone.name}”`,
  };
}

/** Takes back what a variant sets of a step: it is as in the list there again. */
export function backToList(list: ChangeList, id: string, change: string, step: string): Edited | undefined {
  const at = list.variants.findIndex((v) => v.id === id);
  const variant = list.variants[at];
  if (!variant) return undefined;
  return {
    list: { ...list, variants: list.variants.with(at, withoutSet(variant, change, step)) },
    words: 'As in the list',
    inVariant: variant.name,
  };
}
