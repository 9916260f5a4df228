/** The server's answers and the calls that get them. */
import type { ChangeList } from '@zesty-crow/core/changes';
import type { MemberPick } from '@zesty-crow/core/picks';
import type { Measured, Plan, RenderRequest } from '@zesty-crow/core/plan';
import type { SceneOutline } from '@zesty-crow/core/scene';

export interface ShotCard {
  id: string;
  name: string;
  created: string;
  edited: string;
  version: number | null;
  versionState: 'receiving' | 'reading' | 'ready' | 'failed' | null;
  problem: string | null;
  preview: string | null;
  openChanges: number;
  hasScene: boolean;
}

export interface StoredFile {
  id: string;
  role: 'picture' | 'sidecar' | 'preview' | 'scene' | 'scene-part' | 'result';
  name: string;
  size: number;
  frame: number | null;
}

export interface Version {
  id: string;
  number: number;
  source: 'import' | 'render';
  state: 'receiving' | 'reading' | 'rendering' | 'ready' | 'failed';
  problem: string | null;
  width: number | null;
  height: number | null;
  created: string;
  /** Wishes of the plan it was rendered by, with the picks that serve them. */
  wishes: { id: string; words: string; picks: MemberPick[] }[] | null;
  files: StoredFile[];
}

export type Shot = ShotCard & { versions: Version[] };

export interface Job {
  id: string;
  kind: 'ingest' | 'render' | 'export' | 'scene';
  shot_id: string;
  version_id: string | null;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  progress: number;
  message: string;
  result: { fileId?: string; name?: string; size?: number } | null;
  frame: number | null;
  look: number;
  keep: boolean;
  created: string;
  started: string | null;
  ended: string | null;
}

/** A document of a shot with its place in the history. */
export interface HistoryState<T> {
  revision: number;
  body: T;
  undo?: string;
  redo?: string;
}
export interface Documents {
  changes: ChangeList;
  plan: Plan;
}

export interface StoredScene {
  files: { id: string; name: string; size: number; role: string }[];
  outline: SceneOutline | null;
  problem: string | null;
}

export type RenderJob = Omit<Job, 'kind' | 'shot_id' | 'version_id' | 'result' | 'keep' | 'created'>;

export interface Render {
  versionId: string;
  number: number;
  state: Version['state'];
  problem: string | null;
  created: string;
  request: RenderRequest | null;
  plan: Plan | null;
  measured: (Measured & { frame: number })[];
  jobs: RenderJob[];
}

/** A refusal by the server, in words for the user. */
export class ServerProblem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly body: Record<string, unknown> = {},
  ) {
    super(`${title} ${detail}`);
  }
}

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      ...(body === undefined
        ? {}
        : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
  } catch {
    throw new ServerProblem(
      0,
      'The server does not answer.',
      'Is it still running? Nothing that was saved is lost.',
    );
  }
  if (response.ok) return (response.status === 204 ? undefined : await response.json()) as T;
  const problem = (await response.json().catch(() => ({}))) as Record<string, unknown>;
  throw new ServerProblem(
    response.status,
    String(problem['title'] ?? 'The server could not do that.'),
    String(problem['detail'] ?? 'Try again.'),
    problem,
  );
}

/** Sends a file. By XMLHttpRequest, because only that tells how much has been sent. */
function upload(
  path: string,
  file: File,
  signal: AbortSignal,
  onSent: (bytes: number) => void,
): Promise<StoredFile> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('PUT', `/api${path}/${encodeURIComponent(file.name)}`);
    request.responseType = 'json';
    request.upload.onprogress = (e) => onSent(e.loaded);
    request.onload = () => {
      if (request.status < 300) return resolve(request.response as StoredFile);
      const problem = (request.response ?? {}) as Record<string, unknown>;
      reject(
        new ServerProblem(
          request.status,
          String(problem['title'] ?? 'The file was not taken.'),
          String(problem['detail'] ?? 'Try again.'),
        ),
      );
    };
    request.onerror = () =>
      reject(
        new ServerProblem(
          0,
          `${file.name} was not sent.`,
          'The connection to the server broke. Drop the file again.',
        ),
      );
    request.onabort = () => reject(new ServerProblem(0, `${file.name} was not sent.`, 'It was cancelled.'));
    signal.addEventListener('abort', () => request.abort(), { once: true });
    request.send(file);
  });
}

export const fileUrl = (id: string, download = false) => `/api/files/${id}${download ? '?download' : ''}`;

export const api = {
  shots: () => call<ShotCard[]>('GET', '/shots'),
  shot: (id: string) => call<Shot>('GET', `/shots/${id}`),
  createShot: (name: string) => call<ShotCard>('POST', '/shots', { name }),
  renameShot: (id: string, name: string) => call<ShotCard>('PATCH', `/shots/${id}`, { name }),
  deleteShot: (id: string) => call<void>('DELETE', `/shots/${id}`),
  restoreShot: (id: string) => call<ShotCard>('POST', `/shots/${id}/restore`),
  createVersion: (shot: string) => call<{ id: string; number: number }>('POST', `/shots/${shot}/versions`),
  upload: (version: string, file: File, signal: AbortSignal, onSent: (bytes: number) => void) =>
    upload(`/versions/${version}/files`, file, signal, onSent),
  uploadScene: (shot: string, file: File, signal: AbortSignal, onSent: (bytes: number) => void) =>
    upload(`/shots/${shot}/scene`, file, signal, onSent),
  scene: (shot: string) => call<StoredScene>('GET', `/shots/${shot}/scene`),
  readScene: (shot: string) => call<Job>('POST', `/shots/${shot}/scene/read`),
  renders: (shot: string) => call<Render[]>('GET', `/shots/${shot}/renders`),
  figures: (shot: string) => call<{ measured: Measured[]; threads: number }>('GET', `/shots/${shot}/figures`),
  startRender: (shot: string, request: RenderRequest, base?: string) =>
    call<{ versionId: string; number: number }>('POST', `/shots/${shot}/renders`, {
      request,
      ...(base ? { base } : {}),
    }),
  cancelRender: (shot: string, version: string) =>
    call<void>('POST', `/shots/${shot}/renders/${version}/cancel`),
  renderMissing: (shot: string, version: string) =>
    call<void>('POST', `/shots/${shot}/renders/${version}/again`),
  discardVersion: (version: string) => call<void>('DELETE', `/versions/${version}`),
  readVersion: (version: string) => call<Job>('POST', `/versions/${version}/read`),
  document: <K extends keyof Documents>(kind: K, shot: string) =>
    call<HistoryState<Documents[K]>>('GET', `/shots/${shot}/${kind}`),
  saveDocument: <K extends keyof Documents>(
    kind: K,
    shot: string,
    revision: number,
    label: string,
    body: Documents[K],
  ) => call<HistoryState<Documents[K]>>('PUT', `/shots/${shot}/${kind}`, { revision, label, body }),
  moveDocument: <K extends keyof Documents>(kind: K, way: 'undo' | 'redo', shot: string, revision: number) =>
    call<HistoryState<Documents[K]>>('POST', `/shots/${shot}/${kind}/${way}`, { revision }),
  export: (
    version: string,
    input: {
      what: 'picture' | 'mask';
      format: 'exr' | 'png';
      depth: 8 | 16;
      changeId?: string;
      frame?: number;
      name: string;
      list: ChangeList;
    },
  ) => call<Job>('POST', `/versions/${version}/export`, input),
  jobs: () => call<Job[]>('GET', '/jobs'),
  cancelJob: (id: string) => call<void>('POST', `/jobs/${id}/cancel`),
  keepJob: (id: string) => call<void>('POST', `/jobs/${id}/keep`),
};
