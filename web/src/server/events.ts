import type { Job } from './api.ts';

type Listener = { job?: (job: Job) => void; shot?: (id: string) => void; connected?: () => void };

const listeners = new Set<Listener>();
let source: EventSource | undefined;

function connect(): void {
  source = new EventSource('/api/events');
  source.addEventListener('open', () => listeners.forEach((l) => l.connected?.()));
  source.addEventListener('job', (e) => {
    const job = JSON.parse((e as MessageEvent<string>).data) as Job | undefined;
    if (job) listeners.forEach((l) => l.job?.(job));
  });
  source.addEventListener('shot', (e) => {
    const { id } = JSON.parse((e as MessageEvent<string>).data) as { id: string };
    listeners.forEach((l) => l.shot?.(id));
  });
}

/** Hears what happens on the server; the browser reconnects by itself. Returns how to stop listening. */
export function listen(listener: Listener): () => void {
  listeners.add(listener);
  if (!source) connect();
  return () => listeners.delete(listener);
}
