import { passesNeeded } from '@zesty-crow/core';
import type { Failure, ViewState } from './messages.ts';

/** Corrections that could not be computed: each is told until its change is another one. */
export class Failures {
  private all: Failure[] = [];

  /** As they are told. */
  get list(): Failure[] {
    return this.all;
  }
  reset(): void {
    this.all = [];
  }

  /** Takes over what has failed; of one correction the latest counts. */
  add(failed: readonly Failure[]): void {
    this.all = [...new Map([...this.all, ...failed].map((f) => [`${f.changeId} ${f.kind}`, f])).values()];
  }

  /** Passes could not be read: every correction that wanted one of them has failed. */
  passesLost({ changes }: ViewState, names: readonly string[], message: string): void {
    for (const change of changes)
      for (const use of change.corrections)
        if (passesNeeded([{ ...change, corrections: [use] }]).some((n) => names.includes(n)))
          this.all.push({ changeId: change.id, kind: use.kind, message });
  }

  /** Forgets those of changes that were edited or are gone. */
  follow({ changes }: ViewState, edited: readonly string[]): void {
    this.all = this.all.filter(
      (f) => !edited.includes(f.changeId) && changes.some((c) => c.id === f.changeId),
    );
  }
}
