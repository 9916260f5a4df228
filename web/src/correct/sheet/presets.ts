import { ElMessageBox } from 'element-plus';
import { shallowRef } from 'vue';
import type { StepUse } from '@zesty-crow/core/changes';
import type { Preset } from '@zesty-crow/server/contract';
import { api } from '../../server/api.ts';
import { notify, notifyError } from '../../server/notify.ts';

/** Presets of corrections: one list for all that show them. */
export const presets = shallowRef<readonly Preset[]>([]);

export async function loadPresets(): Promise<void> {
  presets.value = await api.presets();
}

/** Asks for a name, and keeps corrections under it. */
export async function keepPreset(corrections: readonly StepUse[], name: string): Promise<void> {
  const asked = await ElMessageBox.prompt(
    'Kept with their values, for any part of any shot.',
    'Keep as a preset',
    {
      inputValue: name.slice(0, 100),
      inputPlaceholder: 'Name',
      inputValidator: (text) =>
        text.trim() === '' ? 'Give it a name.' : text.length <= 100 || 'At most 100 letters.',
      confirmButtonText: 'Keep',
      cancelButtonText: 'Cancel',
    },
  ).catch(() => undefined);
  const given = (asked as { value?: string } | undefined)?.value?.trim();
  if (!given) return;
  await api.addPreset(given, JSON.parse(JSON.stringify(corrections)) as StepUse[]);
  notify(`“${given}” is kept. It stands where corrections are added.`);
  await loadPresets();
}
export async function removePreset(id: string): Promise<void> {
  await api.deletePreset(id).catch(notifyError);
  await loadPresets();
}
