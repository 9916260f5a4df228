import { ChangeStack } from '../../apply/change-stack.ts';
import { ApplyError, computeStack } from '../../apply/apply-changes.ts';
import { noMask } from '../../changes/change.ts';
import type { ListedChange } from '../../changes/listed.ts';
import { needPicture, type ExportEnv } from '../../exports/export-kind.ts';
import { passesFor } from '../../exports/passes-for.ts';
import type { CastLayer } from '../../cast/cast.ts';
import type { OpenPicture } from '../../version/open-picture.ts';

/** A part of a picture by itself: its light, times its coverage, and the coverage. */
export interface Lifted {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  /** 0 to 1. */
  cover: Float32Array;
}

const PLANES = ['r', 'g', 'b'] as const;
/** The change that lights a part up. No change of a list has such an id. */
const ID = '(lifted)';

/** A change that means members of a layer, as rendered. */
export const membersChange = (layer: CastLayer, members: readonly { name: string }[]): ListedChange => ({
  ...noMask(),
  ...{ id: ID, words: '', on: true, done: false, plainEdges: false, corrections: [] },
  who: members.map((m) => ({ mode: 'with', layer: layer.name, member: m.name })),
});

/**
 * Lifts parts off a corrected picture with the light that is theirs alone. A pixel at an edge shows several things, so
 * coverage times its colour would carry the neighbour along. The list's own clean edges tell the parts apart: with one
 * more change on top that doubles the light of the part, C' = C + Σ aᵢ (2Fᵢ − Fᵢ), and so C' − C = Σ aᵢFᵢ is what the
 * part brought. Where edges are plain it is coverage times colour, as it must be.
 */
export class Lift {
  private constructor(
    private readonly changes: readonly ListedChange[],
    private readonly stack: ChangeStack,
    private readonly env: ExportEnv,
    private readonly whole: Record<(typeof PLANES)[number], Float32Array>,
  ) {}

  /** Computes the corrected picture. Rejects with VersionError where there is none, and with ApplyError. */
  static async of(open: OpenPicture, changes: readonly ListedChange[], env: ExportEnv): Promise<Lift> {
    needPicture(open);
    const stack = new ChangeStack(open.planes, open.cast, {
      passes: await passesFor(open, changes, env),
      ...(env.crew ? { allocate: (bytes: number) => env.crew!.allocate(bytes) } : {}),
    });
    const failures = await computeStack(stack, changes, env);
    if (failures.length) throw new ApplyError(failures);
    const { r, g, b } = stack.result;
    return new Lift(changes, stack, env, { r: r.slice(), g: g.slice(), b: b.slice() });
  }

  /**
   * One part, of the data window's size.
   * @param part whose mask it is; its corrections do not matter
   * @param clean with the part's own light at its edges; otherwise coverage times colour
   */
  async part(part: ListedChange, clean: boolean): Promise<Lifted> {
    const brighter: ListedChange = {
      ...part,
      ...{ id: ID, on: true, plainEdges: !clean },
      corrections: [{ id: ID, kind: 'exposure', on: true, values: { stops: 1 } }],
    };
    const { crew, signal } = this.env;
    const failures = await computeStack(this.stack, [...this.changes, brighter], { crew, signal });
    if (failures.length) throw new ApplyError(failures);
    const mask = this.stack.mask(ID)!;
    const cover = mask.flat().map((c) => Math.min(1, Math.max(0, c)));
    const lifted = PLANES.map((k) => {
      const [lit, plain] = [this.stack.result[k], this.whole[k]];
      return Float32Array.from(cover, (c, p) => {
        if (c === 0) return 0;
        const own = lit[p]! - plain[p]!;
        // What is brighter than floats can tell apart is as it is.
        return Number.isFinite(own) ? own : plain[p]!;
      });
    });
    return { r: lifted[0]!, g: lifted[1]!, b: lifted[2]!, cover };
  }
}
