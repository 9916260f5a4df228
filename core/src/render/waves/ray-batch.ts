import { Field, WAVE } from '../../../kernels/rays/layout.ts';
import { GATHER_IDS } from '../gather.ts';
import { DEFAULT_SETTINGS } from '../settings.ts';
import type { Prepared } from './prepared.ts';
import { Waves } from './waves.ts';

/** One ray: where it begins, where it goes, and when, 0 as the shutter opens and 1 as it closes. */
export type Ray = readonly [
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  time?: number,
];

/** Rays of one's own, sent through a scene in waves of at most WAVE: for tests and for timing. */
export class RayBatch {
  private readonly waves: Waves;
  private count = 0;

  constructor(prepared: Prepared) {
    this.waves = new Waves(prepared, { ...DEFAULT_SETTINGS, gather: GATHER_IDS, apart: false });
  }

  /** Takes over up to WAVE rays of a kind, which see what that kind sees. */
  load(rays: readonly Ray[], kind: number, reach = 3.4e38): void {
    const { waves } = this;
    waves.begin();
    this.count = Math.min(rays.length, WAVE);
    const [int, number] = [waves.ints, waves.numbers];
    for (let i = 0; i < this.count; i++) {
      const ray = rays[i]!;
      for (let k = 0; k < 3; k++) {
        number[WAVE * (Field.originX + k) + i] = ray[k]!;
        number[WAVE * (Field.directionX + k) + i] = ray[3 + k]!;
        number[WAVE * (Field.pointX + k) + i] = ray[k]!;
        number[WAVE * (Field.shadowX + k) + i] = ray[3 + k]!;
        number[WAVE * (Field.flatX + k) + i] = 0;
      }
      number[WAVE * Field.time + i] = ray[6] ?? 0;
      number[WAVE * Field.shadowReach + i] = reach;
      int[WAVE * Field.kind + i] = kind;
      int[WAVE * Field.mirror + i] = -1;
      int[WAVE * Field.active + i] = i;
      int[WAVE * Field.shadowPath + i] = i;
    }
  }

  /** Finds what the rays hit first, through the search trees. */
  hit(): void {
    this.waves.kernel.meet(this.count, 1);
  }
  /** Finds the light that passes along the rays, as far as they reach. */
  pass(): void {
    this.waves.kernel.passShadows(this.count);
  }

  /** Triangle of the mesh that a ray has hit, -1 for none, and where. */
  hitOf(i: number): { triangle: number; t: number; u: number; v: number } {
    const { ints, numbers } = this.waves;
    const at = (field: Field) => WAVE * field + i;
    return {
      triangle: ints[at(Field.triangle)]!,
      t: numbers[at(Field.t)]!,
      u: numbers[at(Field.u)]!,
      v: numbers[at(Field.v)]!,
    };
  }
  /** Shares of r, g, b that pass along a ray. */
  passOf(i: number): [number, number, number] {
    const { numbers } = this.waves;
    return [0, 1, 2].map((k) => numbers[WAVE * (Field.passR + k) + i]!) as [number, number, number];
  }
}
