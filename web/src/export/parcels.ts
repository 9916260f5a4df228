import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import {
  emptyParcelList,
  parcelKind,
  upgradeParcelList,
  USUAL_NAME,
  type Parcel,
  type ParcelKind,
} from '@zesty-crow/core/parcels';
import { withValue, type FieldValue } from '@zesty-crow/core/fields';
import type { ParcelCheck, ParcelRun } from '@zesty-crow/server/contract';
import { useDocument } from '../shot/document.ts';
import { api } from '../server/api.ts';

const newId = () => crypto.randomUUID().slice(0, 13);

/** What is handed over of the open shot, with what is known of each parcel and what was handed over when. */
export const useParcels = defineStore('parcels', () => {
  const document = useDocument('parcels', emptyParcelList, upgradeParcelList);
  const { body: list, commit } = document;
  const openId = ref<string>();
  const checks = shallowRef<ReadonlyMap<string, ParcelCheck>>(new Map());
  const runs = shallowRef<ParcelRun[]>([]);
  /** Folders into which parcels may be put. */
  const folders = shallowRef<string[]>([]);

  let asked = 0;
  /** Asks what would come of each parcel now. */
  async function look(versionId: string): Promise<void> {
    const own = ++asked;
    const state = await api.parcels(versionId);
    if (own !== asked) return;
    checks.value = new Map(state.checks.map((c) => [c.parcel, c]));
    folders.value = state.folders;
  }
  /** Asks what has come of them. */
  async function lookAtRuns(versionId: string): Promise<void> {
    runs.value = await api.parcelRuns(versionId);
  }

  const parcelOf = (id: string) => list.value.parcels.find((p) => p.id === id);
  function add(kind: ParcelKind): void {
    const parcel: Parcel = {
      id: newId(),
      kind: kind.kind,
      title: kind.label,
      frames: '',
      variants: [''],
      settings: {},
      name: USUAL_NAME,
      folder: '',
    };
    list.value.parcels.push(parcel);
    openId.value = parcel.id;
    void commit(`Add parcel “${parcel.title}”`);
  }
  function copy({ id }: Parcel): void {
    const at = list.value.parcels.findIndex((p) => p.id === id);
    const made = { ...(JSON.parse(JSON.stringify(list.value.parcels[at])) as Parcel), id: newId() };
    list.value.parcels.splice(at + 1, 0, made);
    openId.value = made.id;
    void commit('Copy parcel');
  }
  function remove({ id, title }: Parcel): void {
    list.value.parcels = list.value.parcels.filter((p) => p.id !== id);
    void commit(`Delete parcel “${title}”`);
  }
  /** Sets something of a parcel; it is kept when it has come to rest. */
  function set({ id }: Parcel, change: Partial<Parcel>): void {
    const parcel = parcelOf(id);
    if (parcel) Object.assign(parcel, change);
  }
  function setValue({ id }: Parcel, key: string, value: FieldValue): void {
    const parcel = parcelOf(id);
    if (parcel)
      parcel.settings = withValue(parcelKind(parcel.kind)?.fields ?? [], parcel.settings, key, value);
  }
  return {
    ...document,
    list,
    openId,
    checks,
    runs,
    folders,
    look,
    lookAtRuns,
    add,
    copy,
    remove,
    set,
    setValue,
  };
});
