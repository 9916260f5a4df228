import type { JobRow } from './jobs.ts';

/** What the worker says to a lane's process. */
export type ToLane =
  | { do: 'run'; job: JobRow; keep: boolean }
  | { do: 'cancel' }
  | { do: 'keep' }
  | { do: 'attend'; attention: object };

/** What a lane's process says to the worker. */
export type FromLane =
  | { say: 'ready' }
  | { say: 'progress'; id: string; done: number; message: string }
  | { say: 'look'; id: string; png: Uint8Array }
  | { say: 'publish'; id: string; details: unknown }
  | { say: 'done'; id: string; message: string; result?: object; details: unknown }
  | { say: 'failed'; id: string; message: string; stack?: string };
