/** PostgreSQL's binary COPY format, for rows of (uuid, integer, bytea) in and single bytea columns out. */
import { Transform, type TransformCallback } from 'node:stream';

const SIGNATURE = Buffer.from('PGCOPY\n\xff\r\n\0', 'latin1');
const HEADER = Buffer.concat([SIGNATURE, Buffer.alloc(8)]);
const TRAILER = Buffer.from([0xff, 0xff]);
/** Bytes in a stored chunk. */
export const CHUNK = 512 * 1024;

/** Cuts a byte stream into chunks and wraps each as a row of `file_chunk`. Counts what passes. */
export class ChunkRows extends Transform {
  private held: Buffer[] = [];
  private heldBytes = 0;
  private number = 0;
  private readonly fileId: Buffer;

  constructor(fileId: string) {
    super({ highWaterMark: 2 * CHUNK });
    this.fileId = Buffer.from(fileId.replaceAll('-', ''), 'hex');
    this.push(HEADER);
  }

  private row(bytes: Buffer): Buffer {
    const head = Buffer.alloc(2 + 4 + 16 + 4 + 4 + 4);
    head.writeInt16BE(3, 0);
    head.writeInt32BE(16, 2);
    this.fileId.copy(head, 6);
    head.writeInt32BE(4, 22);
    head.writeInt32BE(this.number++, 26);
    head.writeInt32BE(bytes.length, 30);
    return Buffer.concat([head, bytes]);
  }

  override _transform(part: Buffer, _encoding: BufferEncoding, done: TransformCallback): void {
    this.held.push(part);
    this.heldBytes += part.length;
    if (this.heldBytes >= CHUNK) {
      let all = Buffer.concat(this.held);
      while (all.length >= CHUNK) {
        this.push(this.row(all.subarray(0, CHUNK)));
        all = all.subarray(CHUNK);
      }
      this.held = all.length ? [all] : [];
      this.heldBytes = all.length;
    }
    done();
  }

  override _flush(done: TransformCallback): void {
    if (this.heldBytes) this.push(this.row(Buffer.concat(this.held)));
    this.push(TRAILER);
    done();
  }
}

/** Takes the single bytea column out of the rows of a binary COPY. */
export class RowBytes extends Transform {
  private rest: Buffer = Buffer.alloc(0);
  private headed = false;
  /** Bytes of the current value that are still to come. */
  private left = 0;
  private ended = false;

  override _transform(part: Buffer, _encoding: BufferEncoding, done: TransformCallback): void {
    let data = this.rest.length ? Buffer.concat([this.rest, part]) : part;
    let at = 0;
    if (!this.headed) {
      if (data.length < HEADER.length) {
        this.rest = data;
        return done();
      }
      at = HEADER.length + data.readInt32BE(15);
      this.headed = true;
    }
    for (;;) {
      if (this.left > 0) {
        const take = Math.min(this.left, data.length - at);
        if (take > 0) this.push(data.subarray(at, at + take));
        at += take;
        this.left -= take;
        if (this.left > 0) break;
      }
      if (this.ended || data.length - at < 2) break;
      if (data.readInt16BE(at) === -1) {
        this.ended = true;
        at += 2;
        break;
      }
      if (data.length - at < 6) break;
      this.left = data.readInt32BE(at + 2);
      at += 6;
    }
    data = data.subarray(at);
    this.rest = data.length ? Buffer.from(data) : Buffer.alloc(0);
    done();
  }

  override _flush(done: TransformCallback): void {
    done(this.ended ? null : new Error('The database ended the file too early.'));
  }
}
