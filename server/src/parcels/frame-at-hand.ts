import type { Frame, OpenPicture } from '@zesty-crow/core/version';
import type { Pool } from '../database/pool.ts';
import { openVersion } from '../versions/open-version.ts';
import { openable } from '../versions/versions.ts';

/** A frame that is open, with all that it holds once that was asked for. */
export interface FrameAtHand {
  frame: Frame;
  all(signal: AbortSignal): Promise<OpenPicture>;
}

/** How long a frame that nobody works on is kept. */
const KEPT_MS = 3000;
let kept: { key: string; at: Promise<FrameAtHand> } | undefined;
let leaving: NodeJS.Timeout | undefined;

const letGo = () => (kept = undefined);

function atHand(key: string, open: () => Promise<Frame>): Promise<FrameAtHand> {
  if (kept?.key === key) return kept.at;
  const at = open().then((frame): FrameAtHand => {
    let read: Promise<OpenPicture> | undefined;
    return {
      frame,
      all(signal) {
        if (read) return read;
        const own = frame.all({ signal });
        read = own;
        // What was given up, or could not be read, is read anew by the next one.
        own.catch(() => {
          if (read === own) read = undefined;
        });
        return own;
      },
    };
  });
  kept = { key, at };
  at.catch(letGo);
  return at;
}

/**
 * Works with an open frame: the one that the job before has opened, where it is the same. Parcels of a frame are made one
 * after the other, and reading it takes longer than many of them. It is let go soon after the last one.
 */
export async function withFrame<T>(
  pool: Pool,
  versionId: string,
  maxMemory: number,
  number: number | undefined,
  work: (frame: FrameAtHand) => Promise<T>,
): Promise<T> {
  const { files, interpretation } = await openable(pool, versionId);
  const key = JSON.stringify([versionId, number, files.map((f) => f.id), interpretation]);
  clearTimeout(leaving);
  try {
    return await work(await atHand(key, () => openVersion(pool, versionId, maxMemory, number)));
  } finally {
    leaving = setTimeout(letGo, KEPT_MS).unref();
  }
}
