import { sampledColumns } from '../layout.ts';
import { BYTES_PER_SAMPLE, type ChannelInfo } from '../types.ts';
import type { BlockLayout } from './compression.ts';

/** The part of a channel that a block holds. */
export interface BlockPlane {
  channel: ChannelInfo;
  columns: number;
  rows: number;
  /** Bytes of a row. */
  rowBytes: number;
  bytes: number;
  /** Where each row begins in the block's raw bytes. */
  starts: number[];
}

/** Where the rows of every channel lie in a block: line by line, in each line channel by channel. */
export function blockPlanes({ channels, dataWindow, yFirst, yLast }: BlockLayout): BlockPlane[] {
  const planes = channels.map((channel): BlockPlane => {
    const columns = sampledColumns(channel, dataWindow);
    const rowBytes = columns * BYTES_PER_SAMPLE[channel.type];
    return { channel, columns, rows: 0, rowBytes, bytes: 0, starts: [] };
  });
  let at = 0;
  for (let y = yFirst; y <= yLast; y++)
    for (const p of planes) {
      if (y % p.channel.ySampling !== 0) continue;
      p.starts.push(at);
      at += p.rowBytes;
      p.rows++;
      p.bytes += p.rowBytes;
    }
  return planes;
}
