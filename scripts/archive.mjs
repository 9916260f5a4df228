// The file of a backup: a tar of the database's dump and of what is known of that, with its sum.
import { createHash } from 'node:crypto';
import { closeSync, fsyncSync, openSync, readSync, writeSync } from 'node:fs';
import { finished } from 'node:stream/promises';
import { StartError } from './steps.mjs';

const BLOCK = 512;
const DUMP = 'database.dump';
const FACTS = 'backup.json';
const FORMAT = 'zesty-crow/backup';
/** Read at once. */
const PART = 1 << 20;

const padded = (size) => Math.ceil(size / BLOCK) * BLOCK;

/** A header of ustar (POSIX.1-1988); sizes from 8 GiB on are binary, as GNU tar writes them and all read them. */
function header(name, size) {
  const block = Buffer.alloc(BLOCK);
  block.write(name, 0);
  block.write('0000600\0', 100);
  block.write('0000000\0', 108);
  block.write('0000000\0', 116);
  if (size < 8 ** 11) block.write(`${size.toString(8).padStart(11, '0')}\0`, 124);
  else {
    block[124] = 0x80;
    block.writeBigUInt64BE(BigInt(size), 128);
  }
  block.write(
    `${Math.floor(Date.now() / 1000)
      .toString(8)
      .padStart(11, '0')}\0`,
    136,
  );
  block.write('        0', 148);
  block.write('ustar\x0000', 257);
  const sum = block.reduce((a, b) => a + b, 0);
  block.write(`${sum.toString(8).padStart(6, '0')}\0 `, 148);
  return block;
}

function entryAt(file, at) {
  const block = Buffer.alloc(BLOCK);
  if (readSync(file, block, 0, BLOCK, at) < BLOCK || block.toString('latin1', 257, 262) !== 'ustar')
    return undefined;
  const name = block.toString('utf8', 0, block.indexOf(0));
  const size =
    block[124] & 0x80 ? Number(block.readBigUInt64BE(128)) : parseInt(block.toString('latin1', 124, 135), 8);
  return { name, size, from: at + BLOCK };
}

/** Calls `use` with the bytes of a part of a file, in order. */
async function eachPart(file, from, size, use) {
  const part = Buffer.alloc(PART);
  for (let at = 0; at < size;) {
    const got = readSync(file, part, 0, Math.min(PART, size - at), from + at);
    if (got === 0) break;
    await use(part.subarray(0, got));
    at += got;
  }
}

/** The sum of a part of a file. */
async function sumOf(file, from, size) {
  const hash = createHash('sha256');
  await eachPart(file, from, size, (bytes) => void hash.update(bytes));
  return hash.digest('hex');
}

/**
 * Writes a dump to a new file as it comes, then reads it again.
 * @param dump a stream
 * @param facts what else is to be kept with it
 * @param told called with the bytes that are written
 * @throws StartError if what is read again is not what came
 */
export async function writeBackup(path, dump, facts, told) {
  const file = openSync(path, 'wx+', 0o600);
  try {
    const hash = createHash('sha256');
    let size = 0;
    const put = (bytes, at) => {
      for (let done = 0; done < bytes.length;)
        done += writeSync(file, bytes, done, bytes.length - done, at + done);
    };
    for await (const bytes of dump) {
      hash.update(bytes);
      put(bytes, BLOCK + size);
      size += bytes.length;
      told(size);
    }
    const sha256 = hash.digest('hex');
    put(header(DUMP, size), 0);
    const known = Buffer.from(
      JSON.stringify({ format: FORMAT, version: 1, ...facts, size, sha256 }, null, 2),
    );
    const after = BLOCK + padded(size);
    put(header(FACTS, known.length), after);
    put(known, after + BLOCK);
    // A tar ends with two empty blocks.
    put(Buffer.alloc(padded(known.length) - known.length + 2 * BLOCK), after + BLOCK + known.length);
    fsyncSync(file);
    if ((await sumOf(file, BLOCK, size)) !== sha256)
      throw new StartError(
        'What was written is not what is read again: the disk may be failing. Choose another one.',
      );
    return { size, sha256 };
  } finally {
    closeSync(file);
  }
}

/**
 * Opens a backup and checks its sum.
 * @returns what is known of it, and how to have its dump written into a stream
 * @throws StartError if it is none, or damaged
 */
export async function openBackup(path) {
  let file;
  try {
    file = openSync(path, 'r');
  } catch (error) {
    throw new StartError(`${path} cannot be read (${error.code}).`);
  }
  const dump = entryAt(file, 0);
  const after = dump?.name === DUMP ? entryAt(file, dump.from + padded(dump.size)) : undefined;
  let facts;
  if (after?.name === FACTS && after.size < PART) {
    const text = Buffer.alloc(after.size);
    readSync(file, text, 0, after.size, after.from);
    try {
      facts = JSON.parse(text.toString('utf8'));
    } catch {
      // Told below.
    }
  }
  const damaged = (what) => {
    closeSync(file);
    return new StartError(`${path} ${what} Nothing was changed.`);
  };
  if (dump?.name !== DUMP) throw damaged('is no backup of Zesty Crow.');
  if (facts?.format !== FORMAT) throw damaged('is damaged: its end is missing. Use another backup.');
  if (facts.version !== 1)
    throw damaged('was written by a newer version of Zesty Crow. Restore it with that.');
  if (facts.size !== dump.size || (await sumOf(file, dump.from, dump.size)) !== facts.sha256)
    throw damaged('is damaged: its sum is not the one that was written down. Use another backup.');
  return {
    facts,
    async into(stream) {
      await eachPart(file, dump.from, dump.size, async (bytes) => {
        // The stream may keep what it is given.
        if (!stream.write(Buffer.from(bytes))) await new Promise((resolve) => stream.once('drain', resolve));
      });
      stream.end();
      await finished(stream, { readable: false });
      closeSync(file);
    },
  };
}
