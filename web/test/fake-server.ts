import { emptyChangeList } from '@zesty-crow/core/changes';
import { emptyPlan, type Measured } from '@zesty-crow/core/plan';
import type { SceneOutline } from '@zesty-crow/core/scene';
import type { Job } from '@zesty-crow/server/contract';

interface Steps {
  revision: number;
  at: number;
  list: { label: string; body: unknown }[];
  empty: unknown;
}
type Listener = (event: { data: string }) => void;

/** A value with its keys in the order in which PostgreSQL's jsonb keeps them: by length, then by their letters. */
function keptAsJsonb(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(keptAsJsonb);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => a.length - b.length || (a < b ? -1 : 1))
      .map(([k, v]) => [k, keptAsJsonb(v)]),
  );
}

/**
 * A server in memory behind `fetch` and `EventSource`, with one shot: documents with their history and the answer to
 * an edit of an old revision, a scene, figures and jobs.
 */
export class FakeServer {
  documents: Record<string, Steps> = {};
  outline: SceneOutline | null = null;
  measured: Measured[] = [];
  jobs: Job[] = [];
  /** Calls as "METHOD path", in order. */
  calls: string[] = [];
  /** While true, nothing answers. */
  down = false;
  private readonly listeners = new Map<string, Set<Listener>>();

  constructor() {
    this.reset();
    const { listeners } = this;
    globalThis.fetch = ((url: string, init?: RequestInit) => this.answer(url, init)) as typeof fetch;
    globalThis.EventSource = class {
      addEventListener(kind: string, listener: Listener) {
        listeners.set(kind, (listeners.get(kind) ?? new Set()).add(listener));
      }
    } as unknown as typeof EventSource;
  }

  /** Forgets everything; pages stay connected. */
  reset(): void {
    this.documents = {
      changes: { revision: 0, at: 0, list: [], empty: emptyChangeList() },
      plan: { revision: 0, at: 0, list: [], empty: emptyPlan() },
    };
    this.outline = null;
    this.measured = [];
    this.jobs = [];
    this.calls = [];
    this.down = false;
  }

  /** Tells all pages of an event. */
  tell(kind: 'job' | 'job-gone' | 'shot' | 'open', data: object = {}): void {
    this.listeners.get(kind)?.forEach((l) => l({ data: JSON.stringify(data) }));
  }

  /** What a document is now. */
  body<T>(kind: string): T {
    const d = this.documents[kind]!;
    return (d.list[d.at - 1]?.body ?? d.empty) as T;
  }

  private state(kind: string) {
    const d = this.documents[kind]!;
    const undo = d.list[d.at - 1]?.label;
    const redo = d.list[d.at]?.label;
    return {
      revision: d.revision,
      body: this.body(kind),
      ...(undo === undefined ? {} : { undo }),
      ...(redo === undefined ? {} : { redo }),
    };
  }

  /** An edit by another window. */
  edit(kind: string, label: string, body: unknown): void {
    const d = this.documents[kind]!;
    d.list = [...d.list.slice(0, d.at), { label, body: keptAsJsonb(body) }];
    d.at++;
    d.revision++;
  }

  private async answer(url: string, init: RequestInit = {}): Promise<Response> {
    const method = init.method ?? 'GET';
    this.calls.push(`${method} ${url}`);
    await Promise.resolve();
    if (this.down) throw new TypeError('fetch failed');
    const json = (status: number, body: unknown) => Response.json(body, { status });
    const sent = init.body ? (JSON.parse(String(init.body)) as Record<string, unknown>) : {};
    const [, , , , what, way] = url.split('/');
    if (url === '/api/jobs') return json(200, this.jobs);
    if (what === 'scene') return json(200, { files: [], outline: this.outline, problem: null });
    if (what === 'figures')
      return json(200, { measured: this.measured, threads: 2, sumsLimit: 2 ** 28, memory: 2 ** 32 });
    const d = this.documents[what!];
    if (!d) return json(404, { title: 'Not found.', detail: url });
    if (method === 'GET') return json(200, this.state(what!));
    if (sent['revision'] !== d.revision)
      return json(409, { title: 'It was edited elsewhere.', detail: '', current: this.state(what!) });
    if (method === 'PUT') this.edit(what!, String(sent['label']), sent['body']);
    else {
      const to = d.at + (way === 'undo' ? -1 : 1);
      if (to >= 0 && to <= d.list.length) {
        d.at = to;
        d.revision++;
      }
    }
    return json(200, this.state(what!));
  }
}
