import { frameNumbers } from '@zesty-crow/core/version';
import type { Shot, Version } from '@zesty-crow/server/contract';
import { computed, onUnmounted, ref, watch, type Ref } from 'vue';
import { usePicture } from '../picture/picture.ts';

/**
 * The version of a shot that a stage has open, by default the latest one that can be, and its frame. A version that is
 * still being read is opened as soon as it can be; with the stage it is closed.
 * @param opened told whenever a version or a frame is being opened
 */
export function useOpenVersion(shot: Ref<Shot | undefined>, opened: () => void = () => undefined) {
  const picture = usePicture();
  const ready = computed(() => shot.value?.versions.filter((v) => v.state === 'ready') ?? []);
  const version = computed(() => ready.value.find((v) => v.id === picture.versionId));
  const frame = ref<number>();
  const frames = computed(() => (version.value ? frameNumbers(version.value.files) : []));

  function open(v: Version, wanted?: number): void {
    const numbers = frameNumbers(v.files);
    frame.value = wanted !== undefined && numbers.includes(wanted) ? wanted : numbers[0];
    void picture.open(v, frame.value);
    opened();
  }
  /** What the checks found in the version's first frame, and what reading this one has met. */
  const findings = computed(() => {
    const first = frame.value === undefined || frame.value === frames.value[0];
    const stored = first ? (version.value?.summary?.findings ?? []) : [];
    const all = version.value ? [...stored, ...(picture.opened?.findings ?? [])] : [];
    return [...new Map(all.map((f) => [`${f.code} ${f.message}`, f])).values()];
  });

  watch(
    // The stage before closes what it had open only when this one is there.
    [ready, () => picture.versionId],
    ([[latest], openId]) => {
      if (latest && !openId) open(latest);
    },
    { immediate: true },
  );
  onUnmounted(() => picture.close());
  /** Says that there is nothing to open, once the shot is known. */
  function tellNone(): void {
    if (shot.value && !ready.value.length)
      picture.problem = 'This shot has no version that can be opened yet.';
  }
  return { ready, version, frame, frames, findings, open, tellNone };
}
