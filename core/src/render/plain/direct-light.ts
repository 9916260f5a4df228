import type { Scene } from '../../scene/scene.ts';
import { SOURCE } from '../light-sources.ts';
import { emissionAt } from './emission.ts';
import { Around, FiniteLights, type FiniteSample } from './lights.ts';
import { Frame, type Material, type Response } from './materials/surface.ts';
import type { Sampler } from './sampler.ts';
import type { SurfaceReader } from './surface-reader.ts';
import type { Tracer } from './tracer.ts';

/** Takes light of a source that a surface sends on, diffuse and reflected: unhindered, and what of it arrives. */
export type Receive = (
  source: number,
  unhindered: Response,
  passR: number,
  passG: number,
  passB: number,
) => void;

/** Pairs of random numbers, counted from the first pair of a surface. */
const IN_BLOCK = { sun: 3, lamp: 4, around: 6 } as const;

/** Light from the sources straight to a surface: every sun, one lamp or shining surface, one way around. */
export class DirectLight {
  readonly around: Around;
  readonly lights: FiniteLights;
  private readonly frame = new Frame();
  private readonly glow = new Float64Array(3);
  private readonly response: Response = {
    diffuse: new Float64Array(3),
    reflected: new Float64Array(3),
    diffuseDensity: 0,
    reflectedDensity: 0,
  };
  private readonly lamp: FiniteSample = {
    x: 0,
    y: 0,
    z: 0,
    distance: 0,
    light: new Float64Array(3),
    density: 0,
    lamp: -1,
    triangle: -1,
    u: 0,
    v: 0,
  };

  constructor(
    private readonly scene: Scene,
    private readonly tracer: Tracer,
    private readonly reader: SurfaceReader,
    private readonly offset: number,
  ) {
    this.around = new Around(scene);
    this.lights = new FiniteLights(scene);
  }

  /** @param block first pair of random numbers of this surface */
  gather(
    scatter: Material,
    point: readonly [number, number, number],
    weight: Float64Array,
    sampler: Sampler,
    block: number,
    receive: Receive,
  ): void {
    const { scene, frame, lamp, lights, around, tracer, offset } = this;
    const { gx, gy, gz } = this.reader;
    // Lights are seen from where rays begin: from the surface itself, they would miss them at a grazing angle.
    const origin = [point[0] + gx * offset, point[1] + gy * offset, point[2] + gz * offset] as const;
    const { suns, materials, parts, trianglePart } = scene;
    const send = (source: number) => this.send(scatter, origin, weight, source, receive);
    suns.forEach((sun, i) => {
      sampler.take(block + IN_BLOCK.sun);
      const cosine = 1 - sampler.x * (1 - Math.cos(sun.angularRadius));
      const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
      const phi = 2 * Math.PI * sampler.y;
      frame.set(sun.direction[0], sun.direction[1], sun.direction[2]);
      frame.toWorld(sine * Math.cos(phi), sine * Math.sin(phi), cosine);
      lamp.x = frame.x;
      lamp.y = frame.y;
      lamp.z = frame.z;
      lamp.distance = Infinity;
      lamp.density = 0;
      lamp.light.set(sun.irradiance);
      send(SOURCE.first + i);
    });
    if (
      lights.any &&
      lights.sample(origin[0], origin[1], origin[2], tracer.time, sampler, block + IN_BLOCK.lamp, lamp)
    ) {
      if (lamp.triangle >= 0) {
        const m = materials[parts[trianglePart[lamp.triangle]!]!.material]!;
        if (emissionAt(scene, m, lamp.triangle, lamp.u, lamp.v, this.glow))
          for (let k = 0; k < 3; k++) lamp.light[k]! *= this.glow[k]!;
      }
      send(lamp.lamp < 0 ? SOURCE.shining : SOURCE.first + suns.length + lamp.lamp);
    }
    if (around.picture && around.sample(sampler, block + IN_BLOCK.around, lamp)) send(SOURCE.sky);
  }

  private send(
    scatter: Material,
    origin: readonly [number, number, number],
    weight: Float64Array,
    source: number,
    receive: Receive,
  ): void {
    const { lamp, response: f, tracer, offset } = this;
    const { gx, gy, gz, surface } = this.reader;
    if (lamp.x * gx + lamp.y * gy + lamp.z * gz <= 0) return;
    scatter.evaluate(surface, lamp.x, lamp.y, lamp.z, f);
    const d = lamp.density;
    // Balance heuristic against the paths that find the light by themselves (Veach 1997), for each lobe.
    const wd = d > 0 ? d / (d + f.diffuseDensity) : 1;
    const wr = d > 0 ? d / (d + f.reflectedDensity) : 1;
    for (let k = 0; k < 3; k++) {
      f.diffuse[k]! *= weight[k]! * lamp.light[k]! * wd;
      f.reflected[k]! *= weight[k]! * lamp.light[k]! * wr;
    }
    const reach = Number.isFinite(lamp.distance) ? lamp.distance - 2 * offset : Infinity;
    const free = tracer.transmittance(origin, [lamp.x, lamp.y, lamp.z], reach);
    if (free) receive(source, f, tracer.passR, tracer.passG, tracer.passB);
    else receive(source, f, 0, 0, 0);
  }
}
