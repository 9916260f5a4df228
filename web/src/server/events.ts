import type { Job } from './api.ts';

interface Listener {
  job?: (job: Job) => void;
  /** A job was deleted with what it belonged to. */
  jobGone?: (id: string) => void;
  shot?: (id: string) => void;
  connected?: () => void;
}

const listeners = new Set<Listener>();
let source: EventSource | undefined;

function connect(): void {
  source = new EventSource('/api/events');
  source.addEventListener('open', () => listeners.forEach((l) => l.connected?.()));
  source.addEventListener('job', (e) => {
    const job = JSON.parse((e as MessageEvent<string>).data) as Job;
    listeners.forEach((l) => l.job?.(job));
  });
  const onId = (event: string, tell: (l: Listener, id: string) => void) =>
    source!.addEventListener(event, (e) => {
      const { id } = JSON.parse((e as MessageEvent<string>).data) as { id: string };
      listeners.forEach((l) => tell(l, id));
    });
  onId('job-gone', (l, id) => l.jobGone?.(id));
  onId('shot', (l, id) => l.shot?.(id));
}

/** Hears what happens on the server; the browser reconnects by itself. Returns how to stop listening. */
export function listen(listener: Listener): () => void {
  listeners.add(listener);
  if (!source) connect();
  return () => listeners.delete(listener);
}
