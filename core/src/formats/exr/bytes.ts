import { ExrError } from './errors.ts';

const utf8 = new TextDecoder();

/** Little-endian cursor over a file; every read is checked against the end first. */
export class ByteReader {
  private readonly view: DataView;
  constructor(
    readonly bytes: Uint8Array,
    public at = 0,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  private need(count: number, what: string): void {
    if (count < 0 || this.at + count > this.bytes.length)
      throw new ExrError('truncated', `The file ends in the middle of ${what} (byte ${this.at}).`);
  }
  u8(what: string): number {
    this.need(1, what);
    return this.bytes[this.at++]!;
  }
  i32(what: string): number {
    this.need(4, what);
    const v = this.view.getInt32(this.at, true);
    this.at += 4;
    return v;
  }
  u32(what: string): number {
    return this.i32(what) >>> 0;
  }
  f32(what: string): number {
    this.need(4, what);
    const v = this.view.getFloat32(this.at, true);
    this.at += 4;
    return v;
  }
  /** A 64-bit offset as a number; NaN-free: offsets past 2^53 are clamped to Infinity and fail later checks. */
  u64(what: string): number {
    const low = this.u32(what);
    const high = this.u32(what);
    return high > 0x1fffff ? Infinity : high * 4294967296 + low;
  }
  take(count: number, what: string): Uint8Array {
    this.need(count, what);
    const part = this.bytes.subarray(this.at, this.at + count);
    this.at += count;
    return part;
  }
  /** Text up to a zero byte, at most `limit` bytes long. */
  text(limit: number, what: string): string {
    const end = Math.min(this.bytes.length, this.at + limit + 1);
    let stop = this.at;
    while (stop < end && this.bytes[stop] !== 0) stop++;
    if (stop === end)
      throw new ExrError(
        end === this.bytes.length ? 'truncated' : 'damaged',
        `The header has ${what} without an end.`,
      );
    // A copy: text is not decoded from shared memory.
    const value = utf8.decode(this.bytes.slice(this.at, stop));
    this.at = stop + 1;
    return value;
  }
}

/** Little-endian writer that grows as it is written to. */
export class ByteWriter {
  private buffer = new Uint8Array(4096);
  private view = new DataView(this.buffer.buffer);
  length = 0;

  private room(count: number): void {
    if (this.length + count <= this.buffer.length) return;
    const next = new Uint8Array(Math.max(this.buffer.length * 2, this.length + count));
    next.set(this.buffer.subarray(0, this.length));
    this.buffer = next;
    this.view = new DataView(next.buffer);
  }
  u8(v: number): this {
    this.room(1);
    this.buffer[this.length++] = v;
    return this;
  }
  i32(v: number): this {
    this.room(4);
    this.view.setInt32(this.length, v, true);
    this.length += 4;
    return this;
  }
  f32(v: number): this {
    this.room(4);
    this.view.setFloat32(this.length, v, true);
    this.length += 4;
    return this;
  }
  raw(bytes: Uint8Array): this {
    this.room(bytes.length);
    this.buffer.set(bytes, this.length);
    this.length += bytes.length;
    return this;
  }
  text(value: string): this {
    return this.raw(new TextEncoder().encode(value)).u8(0);
  }
  done(): Uint8Array {
    return this.buffer.slice(0, this.length);
  }
}
