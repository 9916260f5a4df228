/**
 * What the server answers and takes, typed once: routes are written against these types, and the browser's client takes
 * them from here. Nothing but types stands in this file.
 */
import type { ChangeList, StepUse } from '@zesty-crow/core/changes';
import type { Finding } from '@zesty-crow/core/findings';
import type { Interpretation } from '@zesty-crow/core/version';
import type { MemberPick } from '@zesty-crow/core/picks';
import type { ParcelList } from '@zesty-crow/core/parcels';
import type { Measured, Plan, RenderRequest } from '@zesty-crow/core/plan';
import type { SceneOutline } from '@zesty-crow/core/scene';

export type VersionState = 'receiving' | 'reading' | 'rendering' | 'ready' | 'failed';
/** A version that can be worked on before all is rendered: it grows, or was stopped before it was finished. */
export type Unfinished = 'growing' | 'stopped' | null;
export type JobState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
export type FileRole =
  | 'picture'
  | 'sidecar'
  | 'preview'
  | 'preview-large'
  | 'scene'
  | 'scene-part'
  | 'result'
  | 'fill'
  | 'sums';

/** Corrections with their values under a name, to be used again. */
export interface Preset {
  id: string;
  name: string;
  corrections: readonly StepUse[];
}

/** A shot as the wall of pictures shows it. */
export interface ShotCard {
  id: string;
  name: string;
  created: string;
  edited: string;
  /** Number and state of its latest version; null without one. */
  version: number | null;
  versionId: string | null;
  versionState: VersionState | null;
  problem: string | null;
  /** File of the latest picture. */
  preview: string | null;
  openChanges: number;
  hasScene: boolean;
}

export interface StoredFile {
  id: string;
  role: FileRole;
  name: string;
  size: number;
  frame: number | null;
}

/** What the interface needs to know of a version before its pixels arrive. */
export interface VersionSummary {
  layers: { name: string; kind: string; ranks: number; manifest: string; members: number }[];
  findings: Finding[];
  /** What is found over all frames, and against the version before. */
  overall?: Finding[];
  channels: number;
  compression: string;
  hasPicture: boolean;
  /** Names of its other passes; absent of versions that were read before this was kept. */
  passes?: string[];
}

export interface Version {
  id: string;
  number: number;
  source: 'import' | 'render';
  state: VersionState;
  unfinished: Unfinished;
  /** How many snapshots of frames that are not finished it has had. */
  snapshot: number;
  problem: string | null;
  width: number | null;
  height: number | null;
  summary: VersionSummary | null;
  /** Wishes of the plan it was rendered by, with the picks that serve them here. */
  wishes: { id: string; words: string; picks: MemberPick[] }[] | null;
  created: string;
  files: StoredFile[];
  /** What the artist knows better than the files tell. */
  interpretation: Interpretation;
}

export type Shot = ShotCard & { versions: Version[] };

export type JobKindName =
  | 'ingest'
  | 'scene'
  | 'render'
  | 'probe'
  | 'export'
  | 'prepare'
  | 'mend'
  | 'check'
  | 'parcel'
  | 'place';

/** What one looks at in a frame while it is rendered. */
export interface RenderAttention {
  /** In pixels; all of the picture where it is missing. */
  area?: { x0: number; y0: number; x1: number; y1: number };
  /** Id of the pass of the plan that is shown in place of the picture. */
  pass?: string;
}

export interface Job {
  id: string;
  kind: JobKindName;
  shot_id: string;
  version_id: string | null;
  state: JobState;
  /** 0 to 1. */
  progress: number;
  message: string;
  /** Exports: the file. Mendings: the files that were taken out, and those that took their places. */
  result: { fileId?: string; name?: string; size?: number; retired?: string[]; added?: string[] } | null;
  /** Renders: the frame, how many looks at it there were, and whether it shall end with what there is. */
  frame: number | null;
  look: number;
  keep: boolean;
  /** Renders: how many snapshots there were, and what one looks at while they run. */
  snapshot: number;
  attention: RenderAttention | null;
  created: string;
  started: string | null;
  ended: string | null;
}

/** A document of a shot with its place in the history. */
export interface HistoryState<T> {
  /** Rises with every edit, undo and redo. */
  revision: number;
  body: T;
  /** What undo and redo would take back or do again; absent where there is nothing. */
  undo?: string;
  redo?: string;
}

/** A step of a document's history. */
export interface HistoryStep {
  step: number;
  /** What it did, in words. */
  label: string;
  created: string;
}
/** The newest steps of a history, the newest first, and the one that the document is at; 0 is before the first. */
export interface HistorySteps {
  at: number;
  steps: HistoryStep[];
}

/** A state of a document that was given a name. */
export interface NamedState {
  id: string;
  name: string;
  created: string;
}

/** The documents of a shot that are edited with undo. */
export interface Documents {
  changes: ChangeList;
  plan: Plan;
  parcels: ParcelList;
}

/** A shot's scene as it is kept. */
export interface StoredScene {
  files: { id: string; name: string; size: number; role: string }[];
  outline: SceneOutline | null;
  /** Why the scene cannot be used, in plain words. */
  problem: string | null;
}

export type RenderJob = Pick<
  Job,
  'id' | 'state' | 'progress' | 'message' | 'frame' | 'look' | 'snapshot' | 'started' | 'ended'
> & {
  /** Which part of a still it renders, from 1, where several workers share one. */
  part: number | null;
};

/** What is known for estimating a shot's renders. */
export interface Figures {
  measured: Measured[];
  /** Threads that a frame is rendered with. */
  threads: number;
  /** Bytes of a frame's sums that are kept at most, and of memory that a render may take. */
  sumsLimit: number;
  memory: number;
}

/** A render as the Render stage lists it: a version, its jobs, and what it cost. */
export interface Render {
  versionId: string;
  number: number;
  state: VersionState;
  unfinished: Unfinished;
  snapshot: number;
  problem: string | null;
  created: string;
  request: RenderRequest | null;
  plan: Plan | null;
  measured: (Measured & { frame: number })[];
  /** Bytes that are kept so that samples can be added; 0 where they cannot. */
  sums: number;
  jobs: RenderJob[];
}

/** What an export is asked for. */
export interface ExportInput {
  /** A kind from the core's registry. */
  kind: string;
  /** The change that is meant, for kinds of one change. */
  changeId?: string;
  /** File name without ending. */
  name: string;
  /** The frame; the first one by default. */
  frame?: number;
  /** Id of a variant of the list; otherwise the list as it is. */
  variant?: string;
  /** The list as it was when the export was asked for: later edits do not change what is being written. */
  list: ChangeList;
}

/** Parcels that were made together. */
export interface ParcelRun {
  id: string;
  versionId: string;
  version: number;
  created: string;
  ended: string | null;
  parcels: { id: string; title: string; folder: string }[];
  /** Jobs in all, those that are done, how far all are together, and what those that failed say. */
  jobs: number;
  done: number;
  progress: number;
  failed: { frame: number | null; parcel: string; message: string }[];
  /** Files that are there; those that were taken from an earlier run; bytes in all. */
  files: number;
  reused: number;
  size: number;
  /** Of what goes into folders. */
  placed: { state: JobState; message: string } | null;
}
/** A file of a run, and what it is against the run before. */
export interface ParcelRunFile {
  parcel: string;
  variant: string;
  frame: number | null;
  name: string;
  fileId: string | null;
  size: number;
  sha256: string;
  reused: boolean;
  against: 'new' | 'changed' | 'same';
}
/** What is known of a parcel before it is made. */
export interface ParcelCheck {
  parcel: string;
  /** Names of its files, as far as they are known; not all of very many. */
  names: string[];
  /** Files in all, frames that have to be made, and those whose files are there already. */
  files: number;
  toMake: number;
  unchanged: number;
  /** Estimates. */
  bytes: number;
  seconds: number | null;
  /** What stands against it, and what should be known. */
  faults: string[];
  notes: string[];
}

/** In which frames the members of an ID layer appear, by ID. */
export interface Appearances {
  frames: number[];
  /** Those that have been read beforehand; of others nothing is known yet. */
  known: number[];
  members: Record<number, number[]>;
}

/** Where a file is known from that was dropped again. */
export interface KnownFile {
  shotId: string;
  shot: string;
  version: number;
  name: string;
}

/** A file on the server's machine that can be brought in. */
export interface FolderFile {
  /** With its folders, from the one that was asked for. */
  path: string;
  size: number;
}

/** A folder on the server's machine: the folders in it, and all files under it. */
export interface FolderListing {
  /** Null for the list of those that are allowed. */
  path: string | null;
  folders: string[];
  files: FolderFile[];
}

/** How full the disk of the data is. */
export interface DiskState {
  /** Bytes. */
  free: number;
  low: boolean;
}

/**
 * What is sent to browsers, by event: a job that changed or is not there any more, a shot that changed, the disk filling
 * or having room again, or that events may have been missed.
 */
export interface EventData {
  job: Job;
  'job-gone': { id: string };
  shot: { id: string };
  disk: DiskState;
  missed: object;
}
export type ServerEvent = { [E in keyof EventData]: { event: E; data: EventData[E] } }[keyof EventData];

/** What the passes of another shot were said to be. */
export interface KnownRoles {
  shot: string;
  version: number;
  roles: NonNullable<Interpretation['roles']>;
}
