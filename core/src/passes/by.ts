import { idOfName } from '../idlayers/ids.ts';
import type { Roster } from '../roster/roster.ts';
import type { Field } from '../fields/field.ts';
import { numberOf, textOf, type Isolated, type PassSource, type Values } from './pass.ts';

/** By what a pass tells things apart. */
export type By = 'object' | 'material' | 'group' | 'attribute';

export const BY_FIELDS: readonly Field[] = [
  {
    kind: 'choice',
    key: 'by',
    label: 'Tells apart',
    options: [
      { value: 'object', label: 'objects' },
      { value: 'material', label: 'materials' },
      { value: 'group', label: 'groups' },
      { value: 'attribute', label: 'values of an attribute' },
    ],
    neutral: 'object',
  },
  {
    kind: 'number',
    key: 'level',
    label: 'Level of groups',
    unit: 'from the top',
    min: 1,
    max: 20,
    step: 1,
    neutral: 1,
  },
  { kind: 'text', key: 'attribute', label: 'Attribute', hint: 'its name in the scene', neutral: '' },
];

export const byOf = (v: Values): By => textOf(v, 'by', 'object') as By;

/** The name that each part of the roster goes under; undefined for parts that belong to nothing. */
export function namesOf(v: Values, roster: Roster): (string | undefined)[] {
  const by = byOf(v);
  if (by === 'object') return roster.parts.map((p) => roster.objects[p.object]!.name);
  if (by === 'material') return roster.parts.map((p) => roster.materials[p.material]!.name);
  if (by === 'attribute') {
    const key = textOf(v, 'attribute', '');
    return roster.parts.map((p) => roster.attributes[p.object]![key]);
  }
  const level = numberOf(v, 'level', 1);
  const groupOf = new Map<number, string>();
  for (const group of roster.groups)
    if (group.level === level) for (const object of group.objects) groupOf.set(object, group.name);
  // What is in no group at this level stands for itself.
  return roster.parts.map((p) => groupOf.get(p.object) ?? roster.objects[p.object]!.name);
}

export function isolatedBy(names: readonly (string | undefined)[]): Isolated[] {
  const found = new Map<string, number[]>();
  names.forEach((name, part) => {
    if (name === undefined) return;
    const parts = found.get(name);
    if (parts) parts.push(part);
    else found.set(name, [part]);
  });
  return [...found].map(([member, parts]) => ({ member, parts }));
}

/** IDs of the film's parts by their names, and the names themselves. */
export function idsOf(v: Values, { roster, place }: PassSource) {
  const names = namesOf(v, roster);
  const ids = Uint32Array.from(place, (p) => {
    const name = names[p];
    return name === undefined ? 0 : idOfName(name);
  });
  const manifest = [...new Set(names.filter((n) => n !== undefined))].map((n) => [n, idOfName(n)] as const);
  return { ids, manifest };
}

const NAMES: Record<By, string> = {
  object: 'Object',
  material: 'Material',
  group: 'Asset',
  attribute: 'Attribute',
};
const word = (text: string) => text.replace(/[^\p{L}\p{N}]+/gu, '_');

/** The usual ending of a layer's name: Object, Material, or what else it tells apart. */
export function byName(v: Values): string {
  const by = byOf(v);
  const level = numberOf(v, 'level', 1);
  if (by === 'group') return level === 1 ? NAMES.group : `${NAMES.group}_level_${level}`;
  return by === 'attribute' ? word(textOf(v, 'attribute', '')) || NAMES.attribute : NAMES[by];
}

export const byLabel = (v: Values): string =>
  ({
    object: 'objects',
    material: 'materials',
    group: `groups of level ${numberOf(v, 'level', 1)}`,
    attribute: `“${textOf(v, 'attribute', '')}”`,
  })[byOf(v)];

/** Says if what is told apart does not occur in the scene. */
export function byFault(v: Values, roster: Roster) {
  if (byOf(v) === 'attribute') {
    const key = textOf(v, 'attribute', '');
    if (!roster.attributes.some((a) => key in a)) {
      const known = [...new Set(roster.attributes.flatMap(Object.keys))];
      return {
        severity: 'error' as const,
        message: `no object of the scene has an attribute "${key}". ${known.length ? `There are: ${known.join(', ')}.` : 'The scene has no attributes.'}`,
      };
    }
  }
  if (byOf(v) === 'group' && !roster.groups.some((g) => g.level === numberOf(v, 'level', 1)))
    return { severity: 'error' as const, message: 'the scene has no groups at this level.' };
  return undefined;
}
