import type { Area } from '../src/planes/area.ts';
import type { Rgb } from '../src/scene/scene.ts';

/** What a pass looks like: the colour of each part of the scene as shown on a screen, and the layer it is seen in. */
export interface PassLook {
  colours: readonly Rgb[];
  /** Number of a through-glass layer; the direct view by default. */
  layer?: number;
}

/** What one wishes to see of a frame while it is rendered. */
export interface Wanted {
  /** The part of the picture that one looks at, in pixels; undefined for all of it. */
  area?: Area;
  /** Id of the pass that is shown in place of the picture. */
  pass?: string;
}

/** What one looks at while a frame is rendered: samples are taken there first, and looks are made of that. */
export class Attention {
  private wanted: Wanted = {};
  private looks: ((pass: string) => PassLook | undefined) | undefined;
  private readonly listeners = new Set<() => void>();

  get area(): Area | undefined {
    return this.wanted.area;
  }

  /** The pass that is shown in place of the picture, if it can be. */
  look(): { pass: string; look: PassLook } | undefined {
    const { pass } = this.wanted;
    const look = pass === undefined ? undefined : this.looks?.(pass);
    return pass !== undefined && look ? { pass, look } : undefined;
  }

  /** Says what passes look like; nothing for one that cannot be shown. */
  showBy(looks: (pass: string) => PassLook | undefined): void {
    this.looks = looks;
  }

  /** Says what one looks at from now on. */
  turnTo(wanted: Wanted): void {
    this.wanted = wanted;
    for (const hear of this.listeners) hear();
  }

  /** Tells whenever that changes; the function that comes back ends it. */
  listen(hear: () => void): () => void {
    this.listeners.add(hear);
    return () => this.listeners.delete(hear);
  }
}
