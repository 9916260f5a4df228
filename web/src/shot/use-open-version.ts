import { frameNumbers } from '@zesty-crow/core/version';
import type { Shot, Version } from '@zesty-crow/server/contract';
import { computed, onUnmounted, ref, watch, type Ref } from 'vue';
import { canBeOpened, pictureFiles } from '../picture/local-files.ts';
import { usePicture } from '../picture/picture.ts';

/** What decides what a frame of a version looks like: another text is another picture. */
const lookOf = (v: Version, frame: number | undefined): string =>
  JSON.stringify([
    v.interpretation,
    pictureFiles(v)
      .filter((f) => f.role === 'picture' || f.role === 'sidecar')
      // Other frames may come and go while it is rendered.
      .filter((f) => !v.unfinished || f.frame === null || f.frame === frame)
      .map(({ name, frame, size, url, local }) => [name, frame, size, local ? '' : url])
      .sort(),
  ]);

/**
 * The version of a shot that a stage has open, by default the latest one that can be, and its frame. A version that is
 * still being read is opened as soon as it can be, and one whose files or meaning change is opened again; with the stage
 * it is closed.
 * @param opened told whenever a version or a frame is being opened, with the number of the frame
 */
export function useOpenVersion(
  shot: Ref<Shot | undefined>,
  opened: (frame: number | undefined) => void = () => undefined,
) {
  const picture = usePicture();
  const ready = computed(() => shot.value?.versions.filter(canBeOpened) ?? []);
  const version = computed(() => ready.value.find((v) => v.id === picture.versionId));
  /** The latest version, if it cannot be opened: its files can still be replaced. */
  const failed = computed(() => {
    const [latest] = shot.value?.versions ?? [];
    return latest?.state === 'failed' && !version.value ? latest : undefined;
  });
  const files = computed(() => (version.value ? pictureFiles(version.value) : []));
  const frame = ref<number>();
  const frames = computed(() => frameNumbers(files.value));
  let look = '';

  function open(v: Version, wanted?: number): void {
    const numbers = frameNumbers(pictureFiles(v));
    frame.value = wanted !== undefined && numbers.includes(wanted) ? wanted : numbers[0];
    look = lookOf(v, frame.value);
    void picture.open(v, frame.value);
    opened(frame.value);
  }
  /** What the checks found in the version's first frame, and what reading this one has met. */
  const findings = computed(() => {
    const first = frame.value === undefined || frame.value === frames.value[0];
    const stored = first ? (version.value?.summary?.findings ?? []) : [];
    const overall = version.value?.summary?.overall ?? [];
    const all = version.value ? [...stored, ...overall, ...(picture.opened?.findings ?? [])] : [];
    return [...new Map(all.map((f) => [`${f.code} ${f.message}`, f])).values()];
  });

  watch(
    // The stage before closes what it had open only when this one is there.
    [ready, () => picture.versionId],
    ([[latest], openId]) => {
      if (latest && !openId) open(latest);
      else if (version.value && lookOf(version.value, frame.value) !== look) open(version.value, frame.value);
    },
    { immediate: true },
  );
  // It was opened from files that were here, and now the server has found what is wrong with them.
  watch(failed, (now) => {
    if (now && now.id === picture.versionId) picture.problem = now.problem ?? 'This version cannot be used.';
  });
  onUnmounted(() => picture.close());
  /** Says that there is nothing to open, once the shot is known. */
  function tellNone(): void {
    if (!shot.value || ready.value.length) return;
    picture.problem = failed.value?.problem ?? 'This shot has no version that can be opened yet.';
  }
  return { ready, version, failed, files, frame, frames, findings, open, tellNone };
}
