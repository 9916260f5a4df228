// Where the PostgreSQL cluster of a data folder lies, and whose it is. A cluster is never deleted here.
import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import {
  chmodSync,
  chownSync,
  closeSync,
  existsSync,
  fsyncSync,
  lstatSync,
  mkdirSync,
  openSync,
  readFileSync,
  readdirSync,
  readlinkSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  unlinkSync,
  writeFileSync,
} from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { run, say, StartError } from './steps.mjs';

/** PostgreSQL's superuser, and the database in the cluster. */
export const DATABASE = 'zesty_crow';
const USER = 'zestycrow';
/** Where clusters lie whose data folder is closed to other users. */
const ELSEWHERE = '/var/lib/zesty-crow';
/** In a cluster: the data folder that it belongs to, and its password. */
const RECORD = 'zesty-crow.json';
/** In a data folder: port and password. */
const SECRETS = 'database.json';

/** PostgreSQL refuses to run as root, so root lends it an unprivileged system user. */
export function owner() {
  if (process.getuid() !== 0) return undefined;
  const id = () => {
    const found = spawnSync('getent', ['passwd', USER], { encoding: 'utf8' }).stdout.split(':');
    return found.length > 3 ? { uid: Number(found[2]), gid: Number(found[3]) } : undefined;
  };
  if (!id())
    run('useradd', ['--system', '--no-create-home', '--shell', '/usr/sbin/nologin', '--user-group', USER]);
  return id();
}

const read = (path) => {
  try {
    return JSON.parse(readFileSync(path, 'utf8'));
  } catch {
    return undefined;
  }
};
const holdsCluster = (folder) => existsSync(join(folder, 'PG_VERSION'));

/** Makes sure that what was written to a file or folder is on the disk. */
function sync(path) {
  const at = openSync(path, 'r');
  fsyncSync(at);
  closeSync(at);
}

/** Writes a file aside, syncs it and renames it: it is there whole or not at all. */
function writeWhole(path, value) {
  writeFileSync(`${path}.new`, JSON.stringify(value), { mode: 0o600 });
  sync(`${path}.new`);
  renameSync(`${path}.new`, path);
  sync(dirname(path));
}

/** True if every folder above lets other users through. */
function reachable(folder) {
  for (let at = folder; at !== dirname(at); at = dirname(at)) if (!(statSync(at).mode & 0o001)) return false;
  return true;
}

/** A place below {@link ELSEWHERE} that no cluster has or had. */
function newPlace() {
  mkdirSync(ELSEWHERE, { recursive: true });
  chmodSync(ELSEWHERE, 0o755);
  return join(ELSEWHERE, randomBytes(8).toString('hex'));
}

/** Where a data folder's cluster is found: in it, or, by a link in it, elsewhere. The folder itself may not be there. */
function placeOf(root, user) {
  const link = join(root, 'postgres');
  const present = lstatSync(link, { throwIfNoEntry: false });
  if (present?.isSymbolicLink()) return readlinkSync(link);
  if (!user || reachable(root)) return link;
  const target = newPlace();
  if (present) {
    say(
      'The data folder is closed to other users now; its database moves to where its own user can reach it',
    );
    run('mv', ['-T', link, target]);
  }
  symlinkSync(target, link);
  return target;
}

/**
 * Whose a cluster outside of its data folder is. A data folder that was moved takes its cluster along; a copy of it must
 * not work on the original's.
 * @throws StartError for a copy
 */
function claim(root, folder) {
  const { home } = read(join(folder, RECORD)) ?? {};
  const at = realpathSync(root);
  if (home === undefined || home === at) return;
  const there = join(home, 'postgres');
  if (lstatSync(there, { throwIfNoEntry: false })?.isSymbolicLink() && readlinkSync(there) === folder)
    throw new StartError(
      `${at} is a copy of ${home}, and the database of both is the one of ${home}. Nothing was changed. ` +
        `To copy an installation, make a backup of it (in its place: npm run backup FILE) and restore that ` +
        `(ZESTY_CROW_DATA=… npm run restore FILE). To go on in this place instead, delete ${home}.`,
    );
  say(`This data folder was moved here from ${home}; its database goes with it`);
}

/** Gives files back that were copied by somebody else: PostgreSQL only takes its own. */
function mendOwner(folder, user) {
  const wanted = user ?? { uid: process.getuid(), gid: process.getgid() };
  const looked = ['.', 'PG_VERSION', 'base', 'global/pg_control'].map((name) => join(folder, name));
  const foreign = looked.some((path) => existsSync(path) && statSync(path).uid !== wanted.uid);
  if (foreign && !user)
    throw new StartError(
      `The database in ${folder} belongs to another user. Start as that one, or give it to yourself: ` +
        `sudo chown -R ${wanted.uid}:${wanted.gid} ${folder}`,
    );
  if (foreign) {
    say(
      `The files of the database belonged to another user, as after a copy; they are given back to ${USER}`,
    );
    run('chown', ['-R', `${user.uid}:${user.gid}`, folder]);
  }
  if (statSync(folder).mode & 0o077) chmodSync(folder, 0o700);
}

/**
 * Makes the cluster aside and puts it into its place last, so that a start that is killed at any moment leaves nothing
 * that stops the next one.
 */
function makeCluster(programs, root, folder, user) {
  say('Making the database');
  // A name of its own for each attempt: the program that a killed start has begun may still be writing into the last.
  const aside = `${folder}.new-${process.pid}`;
  for (const name of readdirSync(dirname(folder)).filter((n) => n.startsWith(`${basename(folder)}.new-`)))
    try {
      rmSync(join(dirname(folder), name), { recursive: true, force: true });
    } catch {
      // It is written to at this moment; the next first start sweeps it up.
    }
  mkdirSync(aside, { recursive: true, mode: 0o700 });
  if (user) chownSync(aside, user.uid, user.gid);
  const password = randomBytes(24).toString('hex');
  const handed = join(tmpdir(), `zesty-crow-${randomBytes(6).toString('hex')}`);
  writeFileSync(handed, password, { mode: 0o600 });
  if (user) chownSync(handed, user.uid, user.gid);
  try {
    // It syncs what it has written.
    run(
      join(programs, 'initdb'),
      [
        ...['-D', aside, '-U', DATABASE, '-E', 'UTF8', '--locale=C.UTF-8'],
        ...['--auth=scram-sha-256', `--pwfile=${handed}`],
      ],
      { ...(user ?? {}), cwd: '/' },
    );
  } finally {
    rmSync(handed, { force: true });
  }
  writeWhole(join(aside, RECORD), { home: realpathSync(root), password });
  // What stands in the way is no cluster, but it is somebody's.
  if (existsSync(folder)) renameSync(folder, `${folder}.found-${Date.now()}`);
  renameSync(aside, folder);
  sync(dirname(folder));
}

export const freePort = () =>
  new Promise((resolve, reject) => {
    const probe = createServer();
    probe.on('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });

/** What is needed to reach the database of a data folder that is in use; undefined if none was made there. */
export function knownCluster(root) {
  const link = join(root, 'postgres');
  const kept = read(join(root, SECRETS));
  return kept && existsSync(link) ? { folder: realpathSync(link), ...kept } : undefined;
}

/** Notes that a cluster belongs to a data folder from now on: after both were put into their places. */
export function settle(root) {
  const folder = realpathSync(join(root, 'postgres'));
  writeWhole(join(folder, RECORD), { ...read(join(folder, RECORD)), home: realpathSync(root) });
}

/** Deletes a data folder that this process has made, with its cluster wherever that lies. */
export function discard(root) {
  const link = join(root, 'postgres');
  if (existsSync(link)) rmSync(realpathSync(link), { recursive: true, force: true });
  rmSync(root, { recursive: true, force: true });
}

/** Writes down at which port the cluster of a data folder answers. */
export const keepPort = (root, port, password) => writeWhole(join(root, SECRETS), { port, password });

/**
 * The cluster of a data folder, which is made if there is none.
 * @returns its folder, its password, and the port at which it answered last
 * @throws StartError if it may not be used in this place, or is gone
 */
export async function clusterOf(root, programs, user) {
  const folder = placeOf(root, user);
  if (!holdsCluster(folder)) {
    const begun = readdirSync(existsSync(dirname(folder)) ? dirname(folder) : root).some((name) =>
      name.startsWith(`${basename(folder)}.new-`),
    );
    if (existsSync(join(root, SECRETS)) && !begun)
      throw new StartError(
        `The database of ${root} is not where it was: ${folder}. If the folder was brought here from another machine, ` +
          `bring that folder, too, or restore a backup into an empty folder (ZESTY_CROW_DATA=… npm run restore FILE). ` +
          `To begin anew without it, delete ${join(root, SECRETS)}${lstatSync(join(root, 'postgres'), { throwIfNoEntry: false }) ? ` and ${join(root, 'postgres')}` : ''}.`,
      );
    makeCluster(programs, root, folder, user);
  }
  const outside = lstatSync(join(root, 'postgres')).isSymbolicLink();
  if (outside) claim(root, folder);
  mendOwner(folder, user);
  const record = read(join(folder, RECORD));
  const kept = read(join(root, SECRETS));
  // The one that it was made with.
  const password = record?.password ?? kept?.password;
  if (!password)
    throw new StartError(
      `The password of the database is gone: ${join(root, SECRETS)} is missing or damaged. Put it back from a backup of that file.`,
    );
  const home = realpathSync(root);
  if (record?.home !== home || record.password !== password)
    writeWhole(join(folder, RECORD), { home, password });
  const port = kept?.port ?? (await freePort());
  if (kept?.port !== port || kept.password !== password) keepPort(root, port, password);
  return { folder, password, port };
}

/** Whether a process runs PostgreSQL, by Linux's tables: numbers of processes are given again. */
function isPostgres(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('postgres');
  } catch {
    return false;
  }
}

/**
 * Takes the mark of a running database off a cluster if it names a process of somebody else, which must not be ended: that of
 * the original, where the cluster was copied while it ran, or one that was given the number of a database that was killed.
 */
export function dropForeignMark(folder) {
  const path = join(folder, 'postmaster.pid');
  if (!existsSync(path)) return;
  const [pid, at] = readFileSync(path, 'utf8').split('\n');
  if (existsSync('/proc/self') && !isPostgres(pid)) return unlinkSync(path);
  if (!at || !existsSync(at) || realpathSync(at) === realpathSync(folder)) return;
  const original = join(at, 'postmaster.pid');
  if (existsSync(original) && readFileSync(original, 'utf8').split('\n')[0] === pid) unlinkSync(path);
}
