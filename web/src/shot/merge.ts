/** Something that was changed on both sides, each in another way. The merged document holds theirs. */
export interface MergeConflict {
  /** Where it is in the document: a property, and in it an id or a key. */
  place: [property: string, key?: string];
  /** Undefined where that side deleted it. */
  mine: unknown;
  theirs: unknown;
}

export interface Merged<T> {
  body: T;
  conflicts: MergeConflict[];
}

type Item = { id: string };
type Json = Record<string, unknown>;

/** Equal as JSON; the order of keys means nothing, and the database keeps another one. */
export function sameJson(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [x, y] = [a as Json, b as Json];
  const keys = (o: Json) => Object.keys(o).filter((k) => o[k] !== undefined);
  return keys(x).length === keys(y).length && keys(x).every((k) => sameJson(x[k], y[k]));
}
const same = sameJson;
const isItems = (value: unknown): value is Item[] =>
  Array.isArray(value) &&
  value.every((v) => typeof v === 'object' && v !== null && typeof (v as Item).id === 'string');
const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/**
 * Puts together what two windows made of the same document: whatever only one of them changed is as that one wants it.
 * Lists of things with ids (changes, wishes, passes) are merged thing by thing, other properties key by key. Neither
 * side's edit is ever lost without being told as a conflict.
 * @param base the document that both began with
 */
export function mergeDocuments<T extends object>(base: T, mine: T, theirs: T): Merged<T> {
  const conflicts: MergeConflict[] = [];
  const body = { ...theirs } as Json;
  const [b, m, t] = [base as Json, mine as Json, theirs as Json];
  for (const property of new Set([...Object.keys(b), ...Object.keys(m), ...Object.keys(t)])) {
    const [from, own, other] = [b[property], m[property], t[property]];
    if (same(own, from) || same(own, other)) continue;
    if (isItems(from) && isItems(own) && isItems(other))
      body[property] = mergeItems(property, from, own, other, conflicts);
    else if (isObject(from) && isObject(own) && isObject(other))
      body[property] = mergeKeys(property, from, own, other, conflicts);
    else if (same(other, from)) body[property] = own;
    else conflicts.push({ place: [property], mine: own, theirs: other });
  }
  return { body: body as T, conflicts };
}

/** One thing that both sides may have changed; undefined stands for deleted or not there yet. */
function mergeOne(
  place: [string, string],
  from: unknown,
  own: unknown,
  other: unknown,
  conflicts: MergeConflict[],
): unknown {
  if (same(own, from)) return other;
  if (same(other, from) || same(own, other)) return own;
  conflicts.push({ place, mine: own, theirs: other });
  return other;
}

function mergeKeys(property: string, from: Json, own: Json, other: Json, conflicts: MergeConflict[]): Json {
  const out: Json = {};
  for (const key of new Set([...Object.keys(other), ...Object.keys(own)])) {
    const value = mergeOne([property, key], from[key], own[key], other[key], conflicts);
    if (value !== undefined) out[key] = value;
  }
  return out;
}

function mergeItems(
  property: string,
  from: readonly Item[],
  own: readonly Item[],
  other: readonly Item[],
  conflicts: MergeConflict[],
): Item[] {
  const maps = [from, own, other].map((list) => new Map(list.map((item) => [item.id, item])));
  const [before, ours, theirs] = maps as [Map<string, Item>, Map<string, Item>, Map<string, Item>];
  const kept = new Map<string, Item>();
  for (const id of new Set([...theirs.keys(), ...ours.keys()])) {
    const value = mergeOne([property, id], before.get(id), ours.get(id), theirs.get(id), conflicts);
    if (value) kept.set(id, value as Item);
  }
  // The order is theirs, unless only this side has moved things.
  const common = (list: readonly Item[]) => list.map((i) => i.id).filter((id) => before.has(id));
  const moved = !same(
    common(own),
    common(from).filter((id) => ours.has(id)),
  );
  const theyMoved = !same(
    common(other),
    common(from).filter((id) => theirs.has(id)),
  );
  const [lead, follow] = moved && !theyMoved ? [own, other] : [other, own];
  const order = lead.map((i) => i.id).filter((id) => kept.has(id));
  follow.forEach(({ id }, at) => {
    if (!kept.has(id) || order.includes(id)) return;
    // After what stands before it on its own side.
    let place = 0;
    for (let i = at - 1; i >= 0 && place === 0; i--) place = order.indexOf(follow[i]!.id) + 1;
    order.splice(place, 0, id);
  });
  return order.map((id) => kept.get(id)!);
}

/** What a document holds at the place of a conflict; undefined if nothing. */
export function heldAt<T extends object>(body: T, [property, key]: MergeConflict['place']): unknown {
  const held = (body as Json)[property];
  if (key === undefined) return held;
  return isItems(held) ? held.find((i) => i.id === key) : (held as Json | undefined)?.[key];
}

/** The document with one side of a conflict put into its place. */
export function settle<T extends object>(
  body: T,
  { place: [property, key] }: Pick<MergeConflict, 'place'>,
  value: unknown,
): T {
  const out = { ...body } as Json;
  const held = out[property];
  if (key === undefined) out[property] = value;
  else if (isItems(held)) {
    const at = held.findIndex((i) => i.id === key);
    const list = held.filter((i) => i.id !== key);
    if (value !== undefined) list.splice(at < 0 ? list.length : at, 0, value as Item);
    out[property] = list;
  } else {
    const { [key]: _, ...rest } = held as Json;
    out[property] = value === undefined ? rest : { ...(held as Json), [key]: value };
  }
  return out as T;
}
