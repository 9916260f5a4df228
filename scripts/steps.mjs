// Plain JavaScript, because it runs before anything is installed.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync, writeFileSync, mkdirSync, statSync, readdirSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { dirname, join, resolve } from 'node:path';

/** The repository's folder. */
export const HOUSE = fileURLToPath(new URL('..', import.meta.url)).replace(/\/$/, '');

export const say = (text) => console.log(text);

/** Ends with a message for people instead of a stack. */
export class StartError extends Error {}

/** Faults of the machine in words that say what to do. */
const IN_WORDS = {
  ENOSPC: 'The disk is full. Make room, then start again.',
  EDQUOT: 'The disk is full for this user. Make room, then start again.',
  EROFS:
    'The disk is read-only, and the data of Zesty Crow must be written. Choose another folder: ZESTY_CROW_DATA=… npm start',
  EACCES:
    'The data of Zesty Crow may not be written here. Choose another folder: ZESTY_CROW_DATA=… npm start',
};

/** What went wrong, for people; programs that are run here tell faults of the machine in words of their own. */
export function inWords(error) {
  const text = String(error?.message ?? error);
  if (/No space left on device/.test(text)) return IN_WORDS.ENOSPC;
  if (/Read-only file system/.test(text)) return IN_WORDS.EROFS;
  return IN_WORDS[error?.code] ?? (error instanceof StartError ? text : (error?.stack ?? text));
}

/** Runs a command to its end; throws with the end of its output if it fails. */
export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { encoding: 'utf8', maxBuffer: 1 << 26, ...options });
  if (done.error) throw new StartError(`${command} cannot be run: ${done.error.message}`);
  if (done.status !== 0) {
    const output = `${done.stdout ?? ''}${done.stderr ?? ''}`.trim().split('\n').slice(-12).join('\n');
    throw new StartError(`"${command} ${args.join(' ')}" failed:\n${output}`);
  }
  return done.stdout ?? '';
}

/** Installs Debian packages that are missing; needs root. */
export function installPackages(packages, why) {
  if (packages.length === 0) return;
  say(`Installing ${packages.join(', ')} (${why})`);
  if (process.getuid?.() !== 0)
    throw new StartError(`Please install these Debian packages, then start again: ${packages.join(' ')}`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const install = () => run('apt-get', ['install', '-y', '--no-install-recommends', ...packages], { env });
  try {
    install();
  } catch {
    run('apt-get', ['update'], { env });
    install();
  }
}

/** Packages that the workspaces need and that are not installed: somebody may have taken some away since. */
export function missingModules(house = HOUSE) {
  const packageOf = (folder) => JSON.parse(readFileSync(join(house, folder, 'package.json'), 'utf8'));
  const own = packageOf('.');
  return ['.', ...own.workspaces].flatMap((folder) => {
    const { dependencies, devDependencies } = packageOf(folder);
    return Object.keys({ ...dependencies, ...devDependencies }).filter((name) =>
      [folder, '.'].every((at) => !existsSync(join(house, at, 'node_modules', name, 'package.json'))),
    );
  });
}

/** Runs `npm ci` unless what is installed belongs to the lock file as it is. */
export function installModules() {
  const lock = createHash('sha256')
    .update(readFileSync(join(HOUSE, 'package-lock.json')))
    .digest('hex');
  const mark = join(HOUSE, 'node_modules/.zesty-crow-lock');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock && missingModules().length === 0) return;
  say('Installing packages from npm');
  run('npm', ['ci', '--no-audit', '--no-fund'], { cwd: HOUSE });
  writeFileSync(mark, lock);
}

/** Newest time of change of the files below some folders. */
function newest(folders, counts = () => true) {
  let latest = 0;
  for (const folder of folders) {
    if (!existsSync(folder)) continue;
    for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true }))
      if (entry.isFile() && counts(entry.name))
        latest = Math.max(latest, statSync(join(entry.parentPath ?? entry.path, entry.name)).mtimeMs);
  }
  return latest;
}

/** Held by the one process that builds. */
const BUILDING = join(HOUSE, 'node_modules/.zesty-crow-building');

/** No build takes so long: after that the process's number may be another one's. */
const LONGEST_BUILD_MS = 10 * 60_000;

/** Whether the process still runs that took the lock. */
function isHeld() {
  try {
    if (Date.now() - statSync(BUILDING).mtimeMs > LONGEST_BUILD_MS) return false;
    process.kill(Number(readFileSync(BUILDING, 'utf8')), 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

/**
 * Works while no other process does: several command lines that are started at once would each build, and start what
 * another one is just about to write.
 */
function alone(work) {
  for (let tries = 0; ; tries++) {
    try {
      writeFileSync(BUILDING, String(process.pid), { flag: 'wx' });
      break;
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      // Between being made and being written it is empty for a moment.
      if (tries > 0 && !isHeld()) rmSync(BUILDING, { force: true });
      else Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 100);
    }
  }
  try {
    work();
  } finally {
    rmSync(BUILDING, { force: true });
  }
}

/** Runs a build step if what it makes is older than the TypeScript files of some folders, or than the packages. */
function refresh(made, folders, work) {
  const built = join(HOUSE, made);
  if (!isStale(built, folders)) return;
  // Whoever had to wait finds it built.
  alone(() => isStale(built, folders) && work(built));
}

function isStale(built, folders) {
  const sources = Math.max(
    newest(
      folders.map((f) => join(HOUSE, f)),
      (file) => file.endsWith('.ts'),
    ),
    statSync(join(HOUSE, 'package-lock.json')).mtimeMs,
  );
  return !existsSync(built) || statSync(built).mtimeMs < sources;
}

/**
 * Builds what is made from sources beforehand. The kernels: WebAssembly as modules. The checks of stored documents: pages may not evaluate text, so their
 * schemas are compiled to a module. The programs of worker threads: threads do not inherit the TypeScript loader on
 * Node 20, and loaders that are registered in several threads at once can wait for each other for ever; a bundle needs
 * none. The command line and the server: bundled they start in a fraction of a second, through a
 * loader in several.
 */
export function buildBundles() {
  const typescript = ['--import', 'tsx'];
  refresh('core/src/kernels/generated/exr.ts', ['core/kernels', 'core/build'], () =>
    run(process.execPath, [join(HOUSE, 'core/build/kernels.mjs')], { cwd: HOUSE }),
  );
  refresh('core/src/generated/validators.mjs', ['core/src', 'core/build'], () =>
    run(process.execPath, [...typescript, join(HOUSE, 'core/build/validators.ts')], { cwd: HOUSE }),
  );
  const core = ['core/src', 'core/node'];
  for (const name of ['render-worker', 'crew-worker'])
    bundle(core, [`core/node/${name}.ts`], `core/node/generated/${name}.cjs`, ['--format=cjs']);
  bundle([...core, 'cli/src'], ['cli/src/main.ts'], 'cli/generated/main.mjs', MODULES);
  const server = ['main', 'worker', 'lane'].map((name) => `server/src/${name}.ts`);
  bundle([...core, 'server/src'], server, 'server/generated/main.mjs', ['--splitting', ...MODULES]);
}

const MODULES = [
  '--format=esm',
  '--out-extension:.js=.mjs',
  // Some packages ask for others at run time by a word that modules do not have.
  "--banner:js=import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
];

/** Bundles programs for Node with all that they import, into the folder of `made`, if any of it is newer than that. */
function bundle(folders, entries, made, options) {
  const always = [
    '--bundle',
    '--platform=node',
    '--target=node20',
    '--log-level=error',
    '--sourcemap',
    // Of what is loaded on demand, names are known only of modules.
    '--main-fields=module,main',
    // It looks for its WebAssembly beside itself.
    '--external:draco3dgltf',
  ];
  refresh(made, folders, () => {
    // Pieces of earlier ones are called otherwise, and nobody would take them away.
    if (!made.endsWith('.cjs')) rmSync(join(HOUSE, dirname(made)), { recursive: true, force: true });
    const output = made.endsWith('.cjs') ? `--outfile=${made}` : `--outdir=${dirname(made)}`;
    run(join(HOUSE, 'node_modules/esbuild/bin/esbuild'), [...entries, ...always, ...options, output], {
      cwd: HOUSE,
    });
  });
}

/** Builds the web application if its sources, or the core's, are newer than the last build. */
export function buildWeb() {
  const built = join(HOUSE, 'web/dist/index.html');
  const sources = newest([join(HOUSE, 'web/src'), join(HOUSE, 'web/public'), join(HOUSE, 'core/src')]);
  const configs = ['web/index.html', 'web/vite.config.ts', 'package-lock.json'].map(
    (f) => statSync(join(HOUSE, f)).mtimeMs,
  );
  if (existsSync(built) && statSync(built).mtimeMs >= Math.max(sources, ...configs)) return;
  say('Building the web application');
  run('npm', ['run', 'build', '-w', 'web'], { cwd: HOUSE });
}

/** The folder for everything that belongs to this installation and not to the repository. */
export function dataFolder(name = '') {
  const folder = resolve(process.env.ZESTY_CROW_DATA ?? join(HOUSE, '.data'), name);
  try {
    mkdirSync(folder, { recursive: true });
  } catch (error) {
    // Node.js tells a read-only disk as ENOENT here.
    throw new StartError(
      error.code === 'ENOSPC'
        ? 'The disk is full. Make room, then start again.'
        : `The folder for the data cannot be made: ${folder}. Is the disk read-only, or a file in its place? Choose another one: ZESTY_CROW_DATA=… npm start`,
    );
  }
  return folder;
}

/** Starts a bundled program of the server that can tell the parent when it is ready, and ends with it. */
export function startServerProgram(name, env) {
  return spawn(process.execPath, ['--enable-source-maps', join(HOUSE, `server/generated/${name}.mjs`)], {
    cwd: HOUSE,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    // Ctrl-C in the terminal reaches this process only, which then ends the others in order.
    detached: true,
  });
}
