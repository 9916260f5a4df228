import * as Comlink from 'comlink';
import { patchOf } from '@zesty-crow/core/fields';
import type { PictureEvents, VersionFiles, ViewState } from './messages.ts';
import type { Answers, Query } from './queries/list.ts';
import type { PictureWorker } from './picture-worker.ts';

/** The picture's worker was closed, or has ended. */
export class PictureClosedError extends Error {
  override name = 'PictureClosedError';
}

/**
 * The page's side of the picture's worker. Whatever is asked is answered or rejected: closing, and a worker that ends
 * by itself, reject all that is under way.
 */
export class PictureClient {
  private readonly remote: Comlink.Remote<PictureWorker>;
  private readonly ended: Promise<never>;
  private end!: (reason: Error) => void;

  constructor(private readonly worker: Worker) {
    this.remote = Comlink.wrap<PictureWorker>(worker);
    this.ended = new Promise((_, reject) => (this.end = reject));
    // Nobody may be waiting.
    this.ended.catch(() => undefined);
    worker.addEventListener('error', (e) => {
      this.end(new PictureClosedError(e.message || 'Computing the picture has stopped. Reload the page.'));
    });
  }

  private orEnd<T>(answer: Promise<T>): Promise<T> {
    return Promise.race([answer, this.ended]);
  }

  open(version: VersionFiles, frame: number | undefined, events: PictureEvents): Promise<void> {
    const proxy = Comlink.proxy(events) as unknown as Comlink.Remote<PictureEvents>;
    return this.orEnd(this.remote.open(version, frame, proxy));
  }
  /**
   * Tells the worker what is different in this view. What it holds must not be changed in place afterwards, and what is as
   * it was should be the very same object: it is not looked into.
   * @param revision comes back when the view has been computed
   */
  show(view: ViewState, revision: number): void {
    const patch = patchOf(this.shown, view);
    this.shown = view;
    // What did not get there is told again, as a whole.
    void this.orEnd(this.remote.show(patch, revision)).catch(() => (this.shown = undefined));
  }
  private shown: ViewState | undefined;
  ask<Q extends Query>(query: Q): Promise<Answers[Q['ask']]> {
    return this.orEnd(this.remote.ask(query) as Promise<Answers[Q['ask']]>);
  }
  close(): void {
    this.end(new PictureClosedError('The picture was closed.'));
    this.worker.terminate();
  }
}
