import type { Interpretation } from '@zesty-crow/core/version';
import type { Version } from '@zesty-crow/server/contract';
import type { Ref } from 'vue';
import { api } from '../server/api.ts';
import { notifyError, tellUndo } from '../server/notify.ts';

/** What the artist knows better than the files of the open version: changed, kept, and taken back. */
export function useInterpretation(version: Ref<Version | undefined>) {
  /** @param said what is true now, as a sentence */
  async function interpret(change: (old: Interpretation) => Interpretation, said: string): Promise<void> {
    const { value } = version;
    if (!value) return;
    const old = value.interpretation;
    try {
      await api.interpret(value.id, change(old));
      tellUndo(said, () => api.interpret(value.id, old));
    } catch (error) {
      notifyError(error);
    }
  }
  return { interpret };
}
