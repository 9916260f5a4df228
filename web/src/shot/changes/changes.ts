import { defineStore } from 'pinia';
import { computed, ref, watch, markRaw } from 'vue';
import {
  emptyChangeList,
  noMask,
  upgradeChangeList,
  apart,
  united,
  type Change,
  type ChangeList,
  type Heading,
  type StepUse,
  type Stroke,
  type MemberPick,
} from '@zesty-crow/core';
import {
  appended,
  cardRows,
  gathered,
  movedRow,
  withHeading,
  listPlacedOver,
  ofVariant,
  settingsOfStep,
  withKey,
  withSet,
  type FrameRange,
  type Keyframe,
} from '@zesty-crow/core/changes';
import type { Follow } from '@zesty-crow/core/masks';
import type { Size } from '@zesty-crow/core/planes';
import { renamed, type Renaming } from '@zesty-crow/core/relink';
import { neutralValues, withValue, type FieldValue, type FieldValues } from '@zesty-crow/core/fields';
import { useDocument } from '../document.ts';
import { describePicks } from '@zesty-crow/core/picks';
import { STEP_LISTS, type StepListName } from './step-kinds.ts';

/** What has a mask and is worked on: a change, or the heading over some. */
export type Owner = Change | Heading;

/** A list of steps of it; a heading has no corrections. */
export const stepsIn = (owner: Owner, which: StepListName): readonly StepUse[] =>
  which === 'corrections' ? ('corrections' in owner ? owner.corrections : []) : owner[which];

const newId = () => crypto.randomUUID().slice(0, 13);

/** A stroke that is drawn is only ever taken away as a whole; a thousand of them have half a million numbers. */
function sealStrokes(list: ChangeList): ChangeList {
  for (const owner of [...list.changes, ...list.headings]) {
    // A window that was open during an update may have one of before.
    const { brush }: Partial<Owner> = owner;
    brush?.forEach((stroke) => markRaw(stroke));
  }
  return list;
}

/** The change list of the open shot, with its history on the server. */
export const useChanges = defineStore('changes', () => {
  const document = useDocument('changes', emptyChangeList, upgradeChangeList, sealStrokes);
  const { body: list } = document;
  /** The variant that is worked on: values that are set go into it. None is the list itself. */
  const variantId = ref<string>();
  const variant = computed(() => list.value.variants.find((v) => v.id === variantId.value));
  /** The list as it is worked on, with the values of the variant. */
  const shown = computed(() => ofVariant(list.value, variantId.value));
  /** The frame that is open, of a sequence. */
  const frame = ref<number>();
  const openId = ref<string>();
  const open = computed(() => shown.value.changes.find((c) => c.id === openId.value));
  const openHeading = computed(() => list.value.headings.find((h) => h.id === openId.value));
  /** What the sheet shows and what a click in the picture goes to. */
  const owner = computed((): Owner | undefined => open.value ?? openHeading.value);
  const rows = computed(() => cardRows(shown.value));
  watch(list, (now) => {
    if (!owner.value) openId.value = now.changes[0]?.id;
  });
  /** What was edited is a variant's own: the history says so. */
  let inVariant = false;
  function commit(label: string): Promise<void> {
    const where = inVariant && variant.value ? ` in “${variant.value.name}”` : '';
    inVariant = false;
    return document.commit(`${label}${where}`.slice(0, 200));
  }
  watch(document.shotId, () => (variantId.value = undefined));

  async function load(id: string): Promise<void> {
    await document.load(id);
    // What was open stays open, also from one stage to another.
    if (!owner.value) openId.value = list.value.changes[0]?.id;
  }

  function addChange(words = '', who: MemberPick[] = []): Change {
    const change: Change = {
      id: newId(),
      words,
      on: true,
      done: false,
      ...noMask(),
      who,
      plainEdges: false,
      corrections: [],
    };
    list.value.changes.push(change);
    openId.value = change.id;
    void commit('New change');
    return change;
  }
  function removeChange(id: string): void {
    const at = list.value.changes.findIndex((c) => c.id === id);
    if (at < 0) return;
    const [gone] = list.value.changes.splice(at, 1);
    if (openId.value === id)
      openId.value = list.value.changes[Math.min(at, list.value.changes.length - 1)]?.id;
    void commit(`Delete “${gone!.words || 'change'}”`);
  }
  /** A row of the list, a heading with its changes, to another place. */
  function moveRow(from: number, to: number): void {
    list.value.changes = movedRow(list.value, from, to);
    void commit('Reorder changes');
  }
  /** A change once more, right after it, opened. */
  function copyChange(change: Change): void {
    const at = list.value.changes.findIndex((c) => c.id === change.id);
    const copy = { ...(JSON.parse(JSON.stringify(list.value.changes[at])) as Change), id: newId() };
    list.value.changes.splice(at + 1, 0, copy);
    openId.value = copy.id;
    void commit('Copy change');
  }
  /** A change for each of its picks, with everything else as it is. */
  function splitChange(change: Change): void {
    const parts = apart(change.who);
    const at = list.value.changes.findIndex((c) => c.id === change.id);
    if (parts.length === 0 || at < 0) return;
    const plain = JSON.stringify(list.value.changes[at]);
    list.value.changes.splice(
      at,
      1,
      ...parts.map((who, i): Change => ({
        ...(JSON.parse(plain) as Change),
        id: i === 0 ? change.id : newId(),
        words: `${change.words || 'Change'}: ${describePicks(who.slice(0, 1))}`.slice(0, 500),
        who,
      })),
    );
    void commit('Split change');
  }
  /** Takes the picks of another change, and its words, into one; what else the other did goes. */
  function joinChange(change: Change, otherId: string): void {
    const target = list.value.changes.find((c) => c.id === change.id);
    const other = list.value.changes.find((c) => c.id === otherId);
    if (!target || !other) return;
    target.who = united(target.who, other.who);
    const words = [...new Set([target.words, other.words].filter(Boolean))];
    target.words = words.join('; ').slice(0, 500);
    list.value.changes = list.value.changes.filter((c) => c.id !== otherId);
    if (openId.value === otherId) openId.value = change.id;
    void commit('Join changes');
  }

  /** A new heading, over a change if one is given. */
  function addHeading(over?: Change): void {
    const heading: Heading = { ...noMask(), id: newId(), words: '', on: true };
    list.value.headings.push(heading);
    if (over) {
      const at = list.value.changes.findIndex((c) => c.id === over.id);
      if (at >= 0) list.value.changes[at] = withHeading(list.value.changes[at]!, heading.id);
    }
    openId.value = heading.id;
    void commit('New heading');
  }
  /** Its changes stay, and stand under none. */
  function removeHeading(id: string): void {
    const gone = list.value.headings.find((h) => h.id === id);
    list.value.headings = list.value.headings.filter((h) => h.id !== id);
    list.value.changes = list.value.changes.map((c) => (c.heading === id ? withHeading(c, undefined) : c));
    if (openId.value === id) openId.value = list.value.changes[0]?.id;
    void commit(`Delete heading “${gone?.words || 'heading'}”`.slice(0, 200));
  }
  /** Puts a change under a heading, or out of it. */
  function putUnder(change: Change, heading: string | undefined): void {
    const rest = list.value.changes.filter((c) => c.id !== change.id);
    const moved = withHeading(changeOf(change) ?? change, heading);
    const block = heading ?? change.heading;
    const last = rest.findLastIndex((c) => c.heading === block);
    const at = last < 0 ? list.value.changes.findIndex((c) => c.id === change.id) : last + 1;
    list.value.changes = gathered([...rest.slice(0, at), moved, ...rest.slice(at)]);
    void commit(heading === undefined ? 'Take out of the heading' : 'Put under a heading');
  }

  /** A change as the list itself has it: what is shown may have a variant's values. */
  const changeOf = ({ id }: Change) => list.value.changes.find((c) => c.id === id);
  /** The one that is being worked on, to be changed. */
  const ownerOf = (id: string): Owner | undefined =>
    list.value.changes.find((c) => c.id === id) ?? list.value.headings.find((h) => h.id === id);

  /** Sets the picks of what is open; makes a change first if there is nothing. */
  function setWho(who: MemberPick[]): void {
    const target = ownerOf(owner.value?.id ?? addChange().id);
    if (target) target.who = who;
  }
  function setPlainEdges(of: Change, plain: boolean): void {
    const change = changeOf(of);
    if (change) change.plainEdges = plain;
    void commit(plain ? 'Plain edges' : 'Clean edges');
  }

  function setDone(of: Change, done: boolean): void {
    const change = changeOf(of);
    if (change) change.done = done;
    void commit(done ? 'Mark as done' : 'Mark as not done');
  }

  /** Begins a stroke on what is open; what is drawn of it shows at once, and it is kept when it ends. */
  function beginStroke(stroke: Stroke): void {
    ownerOf(owner.value?.id ?? addChange().id)?.brush.push(stroke);
  }
  function goStroke(x: number, y: number): void {
    owner.value?.brush.at(-1)?.points.push([x, y]);
  }
  const endStroke = () => void commit(owner.value?.brush.at(-1)?.way === 'take' ? 'Brush away' : 'Brush');
  function clearStrokes({ id }: Owner): void {
    const of = ownerOf(id);
    if (of) of.brush = [];
    void commit('Remove all strokes');
  }

  /** A list of steps, to be changed: that of the list itself, whatever is shown. */
  const listOf = (of: Owner, which: StepListName) => stepsIn(ownerOf(of.id) ?? of, which) as StepUse[];
  function setList({ id }: Owner, which: StepListName, steps: StepUse[]): void {
    const of = ownerOf(id);
    if (!of) return;
    if (which !== 'corrections') of[which] = steps;
    else if ('corrections' in of) of.corrections = steps;
  }
  const stepOf = (change: Owner, which: StepListName, id: string): StepUse | undefined =>
    listOf(change, which).find((s) => s.id === id);

  /** Puts something into the variant that is worked on, if there is one and it can hold it; tells whether. */
  function putIntoVariant(
    { id }: Owner,
    step: string | undefined,
    put: { on?: boolean; values?: FieldValues },
  ): boolean {
    const at = list.value.variants.findIndex((v) => v.id === variantId.value);
    // Headings are those of all variants.
    if (at < 0 || !list.value.changes.some((c) => c.id === id)) return false;
    list.value.variants[at] = withSet(list.value, list.value.variants[at]!, id, step, put);
    inVariant = true;
    return true;
  }
  /**
   * Sets several values of a step; neutral ones are left out. In a variant they are its own; what has keyframes gets one
   * at the frame that is open.
   */
  function setValues(change: Owner, which: StepListName, id: string, values: FieldValues): void {
    if (putIntoVariant(change, id, { values })) return;
    const step = stepOf(change, which, id);
    if (!step) return;
    const fields = settingsOfStep(which, step.kind);
    for (const [key, value] of Object.entries(values))
      if (step.keys?.[key] && frame.value !== undefined) setKey(change, which, id, key, value);
      else step.values = withValue(fields, step.values, key, value);
  }

  // ---- frames of a sequence

  /** Lets a shape of a fence go with a member, or stay. */
  function setFollow(owner: Owner, id: string, follow: Follow | undefined): void {
    const shape = stepOf(owner, 'fence', id);
    if (!shape) return;
    if (follow) shape.follow = follow;
    else delete shape.follow;
    void commit(follow ? `Follow “${follow.member}”` : 'Follow nothing');
  }
  /** Puts a keyframe; it keeps its way, or takes that of the one before. */
  function setKey(
    change: Owner,
    which: StepListName,
    id: string,
    key: string,
    value: FieldValue,
    way?: Keyframe['way'],
    at = frame.value,
  ): void {
    const step = stepOf(change, which, id);
    if (!step || at === undefined) return;
    const own = step.keys?.[key] ?? [];
    const known = own.filter((k) => k.frame <= at).at(-1)?.way ?? 'linear';
    step.keys = { ...step.keys, [key]: withKey(own, { frame: at, value, way: way ?? known }) };
  }
  /** Takes a keyframe away; of the last one its value stays. */
  function removeKey(change: Owner, which: StepListName, id: string, key: string, at: number): void {
    const step = stepOf(change, which, id);
    const own = step?.keys?.[key];
    if (!step || !own) return;
    const left = own.filter((k) => k.frame !== at);
    const { [key]: _, ...others } = step.keys!;
    if (left.length) step.keys = { ...others, [key]: left };
    else {
      step.values = withValue(settingsOfStep(which, step.kind), step.values, key, own[0]!.value);
      if (Object.keys(others).length) step.keys = others;
      else delete step.keys;
    }
  }
  /** The frames in which a change is applied; open ends are left out. */
  function setFrames(of: Change, { first, last }: FrameRange): void {
    const change = changeOf(of);
    if (!change) return;
    const turned = first !== undefined && last !== undefined && first > last;
    const [from, to] = turned ? [last, first] : [first, last];
    if (from === undefined && to === undefined) delete change.frames;
    else
      change.frames = {
        ...(from === undefined ? {} : { first: from }),
        ...(to === undefined ? {} : { last: to }),
      };
    void commit('Limit to frames');
  }

  /** Takes all changes of another shot after those of this one; one step of the history. */
  function takeAll(other: ChangeList, from: string): void {
    const next = appended(list.value, other, newId);
    Object.assign(list.value, next);
    openId.value = next.changes[next.changes.length - other.changes.length]?.id ?? openId.value;
    void commit(`Take the changes of “${from}”`.slice(0, 200));
  }

  /** Brings places that go by the whole picture over to the display window of this one. */
  function placeOver(size: Size): void {
    Object.assign(list.value, listPlacedOver(list.value, size));
    void commit('Convert positions to the display window');
  }

  /** Picks that name members as they are called in this version; one step of the history. */
  function rename(renamings: readonly Renaming[]): void {
    const next = renamed(list.value, renamings);
    list.value.changes = next.changes;
    list.value.headings = next.headings;
    void commit(
      renamings.length === 1 ? `Find “${renamings[0]!.to}” again` : `Find ${renamings.length} members again`,
    );
  }

  function addComment(of: Change, text: string): void {
    const change = changeOf(of);
    if (!change) return;
    change.comments = [...(change.comments ?? []), { id: newId(), text, at: new Date().toISOString() }];
    void commit('Comment');
  }
  function removeComment(of: Change, comment: string): void {
    const change = changeOf(of);
    if (!change?.comments) return;
    change.comments = change.comments.filter((c) => c.id !== comment);
    void commit('Delete comment');
  }

  function setStepOn(change: Owner, which: StepListName, id: string, on: boolean): void {
    const step = stepOf(change, which, id);
    if (!step) return;
    if (!putIntoVariant(change, id, { on })) step.on = on;
    void commit(`${on ? 'Turn on' : 'Turn off'} ${labelOf(which, step.kind)}`);
  }
  function setOn(of: Owner, on: boolean): void {
    const own = ownerOf(of.id);
    if (own && !putIntoVariant(of, undefined, { on })) own.on = on;
    void commit(`${on ? 'Turn on' : 'Turn off'}${own && 'corrections' in own ? '' : ' heading'}`);
  }
  const labelOf = (which: StepListName, kind: string): string =>
    (STEP_LISTS[which].kinds.find((k) => k.kind === kind)?.label ?? kind).toLowerCase();

  function addStep(
    change: Owner,
    which: StepListName,
    { kind, values }: Pick<StepUse, 'kind' | 'values'>,
  ): void {
    listOf(change, which).push({ id: newId(), kind, on: true, values });
    void commit(`Add ${labelOf(which, kind)}`);
  }
  function removeStep(change: Owner, which: StepListName, id: string): void {
    const step = stepOf(change, which, id);
    if (!step) return;
    setList(
      change,
      which,
      listOf(change, which).filter((s) => s !== step),
    );
    void commit(`Remove ${labelOf(which, step.kind)}`);
  }
  function moveStep(change: Owner, which: StepListName, from: number, to: number): void {
    const steps = listOf(change, which);
    const [moved] = steps.splice(from, 1);
    if (!moved) return;
    steps.splice(to, 0, moved);
    void commit(`Reorder ${STEP_LISTS[which].one}s`);
  }
  /** All values neutral; the step stays. */
  function resetStep(change: Owner, which: StepListName, id: string): void {
    const step = stepOf(change, which, id);
    if (!step) return;
    const neutral = neutralValues(settingsOfStep(which, step.kind));
    if (!putIntoVariant(change, id, { values: neutral })) step.values = {};
    void commit(`Reset ${labelOf(which, step.kind)}`);
  }
  /** Puts a copy at the end of another change. */
  const copyStep = (step: StepUse, which: StepListName, toChange: string) =>
    putCopies([step], which, toChange, labelOf(which, step.kind));
  /** All steps of one kind of an owner once more, after those of another. */
  const copySteps = (from: Owner, which: StepListName, toChange: string) =>
    putCopies(stepsIn(from, which), which, toChange, STEP_LISTS[which].title.toLowerCase());

  function putCopies(steps: readonly StepUse[], which: StepListName, toChange: string, what: string): void {
    const target = ownerOf(toChange);
    if (!target) return;
    const copies = JSON.parse(JSON.stringify(steps)) as StepUse[];
    listOf(target, which).push(...copies.map((s) => ({ ...s, id: newId() })));
    void commit(`Copy ${what} to “${target.words || 'change'}”`.slice(0, 200));
  }

  /** Adds copies of a preset's corrections. */
  function addPreset(change: Owner, steps: readonly StepUse[], name: string): void {
    const copies = JSON.parse(JSON.stringify(steps)) as StepUse[];
    listOf(change, 'corrections').push(...copies.map((s) => ({ ...s, id: newId() })));
    void commit(`Add “${name}”`);
  }

  return {
    addPreset,
    ...document,
    commit,
    list,
    shown,
    frame,
    setFollow,
    setKey,
    removeKey,
    setFrames,
    rename,
    takeAll,
    placeOver,
    addComment,
    removeComment,
    variantId,
    variant,
    openId,
    open,
    openHeading,
    owner,
    rows,
    load,
    addChange,
    removeChange,
    moveRow,
    copyChange,
    splitChange,
    joinChange,
    addHeading,
    removeHeading,
    putUnder,
    beginStroke,
    goStroke,
    endStroke,
    clearStrokes,
    setWho,
    setPlainEdges,
    setDone,
    setOn,
    setStepOn,
    stepOf,
    setValues,
    addStep,
    removeStep,
    moveStep,
    resetStep,
    copyStep,
    copySteps,
  };
});
