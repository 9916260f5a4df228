import type { StepUse } from '@zesty-crow/core';
import { withSet, type Change, type Variant } from '@zesty-crow/core/changes';
import { useChanges } from '../../shot/changes/changes.ts';
import type { NamedColour } from './swatch-list.ts';

const newId = () => crypto.randomUUID().slice(0, 13);

/** A setting that takes a colour: what a list of swatches can be put into. */
export interface ColourSetting {
  change: Change;
  use: StepUse;
  key: string;
  label: string;
}

/** What is done with the variants of the open list; each is one step of its history. */
export function useVariants() {
  const changes = useChanges();
  const variants = () => changes.list.variants;

  /** A name that no variant has yet. */
  function free(name: string): string {
    const taken = new Set(variants().map((v) => v.name));
    for (let n = 1; ; n++) {
      const tried = n === 1 ? name : `${name} ${n}`;
      if (!taken.has(tried)) return tried.slice(0, 200);
    }
  }
  function add(name: string): Variant {
    const variant: Variant = { id: newId(), name: free(name), sets: [] };
    variants().push(variant);
    void changes.commit(`New variant “${variant.name}”`);
    changes.variantId = variant.id;
    return variant;
  }
  /** A variant for each of some colours, all else as in the list. */
  function addFrom(colours: readonly NamedColour[], { change, use, key }: ColourSetting): void {
    for (const { name, colour } of colours) {
      const empty: Variant = { id: newId(), name: free(name), sets: [] };
      variants().push(withSet(changes.list, empty, change.id, use.id, { values: { [key]: colour } }));
    }
    void changes.commit(`${colours.length} variants from swatches`);
  }
  function copy(variant: Variant): void {
    const made = {
      ...(JSON.parse(JSON.stringify(variant)) as Variant),
      id: newId(),
      name: free(variant.name),
    };
    variants().splice(variants().findIndex((v) => v.id === variant.id) + 1, 0, made);
    void changes.commit(`Copy variant “${variant.name}”`);
  }
  function rename({ id }: Variant, name: string): void {
    const own = variants().find((v) => v.id === id);
    if (!own || name.trim() === '' || own.name === name.trim()) return;
    own.name = name.trim().slice(0, 200);
    void changes.commit('Rename variant');
  }
  function remove({ id, name }: Variant): void {
    changes.list.variants = variants().filter((v) => v.id !== id);
    if (changes.variantId === id) changes.variantId = undefined;
    void changes.commit(`Delete variant “${name}”`);
  }
  return { add, addFrom, copy, rename, remove };
}
