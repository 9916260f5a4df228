import type { Change } from '../changes/change.ts';
import type { ListedChange } from '../changes/listed.ts';
import { correctionOf } from '../corrections/registry.ts';
import { edgeStepOf } from '../masks/edge/registry.ts';
import { fenceKindOf } from '../masks/fence/registry.ts';
import type { StepKey } from '../changes/step-settings.ts';
import type { ParcelKind } from './kind.ts';

/** A kind of thing whose numbers have been mended since it came, and which of its makings it is now: the second, the third. */
export interface Revised {
  kind: string;
  label: string;
  revision: number;
}

interface Registered {
  kind: string;
  label: string;
  short?: string;
  revision?: number;
}
const FIND: Readonly<Record<StepKey, (kind: string) => Registered | undefined>> = {
  edge: edgeStepOf,
  fence: fenceKindOf,
  corrections: correctionOf,
};

const revised = (thing: Registered | undefined): Revised[] =>
  thing?.revision ? [{ kind: thing.kind, label: thing.short ?? thing.label, revision: thing.revision }] : [];

const ofSteps = (owner: Partial<Pick<Change, StepKey>>, keys: readonly StepKey[]): Revised[] =>
  keys.flatMap((key) => (owner[key] ?? []).flatMap((use) => (use.on ? revised(FIND[key](use.kind)) : [])));

/**
 * What a parcel is made with that has been mended: its own kind, and the steps that are on of the changes that it reads,
 * each once, by kind.
 * @param keys the lists of steps that the parcel reads
 */
export function revisedIn(
  parcel: ParcelKind,
  changes: readonly ListedChange[],
  keys: readonly StepKey[],
): Revised[] {
  const all = [
    ...revised(parcel),
    ...changes.flatMap((c) => [...ofSteps(c, keys), ...(c.over ? ofSteps(c.over, keys) : [])]),
  ];
  return [...new Map(all.map((r) => [`${r.kind} ${r.label}`, r])).values()].sort((a, b) =>
    a.kind < b.kind ? -1 : 1,
  );
}
