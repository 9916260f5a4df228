import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { runProgram } from '../src/program.ts';

/** What a call of the command line has printed, and its exit code. */
interface Call {
  code: number;
  out: string;
  err: string;
}

/** Calls the command line within this process: what it prints is caught until it has ended. */
async function callHere(args: readonly string[]): Promise<Call> {
  const call: Call = { code: 0, out: '', err: '' };
  const catching = (stream: NodeJS.WriteStream, key: 'out' | 'err') => {
    const own = stream.write.bind(stream);
    stream.write = (text: string | Uint8Array) => {
      call[key] += typeof text === 'string' ? text : Buffer.from(text).toString();
      return true;
    };
    return () => void (stream.write = own);
  };
  const restore = [catching(process.stdout, 'out'), catching(process.stderr, 'err')];
  try {
    call.code = await runProgram(args);
  } finally {
    restore.forEach((back) => back());
  }
  return call;
}

/** Calls it as a program of its own, as a user does: slow, so only where starting is part of what is tested. */
function callApart(args: readonly string[]): Call {
  const program = fileURLToPath(new URL('../bin/zesty-crow.mjs', import.meta.url));
  const { status, stdout, stderr } = spawnSync(program, args, { encoding: 'utf8', maxBuffer: 1 << 26 });
  return { code: status ?? -1, out: stdout, err: stderr };
}

const sound = ({ code, out, err }: Call): string => {
  if (code !== 0) throw new Error(`The call failed with code ${code}: ${err}`);
  return out;
};
const failing = ({ code, err }: Call): string => {
  expect(code).toBe(1);
  expect(err.trim().split('\n')).toHaveLength(1);
  return err.trim();
};

/** What a call that must succeed prints. */
export const run = async (...args: string[]): Promise<string> => sound(await callHere(args));
/** The one line of a call that must fail. */
export const fail = async (...args: string[]): Promise<string> => failing(await callHere(args));
/** The exit code of a call, and what it prints on standard error. */
export const outcome = async (...args: string[]): Promise<{ code: number; err: string }> => {
  const { code, err } = await callHere(args);
  return { code, err: err.trim() };
};
/** What a call prints on standard error. */
export const notes = async (...args: string[]): Promise<string> => (await callHere(args)).err;
/** The same as {@link run} and {@link fail} of a program that is started. */
export const start = (...args: string[]): string => sound(callApart(args));
export const startFailing = (...args: string[]): string => failing(callApart(args));
