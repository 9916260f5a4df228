import { asFloats } from '@zesty-crow/core';
import type { OpenFrame } from '../open-frame.ts';

/** Passes whose planes are kept: there is not room for all of a large file. */
const KEPT = 3;

/** Planes of the passes that were looked at last. */
export class PassPlanes {
  private read: { open: OpenFrame; name: string; planes: Promise<Float32Array[]> }[] = [];

  /** Planes of some channels, in their order, kept under a name. */
  of(open: OpenFrame, name: string, channels: readonly string[]): Promise<Float32Array[]> {
    const known = this.read.find((p) => p.open === open && p.name === name);
    if (known) return known.planes;
    const planes = open.frame
      .channels((c) => channels.includes(c))
      .then((found) => channels.flatMap((c) => found.filter((f) => f.name === c).map((f) => asFloats(f))));
    const kept = this.read.filter((p) => p.open === open);
    this.read = [{ open, name, planes }, ...kept].slice(0, KEPT);
    return planes;
  }
}
