/** The server's answers and the calls that get them. */
import type { ChangeList } from '@zesty-crow/core/changes';

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
  role: 'picture' | 'sidecar' | 'preview' | 'scene' | 'result';
  name: string;
  size: number;
}

export interface Version {
  id: string;
  number: number;
  source: 'import' | 'render';
  state: 'receiving' | 'reading' | 'ready' | 'failed';
  problem: string | null;
  created: string;
  files: StoredFile[];
}

export type Shot = ShotCard & { versions: Version[] };

export interface Job {
  id: string;
  kind: 'ingest' | 'render' | 'export';
  shot_id: string;
  version_id: string | null;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  progress: number;
  message: string;
  result: { fileId?: string; name?: string; size?: number; version?: number } | null;
  created: string;
}

export interface ChangeState {
  revision: number;
  list: ChangeList;
  undo?: string;
  redo?: string;
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
  version: string,
  file: File,
  signal: AbortSignal,
  onSent: (bytes: number) => void,
): Promise<StoredFile> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('PUT', `/api/versions/${version}/files/${encodeURIComponent(file.name)}`);
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
  upload,
  discardVersion: (version: string) => call<void>('DELETE', `/versions/${version}`),
  readVersion: (version: string) => call<Job>('POST', `/versions/${version}/read`),
  changes: (shot: string) => call<ChangeState>('GET', `/shots/${shot}/changes`),
  saveChanges: (shot: string, revision: number, label: string, list: ChangeList) =>
    call<ChangeState>('PUT', `/shots/${shot}/changes`, { revision, label, list }),
  undo: (shot: string, revision: number) =>
    call<ChangeState>('POST', `/shots/${shot}/changes/undo`, { revision }),
  redo: (shot: string, revision: number) =>
    call<ChangeState>('POST', `/shots/${shot}/changes/redo`, { revision }),
  render: (shot: string, input: { width: number; height: number; samples: number }) =>
    call<Job>('POST', `/shots/${shot}/render`, input),
  export: (
    version: string,
    input: {
      what: 'picture' | 'mask';
      format: 'exr' | 'png';
      depth: 8 | 16;
      changeId?: string;
      name: string;
      list: ChangeList;
    },
  ) => call<Job>('POST', `/versions/${version}/export`, input),
  jobs: () => call<Job[]>('GET', '/jobs'),
  cancelJob: (id: string) => call<void>('POST', `/jobs/${id}/cancel`),
};
