import { totalmem } from 'node:os';
import { delimiter } from 'node:path';
import { fileURLToPath } from 'node:url';
import { HOUSE } from './place.ts';

/** Everything about the server that can be set from outside, with its default. */
const number = (name: string, fallback: number, low: number, high: number): number => {
  const text = process.env[name];
  if (text === undefined || text === '') return fallback;
  const value = Number(text);
  if (!Number.isFinite(value) || value < low || value > high)
    throw new Error(`${name} is "${text}"; it must be a number from ${low} to ${high}.`);
  return value;
};
const MB = 2 ** 20;

export interface Settings {
  /** PostgreSQL connection string. */
  database: string;
  port: number;
  /** Largest file that is taken, in bytes. */
  uploadLimit: number;
  /** Threads that one render uses; 0 for all cores. */
  renderThreads: number;
  /** Resident memory that one job may take, in bytes. */
  jobMemory: number;
  /** Seconds that a worker may be silent before its jobs are taken up by others. */
  jobPatience: number;
  /** Memory that opening one frame may need by its header, in bytes; more is refused before it is taken. */
  pictureMemory: number;
  /** Bytes that what is prepared for opening may take in all; the oldest goes first. */
  preparedLimit: number;
  /** Bytes that the sums of one frame may take, which are kept so that samples can be added; 0 keeps none. */
  sumsLimit: number;
  /** Milliseconds after which a transfer that does not move is ended. */
  transferIdle: number;
  /** Free bytes on the disk of the data below which people are warned. */
  diskLow: number;
  /** Folders on this machine from which files may be brought in without sending them. */
  folders: string[];
  /** Folders on this machine into which parcels may be put; none by default. */
  handOver: string[];
  /** Folder of the shots that a new database begins with; see demo/shots-file.ts. */
  demoFolder: string;
  /** A folder on the disk that is watched. */
  dataFolder: string;
}

/** Reads the settings from the environment; throws with a plain message if one is unusable. */
export function readSettings(): Settings {
  const database = process.env['DATABASE_URL'];
  if (!database)
    throw new Error('DATABASE_URL is not set. Start with "npm start", which sets up a database.');
  const jobMemory = number('JOB_MEMORY_MB', (totalmem() * 0.6) / MB, 256, 1e7) * MB;
  return {
    database,
    port: number('PORT', 4600, 0, 65535),
    uploadLimit: number('UPLOAD_LIMIT_MB', 4096, 1, 1e6) * MB,
    renderThreads: number('RENDER_THREADS', 0, 0, 256),
    jobMemory,
    jobPatience: number('JOB_PATIENCE_SECONDS', 20, 2, 3600),
    pictureMemory: number('PICTURE_MEMORY_MB', (jobMemory * 0.6) / MB, 16, 1e7) * MB,
    preparedLimit: number('PREPARED_MB', 4096, 0, 1e7) * MB,
    sumsLimit: number('SUMS_MB', 256, 0, 1e6) * MB,
    transferIdle: number('TRANSFER_IDLE_SECONDS', 60, 1, 86_400) * 1000,
    diskLow: number('DISK_LOW_MB', 2048, 0, 1e7) * MB,
    folders: (process.env['ZESTY_CROW_FOLDERS'] ?? '').split(delimiter).filter((p) => p !== ''),
    handOver: (process.env['ZESTY_CROW_HAND_OVER'] ?? '').split(delimiter).filter((p) => p !== ''),
    demoFolder: process.env['DEMO_FOLDER'] ?? fileURLToPath(new URL('demo/files', HOUSE)),
    dataFolder: process.env['ZESTY_CROW_DATA'] ?? '.',
  };
}
