import type { Scene, SceneMaterial } from '../../scene/scene.ts';
import { LIGHT, LIGHT_PARTS, MIRROR_ROUGHNESS, type Gather } from '../gather.ts';
import { SOURCE, sourcesOf } from '../light-sources.ts';
import { RAY } from '../ray-kinds.ts';
import { sunRadiance } from '../sky.ts';
import { DirectLight } from './direct-light.ts';
import { emissionAt } from './emission.ts';
import { glass } from './materials/glass.ts';
import { metal } from './materials/metal.ts';
import { opaque } from './materials/opaque.ts';
import { Frame, LOBE, type Material, type Scatter } from './materials/surface.ts';
import type { Sampler } from './sampler.ts';
import { SurfaceReader } from './surface-reader.ts';
import { opacityAt } from './textures.ts';
import { Tracer } from './tracer.ts';

/** Mirror and glass events a path may have in all, and rough ones after the first. */
const MOST_SPECULAR = 16;
/** Light that arrives by a rough bounce is cut off here: rarer, brighter samples would only be specks. */
const INDIRECT_LIMIT = 8;
const OFFSET = 2e-4;
/** Transparent points a ray may pass before it is given up. */
const MOST_PASSES = 64;

/** Pairs of sample dimensions: three for the camera, ambient occlusion, then a block for each surface. */
const PAIR = { occlusion: 3, first: 4, block: 8 } as const;
const IN_BLOCK = { kind: 0, lobe: 1, roulette: 7 } as const;
const PASS_PAIR = 4096;

const luminance = (c: Float64Array) => 0.2126 * c[0]! + 0.7152 * c[1]! + 0.0722 * c[2]!;

/**
 * Follows light paths through a scene, one after the other, in 64 bits: what the waves of the ray kernel are tested
 * against. Public fields hold the result of the last {@link trace}.
 */
export class PathTracer {
  /** r, g, b of each part of the light, see LIGHT. */
  readonly parts = new Float64Array(3 * LIGHT_PARTS.length);
  /** r, g, b of each source of light, see {@link sourcesOf}; empty if they are not asked for. */
  readonly sources: Float64Array;
  /** Part of the scene that the ray from the camera saw, -1 for none. */
  part = -1;
  /** True if the object seen only catches shadows and reflections. */
  catcher = false;
  /** Of the first surface: point, normal, distance along the ray, base colour, motion to the end of the span. */
  readonly point = new Float64Array(3);
  readonly normal = new Float64Array(3);
  distance = 0;
  readonly base = new Float64Array(3);
  readonly moved = new Float64Array(3);
  /** Direct light at the first surface if nothing stood in its way, and as it is. */
  unshadowed = 0;
  lit = 0;
  /** 1 if nothing is near the first surface in a random direction, otherwise 0. */
  open = 1;
  /** What was seen through glass and in mirrors: number of the layer, part and weight of each sighting. */
  sightings = 0;
  readonly sightingLayer = new Int32Array(64);
  readonly sightingPart = new Int32Array(64);
  readonly sightingWeight = new Float64Array(64);
  readonly tracer: Tracer;
  private readonly weight = new Float64Array(3);
  private readonly frame = new Frame();
  private readonly discs: [number, number, number][];
  private readonly glow = new Float64Array(3);
  private readonly reader: SurfaceReader;
  private readonly direct: DirectLight;
  private readonly next: Scatter = { x: 0, y: 0, z: 0, weight: new Float64Array(3), lobe: 0, density: 0 };
  /** Deepest through-glass layer, and whether a way is asked for at all. */
  private readonly deepest: number;
  private readonly mirrorDoors: (Set<number> | undefined)[];

  constructor(
    private readonly scene: Scene,
    private readonly bounces: number,
    private readonly light: boolean,
    private readonly gather: Gather,
  ) {
    this.tracer = new Tracer(scene);
    this.reader = new SurfaceReader(scene, this.tracer);
    this.direct = new DirectLight(scene, this.tracer, this.reader, OFFSET);
    this.sources = new Float64Array(gather.lamps && light ? 3 * sourcesOf(scene).length : 0);
    this.discs = scene.suns.map(sunRadiance);
    this.deepest = gather.through.reduce((d, t) => Math.max(d, t.depth), 0);
    this.mirrorDoors = [];
    scene.objects.forEach((o, i) =>
      o.notSeenIn?.forEach((mirror) => (this.mirrorDoors[mirror] ??= new Set()).add(i)),
    );
  }

  /** Follows one ray from the camera at a time of the shutter, 0 to 1. */
  trace(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    time: number,
    sampler: Sampler,
  ): void {
    const { tracer, parts, weight, next, gather, light, reader, scene } = this;
    const { surface: s } = reader;
    parts.fill(0);
    this.sources.fill(0);
    weight.fill(1);
    tracer.time = time;
    this.part = -1;
    this.catcher = false;
    this.sightings = 0;
    this.unshadowed = this.lit = 0;
    this.open = 1;
    /** Which part of the light this path adds to, and which one a source that it meets next adds to. */
    let way: number = LIGHT.background;
    let sourceWay: number = LIGHT.background;
    let kind: number = RAY.camera;
    let rough = 0;
    let mirrored = 0;
    let density = 0;
    let mirror = -1;
    let chain: 'none' | 'refraction' | 'reflection' | 'over' = 'none';
    let chainRough = 0;
    let chainObject = -1;
    let chainDepth = 0;
    for (let depth = 0; ; depth++) {
      const block = PAIR.first + PAIR.block * depth;
      const material = this.hit(ox, oy, oz, dx, dy, dz, kind, mirror, sampler, depth);
      if (!material) {
        if (light) this.escape(dx, dy, dz, rough, density, sourceWay, depth);
        return;
      }
      const triangle = tracer.triangle;
      const part = scene.trianglePart[triangle]!;
      const object = scene.parts[part]!.object;
      const t = tracer.t;
      // The sky's share in the shadow of the first surface: this direction was taken by something.
      if (depth === 1 && gather.shadow && sourceWay === LIGHT.diffuseDirect) {
        this.aroundLight(dx, dy, dz, density);
        this.unshadowed += luminance(this.glow);
      }
      if (depth === 0) {
        const { role } = scene.parts[part]!;
        if (role === 'held') return;
        this.catcher = role === 'catcher';
        this.part = part;
        this.distance = t;
        // Without light there is nothing more to find on a surface through which nothing is seen.
        if (!light && !gather.surface && gather.occlusion === 0 && this.deepest === 0) return;
      } else if (chain === 'refraction' || chain === 'reflection') {
        if (object !== chainObject) {
          chainDepth++;
          chainObject = object;
          this.sight(chain, chainDepth, chainRough, part);
        }
        if (!light && chainDepth >= this.deepest) return;
      }

      reader.read(material, dx, dy, dz);
      const px = ox + dx * t;
      const py = oy + dy * t;
      const pz = oz + dz * t;
      if (material.absorption && !s.outside)
        for (let i = 0; i < 3; i++) weight[i]! *= Math.exp(-material.absorption[i]! * t);
      if (depth === 0) this.firstSurface(px, py, pz, sampler);

      if (light)
        this.shine(material, triangle, t, dx, dy, dz, rough, density, depth ? sourceWay : LIGHT.emission);
      if (material.unlit) return;
      const scatter = this.choose(material, sampler, block);
      const { gx, gy, gz } = reader;
      if (light && scatter.sampled)
        this.direct.gather(scatter, [px, py, pz], weight, sampler, block, (source, f, r, g, b) =>
          this.receive(depth === 0 ? -1 : way, source, f.diffuse, f.reflected, r, g, b, rough),
        );

      if (scatter.sampled ? ++rough > this.bounces + 1 : ++mirrored > MOST_SPECULAR) return;
      if (!scatter.sample(s, sampler, block + IN_BLOCK.lobe, next)) return;
      const through = next.lobe === LOBE.through;
      // A rough reflection below the true surface would leak light through thin things.
      if (!through && next.x * gx + next.y * gy + next.z * gz <= 0) return;

      if (depth === 0) {
        const mirrors = s.roughness <= MIRROR_ROUGHNESS;
        way = through
          ? LIGHT.refraction
          : next.lobe === LOBE.diffuse
            ? LIGHT.diffuseIndirect
            : mirrors
              ? LIGHT.reflection
              : LIGHT.specularIndirect;
        // A source met by the first bounce is direct light, except in what shows recognisable things.
        sourceWay =
          way === LIGHT.diffuseIndirect
            ? LIGHT.diffuseDirect
            : way === LIGHT.specularIndirect
              ? LIGHT.specularDirect
              : way;
        chain = through ? 'refraction' : next.lobe === LOBE.reflect ? 'reflection' : 'over';
        chainRough = s.roughness;
        chainObject = object;
      } else {
        sourceWay = way;
        if (chain !== 'over') {
          const goesOn = next.lobe !== LOBE.diffuse && (chain === 'reflection' || through);
          if (!goesOn) chain = 'over';
          else if (s.roughness > chainRough) chainRough = s.roughness;
        }
      }
      if (!light && (chain === 'over' || this.deepest === 0)) return;

      for (let i = 0; i < 3; i++) weight[i]! *= next.weight[i]!;
      const strongest = Math.max(weight[0]!, weight[1]!, weight[2]!);
      if (strongest <= 0) return;
      if (depth > 2 && strongest < 0.5) {
        sampler.take(block + IN_BLOCK.roulette);
        if (sampler.x >= strongest / 0.5) return;
        for (let i = 0; i < 3; i++) weight[i]! *= 0.5 / strongest;
      }
      density = next.density;
      mirror = next.lobe === LOBE.reflect ? object : -1;
      kind = through ? RAY.refraction : next.lobe === LOBE.reflect ? RAY.reflection : RAY.bounce;
      const offset = through ? -OFFSET : OFFSET;
      ox = px + gx * offset;
      oy = py + gy * offset;
      oz = pz + gz * offset;
      dx = next.x;
      dy = next.y;
      dz = next.z;
    }
  }

  /** Finds the next thing that the ray does not pass: holes in cut-outs and what a mirror must not show. */
  private hit(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    kind: number,
    mirror: number,
    sampler: Sampler,
    depth: number,
  ): SceneMaterial | undefined {
    const { tracer, scene } = this;
    const hidden = mirror >= 0 ? this.mirrorDoors[mirror] : undefined;
    let passed = 0;
    for (let passes = 0; passes < MOST_PASSES; passes++) {
      const origin = [ox + dx * passed, oy + dy * passed, oz + dz * passed] as const;
      if (!tracer.nearest(origin, [dx, dy, dz], Infinity, kind)) return undefined;
      const { object, material } = scene.parts[scene.trianglePart[tracer.triangle]!]!;
      const m = scene.materials[material]!;
      let stops = !hidden?.has(object);
      if (stops && m.alphaMode !== 'opaque') {
        const opacity = opacityAt(scene, m, tracer.triangle, tracer.u, tracer.v);
        if (opacity < 1) {
          sampler.take(PASS_PAIR + 64 * depth + passes);
          stops = sampler.x < opacity;
        }
      }
      if (stops) {
        tracer.t += passed;
        return m;
      }
      passed += tracer.t + OFFSET;
    }
    return undefined;
  }

  /** One of the three ways of scattering, by their shares. */
  private choose(m: SceneMaterial, sampler: Sampler, block: number): Material {
    const { metalness } = this.reader;
    const see = (1 - metalness) * m.transmission;
    if (metalness >= 1) return metal;
    if (metalness <= 0 && see <= 0) return opaque;
    if (see >= 1) return glass;
    sampler.take(block + IN_BLOCK.kind);
    return sampler.x < metalness ? metal : sampler.x < metalness + see ? glass : opaque;
  }

  /** Notes the data of the first surface, and whether something is near it. */
  private firstSurface(px: number, py: number, pz: number, sampler: Sampler): void {
    const { gather, tracer, scene } = this;
    const { surface: s, gx, gy, gz } = this.reader;
    if (gather.surface) {
      this.point[0] = px;
      this.point[1] = py;
      this.point[2] = pz;
      this.normal[0] = s.nx;
      this.normal[1] = s.ny;
      this.normal[2] = s.nz;
      this.base[0] = s.r;
      this.base[1] = s.g;
      this.base[2] = s.b;
      const { positions, positionsEnd, indices } = scene;
      this.moved.fill(0);
      const triangle = tracer.triangle;
      if (triangle >= scene.firstMoving)
        for (let axis = 0; axis < 3; axis++)
          for (let c = 0; c < 3; c++) {
            const at = 3 * indices[3 * triangle + c]! + axis;
            const share = c === 0 ? 1 - tracer.u - tracer.v : c === 1 ? tracer.u : tracer.v;
            this.moved[axis]! += share * (positionsEnd[at]! - positions[at]!);
          }
    }
    if (gather.occlusion > 0) {
      sampler.take(PAIR.occlusion);
      const r = Math.sqrt(sampler.x);
      const phi = 2 * Math.PI * sampler.y;
      this.frame.set(s.nx, s.ny, s.nz);
      this.frame.toWorld(r * Math.cos(phi), r * Math.sin(phi), Math.sqrt(Math.max(0, 1 - sampler.x)));
      const { x, y, z } = this.frame;
      // The hit's fields are still needed; a shadow ray leaves them alone.
      const origin = [px + gx * OFFSET, py + gy * OFFSET, pz + gz * OFFSET] as const;
      const free = tracer.transmittance(origin, [x, y, z], gather.occlusion);
      this.open = free ? (tracer.passR + tracer.passG + tracer.passB) / 3 : 0;
    }
  }

  private sight(way: 'refraction' | 'reflection', depth: number, roughness: number, part: number): void {
    const { through } = this.gather;
    for (let i = 0; i < through.length; i++) {
      const layer = through[i]!;
      if (layer.way !== way || layer.depth !== depth || roughness > layer.roughness) continue;
      if (this.sightings === this.sightingLayer.length) return;
      this.sightingLayer[this.sightings] = i;
      this.sightingPart[this.sightings] = part;
      this.sightingWeight[this.sightings++] = Math.min(1, luminance(this.weight));
    }
  }

  /** Adds light from a source to a part of the result; after rough bounces it is limited. */
  private add(way: number, source: number, r: number, g: number, b: number, rough: number): void {
    const at = 3 * way;
    const { parts, sources } = this;
    if (rough > 0) {
      r = Math.min(INDIRECT_LIMIT, r);
      g = Math.min(INDIRECT_LIMIT, g);
      b = Math.min(INDIRECT_LIMIT, b);
    }
    parts[at]! += r;
    parts[at + 1]! += g;
    parts[at + 2]! += b;
    if (sources.length === 0) return;
    sources[3 * source]! += r;
    sources[3 * source + 1]! += g;
    sources[3 * source + 2]! += b;
  }

  /** Light from around along a path, into `glow`; weighed against sampling it if the path could be sampled. */
  private aroundLight(dx: number, dy: number, dz: number, density: number): void {
    const { weight, glow } = this;
    const { around } = this.direct;
    glow.fill(0);
    around.add(dx, dy, dz, weight, glow);
    if (density === 0) return;
    const other = around.density(dx, dy, dz);
    if (other === 0) return;
    for (let i = 0; i < 3; i++) glow[i]! *= density / (density + other);
  }

  /** What a ray that meets nothing sees. */
  private escape(
    dx: number,
    dy: number,
    dz: number,
    rough: number,
    density: number,
    way: number,
    depth: number,
  ): void {
    const { weight, glow, scene } = this;
    this.aroundLight(dx, dy, dz, density);
    this.add(way, SOURCE.sky, glow[0]!, glow[1]!, glow[2]!, rough);
    if (rough === 0 && depth > 0)
      for (let i = 0; i < scene.suns.length; i++) {
        const sun = scene.suns[i]!;
        const [x, y, z] = sun.direction;
        // The sun's disc as mirrors and glass show it.
        if (dx * x + dy * y + dz * z < Math.cos(sun.angularRadius)) continue;
        const [r, g, b] = this.discs[i]!;
        this.add(way, SOURCE.first + i, weight[0]! * r, weight[1]! * g, weight[2]! * b, rough);
      }
    // This direction was free: it counts in the shadow of the first surface as unshadowed and lit.
    if (depth === 1 && way === LIGHT.diffuseDirect) {
      const sky = luminance(glow);
      this.unshadowed += sky;
      this.lit += sky;
    }
  }

  /** Light that the surface sends out by itself. */
  private shine(
    m: SceneMaterial,
    triangle: number,
    t: number,
    dx: number,
    dy: number,
    dz: number,
    rough: number,
    density: number,
    way: number,
  ): void {
    const { weight, glow, tracer, scene } = this;
    const { surface: s, gx, gy, gz } = this.reader;
    if (m.unlit)
      return this.add(way, SOURCE.shining, weight[0]! * s.r, weight[1]! * s.g, weight[2]! * s.b, rough);
    if (!emissionAt(scene, m, triangle, tracer.u, tracer.v, glow)) return;
    let share = 1;
    if (density > 0) {
      const cosine = Math.abs(gx * dx + gy * dy + gz * dz);
      const other = (this.direct.lights.densityOf(triangle) * t * t) / Math.max(1e-6, cosine);
      share = density / (density + other);
    }
    this.add(
      way,
      SOURCE.shining,
      weight[0]! * glow[0]! * share,
      weight[1]! * glow[1]! * share,
      weight[2]! * glow[2]! * share,
      rough,
    );
  }

  /** Adds the light of a source as the surface sends it on, as far as it gets there. `way` is -1 at the first surface. */
  private receive(
    way: number,
    source: number,
    d: Float64Array,
    s: Float64Array,
    r: number,
    g: number,
    b: number,
    rough: number,
  ): void {
    if (way >= 0) {
      const arrives = [r * (d[0]! + s[0]!), g * (d[1]! + s[1]!), b * (d[2]! + s[2]!)] as const;
      return this.add(way, source, ...arrives, rough);
    }
    this.unshadowed += luminance(d);
    this.lit += 0.2126 * r * d[0]! + 0.7152 * g * d[1]! + 0.0722 * b * d[2]!;
    this.add(LIGHT.diffuseDirect, source, r * d[0]!, g * d[1]!, b * d[2]!, rough);
    this.add(LIGHT.specularDirect, source, r * s[0]!, g * s[1]!, b * s[2]!, rough);
  }
}
