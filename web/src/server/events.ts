import type { DiskState, EventData, Job } from '@zesty-crow/server/contract';

interface Listener {
  job?: (job: Job) => void;
  /** A job was deleted with what it belonged to. */
  jobGone?: (id: string) => void;
  shot?: (id: string) => void;
  disk?: (state: DiskState) => void;
  /** Connected, for the first time or again: what happened meanwhile was not heard and has to be loaded. */
  connected?: () => void;
}

const listeners = new Set<Listener>();
let source: EventSource | undefined;

function connect(): void {
  const opened = (source = new EventSource('/api/events'));
  const connected = () => listeners.forEach((l) => l.connected?.());
  const on = <E extends keyof EventData>(event: E, tell: (l: Listener, data: EventData[E]) => void) =>
    opened.addEventListener(event, (e) => {
      const data = JSON.parse((e as MessageEvent<string>).data) as EventData[E];
      listeners.forEach((l) => tell(l, data));
    });
  opened.addEventListener('open', connected);
  on('job', (l, job) => l.job?.(job));
  on('job-gone', (l, { id }) => l.jobGone?.(id));
  on('shot', (l, { id }) => l.shot?.(id));
  on('disk', (l, state) => l.disk?.(state));
  // The server lost its own line to the database for a while.
  on('missed', (l) => l.connected?.());
}

/** Hears what happens on the server; the browser reconnects by itself. Returns how to stop listening. */
export function listen(listener: Listener): () => void {
  listeners.add(listener);
  if (!source) connect();
  return () => listeners.delete(listener);
}
