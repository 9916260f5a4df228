/** The calls of the server; what they take and answer is typed by the server's own contract. */
import type {
  Preset,
  Appearances,
  Documents,
  ExportInput,
  Figures,
  FolderListing,
  HistoryState,
  HistorySteps,
  NamedState,
  ParcelCheck,
  ParcelRun,
  ParcelRunFile,
  Job,
  KnownFile,
  KnownRoles,
  Render,
  RenderAttention,
  Shot,
  ShotCard,
  StoredFile,
  StoredScene,
} from '@zesty-crow/server/contract';
import type { StepUse } from '@zesty-crow/core/changes';
import type { Mending } from '@zesty-crow/core/findings';
import type { Interpretation } from '@zesty-crow/core/version';
import type { ProbeFigures, RenderRequest } from '@zesty-crow/core/plan';

/** A refusal by the server, in words for the user. */
export class ServerError extends Error {
  override name = 'ServerError';
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
    throw new ServerError(
      0,
      'The server does not answer.',
      'Is it still running? Nothing that was saved is lost.',
    );
  }
  if (response.ok) return (response.status === 204 ? undefined : await response.json()) as T;
  const problem = (await response.json().catch(() => ({}))) as Record<string, unknown>;
  throw new ServerError(
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
  query = '',
): Promise<StoredFile> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('PUT', `/api${path}/${encodeURIComponent(file.name)}${query}`);
    request.responseType = 'json';
    request.upload.onprogress = (e) => onSent(e.loaded);
    request.onload = () => {
      if (request.status < 300) return resolve(request.response as StoredFile);
      const problem = (request.response ?? {}) as Record<string, unknown>;
      reject(
        new ServerError(
          request.status,
          String(problem['title'] ?? 'The file was not taken.'),
          String(problem['detail'] ?? 'Try again.'),
        ),
      );
    };
    request.onerror = () =>
      reject(
        new ServerError(
          0,
          `${file.name} was not sent.`,
          'The connection to the server broke. Drop the file again.',
        ),
      );
    request.onabort = () => reject(new ServerError(0, `${file.name} was not sent.`, 'It was cancelled.'));
    signal.addEventListener('abort', () => request.abort(), { once: true });
    request.send(file);
  });
}

/** Where stored ID indexes of a version are asked for, by layer and frame. */
export const indexesUrl = (versionId: string) => `/api/versions/${versionId}/index`;
/** All files of a run in one archive. */
export const archiveUrl = (run: string) => `/api/runs/${run}/archive`;
export const fileUrl = (id: string, download = false) => `/api/files/${id}${download ? '?download' : ''}`;

export const api = {
  shots: () => call<ShotCard[]>('GET', '/shots'),
  shot: (id: string) => call<Shot>('GET', `/shots/${id}`),
  createShot: (name: string) => call<ShotCard>('POST', '/shots', { name }),
  renameShot: (id: string, name: string) => call<ShotCard>('PATCH', `/shots/${id}`, { name }),
  deleteShot: (id: string) => call<void>('DELETE', `/shots/${id}`),
  restoreShot: (id: string) => call<ShotCard>('POST', `/shots/${id}/restore`),
  createVersion: (shot: string) => call<{ id: string; number: number }>('POST', `/shots/${shot}/versions`),
  upload: (
    version: string,
    file: File,
    signal: AbortSignal,
    onSent: (bytes: number) => void,
    frame?: number,
  ) =>
    upload(`/versions/${version}/files`, file, signal, onSent, frame === undefined ? '' : `?frame=${frame}`),
  uploadScene: (shot: string, file: File, signal: AbortSignal, onSent: (bytes: number) => void) =>
    upload(`/shots/${shot}/scene`, file, signal, onSent),
  /** A picture file that a correction lays into the picture. */
  uploadPicture: (shot: string, file: File) =>
    upload(`/shots/${shot}/pictures`, file, new AbortController().signal, () => undefined),
  presets: () => call<Preset[]>('GET', '/presets'),
  addPreset: (name: string, corrections: readonly StepUse[]) =>
    call<Preset>('POST', '/presets', { name, corrections }),
  deletePreset: (id: string) => call<void>('DELETE', `/presets/${id}`),
  scene: (shot: string) => call<StoredScene>('GET', `/shots/${shot}/scene`),
  readScene: (shot: string) => call<Job>('POST', `/shots/${shot}/scene/read`),
  renders: (shot: string) => call<Render[]>('GET', `/shots/${shot}/renders`),
  figures: (shot: string) => call<Figures>('GET', `/shots/${shot}/figures`),
  /** What a trial of the plan told; null until it is over. */
  probe: (shot: string, request: RenderRequest) =>
    call<{ figures: ProbeFigures | null }>('POST', `/shots/${shot}/probe`, { request }),
  startRender: (shot: string, request: RenderRequest, base?: string) =>
    call<{ versionId: string; number: number }>('POST', `/shots/${shot}/renders`, {
      request,
      ...(base ? { base } : {}),
    }),
  cancelRender: (shot: string, version: string) =>
    call<void>('POST', `/shots/${shot}/renders/${version}/cancel`),
  /** Ends a render with what there is; one that was stopped by a fault with its last snapshot. */
  keepRender: (shot: string, version: string) => call<void>('POST', `/shots/${shot}/renders/${version}/keep`),
  /** Adds samples to a version whose sums were kept. */
  addSamples: (shot: string, version: string) => call<void>('POST', `/shots/${shot}/renders/${version}/more`),
  /** Deletes what is kept of a version so that samples can be added. */
  dropSums: (shot: string, version: string) => call<void>('DELETE', `/shots/${shot}/renders/${version}/sums`),
  /** Begins what is not done of a render anew, with the plan as it is now. */
  renderAnew: (shot: string, version: string, request: RenderRequest) =>
    call<void>('POST', `/shots/${shot}/renders/${version}/anew`, { request }),
  renderMissing: (shot: string, version: string) =>
    call<void>('POST', `/shots/${shot}/renders/${version}/again`),
  appearances: (version: string, layer: string) =>
    call<Appearances>('GET', `/versions/${version}/appearances?layer=${encodeURIComponent(layer)}`),
  interpret: (version: string, interpretation: Interpretation) =>
    call<void>('PATCH', `/versions/${version}/interpretation`, interpretation),
  mend: (version: string, mending: Mending) => call<Job>('POST', `/versions/${version}/mendings`, mending),
  swapFiles: (version: string, retire: readonly string[], restore: readonly string[]) =>
    call<void>('POST', `/versions/${version}/swap`, { retire, restore }),
  knownRoles: (version: string) => call<KnownRoles[]>('GET', `/versions/${version}/known-roles`),
  retireFile: (version: string, file: string) => call<void>('DELETE', `/versions/${version}/files/${file}`),
  restoreFile: (version: string, file: string) =>
    call<void>('POST', `/versions/${version}/files/${file}/restore`),
  knownFiles: async (files: { size: number; sha256?: string }[]) =>
    (await call<{ known: (KnownFile | null)[] }>('POST', '/files/known', { files })).known,
  /** A folder on the server's machine; without a path those that are allowed. */
  folder: (path?: string, withFiles = false) =>
    call<FolderListing>(
      'GET',
      path === undefined
        ? '/folders'
        : `/folders?path=${encodeURIComponent(path)}${withFiles ? '&files' : ''}`,
    ),
  takeFiles: (version: string, folder: string, files: { path: string; frame: number | null }[]) =>
    call<Job>('POST', `/versions/${version}/take`, { folder, files }),
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
  goInDocument: <K extends keyof Documents>(kind: K, shot: string, revision: number, step: number) =>
    call<HistoryState<Documents[K]>>('POST', `/shots/${shot}/${kind}/go`, { revision, step }),
  /** The newest steps of its history, or those before one. */
  stepsOfDocument: (kind: keyof Documents, shot: string, before?: number) =>
    call<HistorySteps>(
      'GET',
      `/shots/${shot}/${kind}/steps${before === undefined ? '' : `?before=${before}`}`,
    ),
  states: (kind: keyof Documents, shot: string) => call<NamedState[]>('GET', `/shots/${shot}/${kind}/states`),
  state: <K extends keyof Documents>(kind: K, shot: string, id: string) =>
    call<Documents[K]>('GET', `/shots/${shot}/${kind}/states/${id}`),
  keepState: <K extends keyof Documents>(kind: K, shot: string, name: string, body: Documents[K]) =>
    call<NamedState>('POST', `/shots/${shot}/${kind}/states`, { name, body }),
  dropState: (kind: keyof Documents, shot: string, id: string) =>
    call<void>('DELETE', `/shots/${shot}/${kind}/states/${id}`),
  /** What would come of each parcel of a version's shot, and what has. */
  parcels: (version: string) =>
    call<{ checks: ParcelCheck[]; folders: string[] }>('GET', `/versions/${version}/parcels`),
  /** Makes some parcels, or all. */
  makeParcels: (version: string, parcels?: string[]) =>
    call<{ run: string }>('POST', `/versions/${version}/parcels`, parcels ? { parcels } : {}),
  parcelRuns: (version: string) => call<ParcelRun[]>('GET', `/versions/${version}/parcels/runs`),
  deleteRun: (run: string) => call<void>('DELETE', `/runs/${run}`),
  filesOfRun: (run: string) => call<ParcelRunFile[]>('GET', `/runs/${run}/files`),
  cancelRun: (run: string) => call<void>('POST', `/runs/${run}/cancel`),
  export: (version: string, input: ExportInput) => call<Job>('POST', `/versions/${version}/export`, input),
  jobs: () => call<Job[]>('GET', '/jobs'),
  cancelJob: (id: string) => call<void>('POST', `/jobs/${id}/cancel`),
  /** Says what one looks at of a running render. */
  attend: (id: string, wanted: RenderAttention) => call<void>('POST', `/jobs/${id}/attention`, wanted),
};
