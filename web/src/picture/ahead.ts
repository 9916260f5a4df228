import { PictureClient } from './client.ts';

let ahead: PictureClient | undefined;

const start = () =>
  new PictureClient(new Worker(new URL('./picture-worker.ts', import.meta.url), { type: 'module' }));

/** Starts the picture's worker before the screen that needs it is there: it takes as long to start as the screen. */
export function startPicture(): void {
  ahead ??= start();
}

/** The worker that was started ahead, or a new one. It is the caller's to close. */
export function takePicture(): PictureClient {
  const client = ahead ?? start();
  ahead = undefined;
  return client;
}
