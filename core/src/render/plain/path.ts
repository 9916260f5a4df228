import type { SceneMaterial } from '../../scene/scene.ts';
import { LIGHT, LIGHT_PARTS, MIRROR_ROUGHNESS, type Gather } from '../gather.ts';
import { SOURCE, sourcesOf } from '../light-sources.ts';
import { Around, FiniteLights, type FiniteSample } from './lights.ts';
import { glass } from './materials/glass.ts';
import { metal } from './materials/metal.ts';
import { opaque } from './materials/opaque.ts';
import {
  Frame,
  LOBE,
  type Material,
  type Response,
  type Scatter,
  type Surface,
} from './materials/surface.ts';
import { opacityAt, textureAt, treesOf, type Prepared } from '../prepared.ts';
import type { Sampler } from './sampler.ts';
import { sunRadiance } from '../sky.ts';
import { RAY, Tracer } from './tracer.ts';
import { lengthOf } from './vector.ts';

/** Mirror and glass events a path may have in all, and rough ones after the first. */
const MOST_SPECULAR = 16;
/** Light that arrives by a rough bounce is cut off here: rarer, brighter samples would only be specks. */
const INDIRECT_LIMIT = 8;
const OFFSET = 2e-4;
/** Transparent points a ray may pass before it is given up. */
const MOST_PASSES = 64;

/** Pairs of sample dimensions: three for the camera, ambient occlusion, then a block for each surface. */
const PAIR = { occlusion: 3, first: 4, block: 8 } as const;
const IN_BLOCK = { kind: 0, lobe: 1, sun: 3, lamp: 4, around: 6, roulette: 7 } as const;
const PASS_PAIR = 4096;

const luminance = (c: Float64Array) => 0.2126 * c[0]! + 0.7152 * c[1]! + 0.0722 * c[2]!;

/** Follows light paths through a scene. Public fields hold the result of the last {@link trace}. */
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
  /** While on, the milliseconds that ambient occlusion takes are added to `timed`. */
  timing = false;
  timed = 0;

  private readonly weight = new Float64Array(3);
  private readonly frame = new Frame();
  private readonly around: Around;
  private readonly lights: FiniteLights;
  private readonly discs: [number, number, number][];
  private readonly corners = new Float64Array(9);
  private readonly texel = new Float64Array(4);
  private readonly glow = new Float64Array(3);
  private readonly surface: Surface = {
    nx: 0,
    ny: 0,
    nz: 1,
    wx: 0,
    wy: 0,
    wz: 1,
    r: 0,
    g: 0,
    b: 0,
    roughness: 1,
    ior: 1.5,
    outside: true,
    thin: false,
  };
  private readonly next: Scatter = { x: 0, y: 0, z: 0, weight: new Float64Array(3), lobe: 0, density: 0 };
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
  /** Geometric normal of the point being shaded. */
  private gx = 0;
  private gy = 0;
  private gz = 1;
  /** Deepest through-glass layer, and whether a way is asked for at all. */
  private readonly deepest: number;
  private readonly mirrorDoors: (Set<number> | undefined)[];

  constructor(
    private readonly prepared: Prepared,
    private readonly bounces: number,
    private readonly light: boolean,
    private readonly gather: Gather,
  ) {
    const { scene } = prepared;
    this.tracer = new Tracer(treesOf(prepared), (triangle, u, v) => {
      const m = scene.materials[scene.parts[scene.trianglePart[triangle]!]!.material]!;
      return 1 - opacityAt(scene, m, triangle, u, v);
    });
    this.sources = new Float64Array(gather.lamps && light ? 3 * sourcesOf(scene).length : 0);
    this.discs = scene.suns.map(sunRadiance);
    this.around = new Around(scene);
    this.lights = new FiniteLights(scene);
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
    const { tracer, parts, weight, surface: s, next, gather, light } = this;
    const { scene } = this.prepared;
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

      this.shade(material, triangle, dx, dy, dz);
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
      const { gx, gy, gz } = this;
      if (light && scatter.sampled)
        this.direct(scatter, px, py, pz, sampler, block, rough, depth === 0 ? -1 : way, depth);

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
    const { tracer } = this;
    const { scene } = this.prepared;
    const hidden = mirror >= 0 ? this.mirrorDoors[mirror] : undefined;
    let passed = 0;
    for (let passes = 0; passes < MOST_PASSES; passes++) {
      if (!tracer.nearest(ox + dx * passed, oy + dy * passed, oz + dz * passed, dx, dy, dz, Infinity, kind))
        return undefined;
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

  /** Normal, colour and roughness at the hit, textures included; fills `surface` and the geometric normal. */
  private shade(m: SceneMaterial, triangle: number, dx: number, dy: number, dz: number): void {
    const { tracer, corners: k, surface: s, texel } = this;
    const { scene } = this.prepared;
    const { u, v } = tracer;
    tracer.corners(k);
    let gx = k[4]! * k[8]! - k[5]! * k[7]!;
    let gy = k[5]! * k[6]! - k[3]! * k[8]!;
    let gz = k[3]! * k[7]! - k[4]! * k[6]!;
    const g = 1 / lengthOf(gx, gy, gz);
    s.outside = gx * dx + gy * dy + gz * dz < 0;
    const side = s.outside ? g : -g;
    gx *= side;
    gy *= side;
    gz *= side;
    this.gx = gx;
    this.gy = gy;
    this.gz = gz;
    const a = 3 * scene.indices[3 * triangle]!;
    const b = 3 * scene.indices[3 * triangle + 1]!;
    const c = 3 * scene.indices[3 * triangle + 2]!;
    const w = 1 - u - v;
    const n = scene.normals;
    let nx = w * n[a]! + u * n[b]! + v * n[c]!;
    let ny = w * n[a + 1]! + u * n[b + 1]! + v * n[c + 1]!;
    let nz = w * n[a + 2]! + u * n[b + 2]! + v * n[c + 2]!;
    if (m.normalMap) {
      const length = lengthOf(nx, ny, nz);
      if (!(length > 0)) {
        nx = s.outside ? gx : -gx;
        ny = s.outside ? gy : -gy;
        nz = s.outside ? gz : -gz;
      } else {
        nx /= length;
        ny /= length;
        nz /= length;
      }
      this.bend(m.normalMap, triangle, nx, ny, nz);
      nx = s.nx;
      ny = s.ny;
      nz = s.nz;
    }
    const length = lengthOf(nx, ny, nz);
    const turn = (nx * gx + ny * gy + nz * gz < 0 ? -1 : 1) / length;
    nx *= turn;
    ny *= turn;
    nz *= turn;
    // A smooth normal that points away from the viewer, or is missing, gives way to the triangle's own.
    const facing = -(nx * dx + ny * dy + nz * dz);
    if (!(facing > 1e-3)) {
      nx = gx;
      ny = gy;
      nz = gz;
    }
    const tint = scene.colours;
    s.nx = nx;
    s.ny = ny;
    s.nz = nz;
    s.wx = -dx;
    s.wy = -dy;
    s.wz = -dz;
    s.r = m.colour[0] * (w * tint[a]! + u * tint[b]! + v * tint[c]!);
    s.g = m.colour[1] * (w * tint[a + 1]! + u * tint[b + 1]! + v * tint[c + 1]!);
    s.b = m.colour[2] * (w * tint[a + 2]! + u * tint[b + 2]! + v * tint[c + 2]!);
    s.roughness = m.roughness;
    s.ior = m.ior;
    s.thin = m.transmission > 0 && !m.absorption;
    this.metalness = m.metalness;
    if (m.colourMap) {
      textureAt(scene, m.colourMap, triangle, u, v, true, texel);
      s.r *= texel[0]!;
      s.g *= texel[1]!;
      s.b *= texel[2]!;
    }
    if (m.surfaceMap) {
      textureAt(scene, m.surfaceMap, triangle, u, v, false, texel);
      s.roughness *= texel[1]!;
      this.metalness *= texel[2]!;
    }
  }
  private metalness = 0;

  /** Turns a normal by a normal map; the tangents come from the triangle's texture coordinates. */
  private bend(
    map: NonNullable<SceneMaterial['normalMap']>,
    triangle: number,
    nx: number,
    ny: number,
    nz: number,
  ): void {
    const { corners: k, surface: s, texel, tracer } = this;
    const { scene } = this.prepared;
    const { uvs, indices } = scene;
    const set = 2 * map.set;
    const [a, b, c] = [0, 1, 2].map((i) => 4 * indices[3 * triangle + i]! + set) as [number, number, number];
    const [u1, v1] = [uvs[b]! - uvs[a]!, uvs[b + 1]! - uvs[a + 1]!];
    const [u2, v2] = [uvs[c]! - uvs[a]!, uvs[c + 1]! - uvs[a + 1]!];
    const area = u1 * v2 - u2 * v1;
    s.nx = nx;
    s.ny = ny;
    s.nz = nz;
    if (area === 0) return;
    // Gradient of u over the surface, made square to the normal; v runs down the picture.
    let tx = (k[3]! * v2 - k[6]! * v1) / area;
    let ty = (k[4]! * v2 - k[7]! * v1) / area;
    let tz = (k[5]! * v2 - k[8]! * v1) / area;
    const along = tx * nx + ty * ny + tz * nz;
    tx -= along * nx;
    ty -= along * ny;
    tz -= along * nz;
    const length = lengthOf(tx, ty, tz);
    if (!(length > 0)) return;
    tx /= length;
    ty /= length;
    tz /= length;
    const hand = area < 0 ? -1 : 1;
    const [bx, by, bz] = [hand * (tz * ny - ty * nz), hand * (tx * nz - tz * nx), hand * (ty * nx - tx * ny)];
    textureAt(scene, map, triangle, tracer.u, tracer.v, false, texel);
    const x = (2 * texel[0]! - 1) * map.scale;
    const y = (2 * texel[1]! - 1) * map.scale;
    const z = 2 * texel[2]! - 1;
    s.nx = x * tx + y * bx + z * nx;
    s.ny = x * ty + y * by + z * ny;
    s.nz = x * tz + y * bz + z * nz;
  }

  /** One of the three ways of scattering, by their shares. */
  private choose(m: SceneMaterial, sampler: Sampler, block: number): Material {
    const { metalness } = this;
    const see = (1 - metalness) * m.transmission;
    if (metalness >= 1) return metal;
    if (metalness <= 0 && see <= 0) return opaque;
    if (see >= 1) return glass;
    sampler.take(block + IN_BLOCK.kind);
    return sampler.x < metalness ? metal : sampler.x < metalness + see ? glass : opaque;
  }

  /** Notes the data of the first surface, and whether something is near it. */
  private firstSurface(px: number, py: number, pz: number, sampler: Sampler): void {
    const { surface: s, gather, tracer, prepared } = this;
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
      const { positions, positionsEnd, indices } = prepared.scene;
      this.moved.fill(0);
      const triangle = tracer.triangle;
      if (triangle >= prepared.scene.firstMoving)
        for (let axis = 0; axis < 3; axis++)
          for (let c = 0; c < 3; c++) {
            const at = 3 * indices[3 * triangle + c]! + axis;
            const share = c === 0 ? 1 - tracer.u - tracer.v : c === 1 ? tracer.u : tracer.v;
            this.moved[axis]! += share * (positionsEnd[at]! - positions[at]!);
          }
    }
    if (gather.occlusion > 0) {
      const started = this.timing ? performance.now() : 0;
      sampler.take(PAIR.occlusion);
      const r = Math.sqrt(sampler.x);
      const phi = 2 * Math.PI * sampler.y;
      this.frame.set(s.nx, s.ny, s.nz);
      this.frame.toWorld(r * Math.cos(phi), r * Math.sin(phi), Math.sqrt(Math.max(0, 1 - sampler.x)));
      const { x, y, z } = this.frame;
      const { gx, gy, gz } = this;
      // The hit's fields are still needed; a shadow ray leaves them alone.
      const free = tracer.transmittance(
        px + gx * OFFSET,
        py + gy * OFFSET,
        pz + gz * OFFSET,
        x,
        y,
        z,
        gather.occlusion,
      );
      this.open = free ? (tracer.passR + tracer.passG + tracer.passB) / 3 : 0;
      if (this.timing) this.timed += performance.now() - started;
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
    const { weight, glow, around } = this;
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
    const { weight, glow } = this;
    const { scene } = this.prepared;
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
    const { surface: s, weight, glow } = this;
    if (m.unlit)
      return this.add(way, SOURCE.shining, weight[0]! * s.r, weight[1]! * s.g, weight[2]! * s.b, rough);
    if (!this.emission(m, triangle, this.tracer.u, this.tracer.v, glow)) return;
    let share = 1;
    if (density > 0) {
      const cosine = Math.abs(this.gx * dx + this.gy * dy + this.gz * dz);
      const other = (this.lights.densityOf[triangle]! * t * t) / Math.max(1e-6, cosine);
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

  private emission(m: SceneMaterial, triangle: number, u: number, v: number, out: Float64Array): boolean {
    if (m.emission[0] + m.emission[1] + m.emission[2] <= 0) return false;
    out.set(m.emission);
    if (m.emissionMap) {
      textureAt(this.prepared.scene, m.emissionMap, triangle, u, v, true, this.texel);
      for (let i = 0; i < 3; i++) out[i]! *= this.texel[i]!;
    }
    return true;
  }

  /** Light from the sources straight to the surface: every sun, one lamp or shining surface, one way around. */
  private direct(
    scatter: Material,
    px: number,
    py: number,
    pz: number,
    sampler: Sampler,
    block: number,
    rough: number,
    way: number,
    depth: number,
  ): void {
    const { frame, tracer, lamp, gx, gy, gz, around } = this;
    const { scene } = this.prepared;
    const { suns } = scene;
    const ox = px + gx * OFFSET;
    const oy = py + gy * OFFSET;
    const oz = pz + gz * OFFSET;
    for (let i = 0; i < suns.length; i++) {
      const sun = suns[i]!;
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
      this.receive(scatter, SOURCE.first + i, ox, oy, oz, rough, way, depth);
    }
    if (this.lights.any) {
      // The hit's coordinates are needed again after a texture was looked up for the light.
      if (this.lights.sample(px, py, pz, tracer.time, sampler, block + IN_BLOCK.lamp, lamp)) {
        if (lamp.triangle >= 0) {
          const m = scene.materials[scene.parts[scene.trianglePart[lamp.triangle]!]!.material]!;
          if (this.emission(m, lamp.triangle, lamp.u, lamp.v, this.glow))
            for (let k = 0; k < 3; k++) lamp.light[k]! *= this.glow[k]!;
        }
        const source = lamp.lamp < 0 ? SOURCE.shining : SOURCE.first + suns.length + lamp.lamp;
        this.receive(scatter, source, ox, oy, oz, rough, way, depth);
      }
    }
    if (around.picture && around.sample(sampler, block + IN_BLOCK.around, lamp))
      this.receive(scatter, SOURCE.sky, ox, oy, oz, rough, way, depth);
  }

  /** Adds the light of `lamp` as the surface scatters it, if it gets there. `way` is -1 at the first surface. */
  private receive(
    scatter: Material,
    source: number,
    ox: number,
    oy: number,
    oz: number,
    rough: number,
    way: number,
    depth: number,
  ): void {
    const { lamp, response: f, tracer, weight, gx, gy, gz } = this;
    if (lamp.x * gx + lamp.y * gy + lamp.z * gz <= 0) return;
    scatter.evaluate(this.surface, lamp.x, lamp.y, lamp.z, f);
    const d = lamp.density;
    // Balance heuristic against the paths that find the light by themselves (Veach 1997), for each lobe.
    const wd = d > 0 ? d / (d + f.diffuseDensity) : 1;
    const wr = d > 0 ? d / (d + f.reflectedDensity) : 1;
    const diffuse = f.diffuse[0]! + f.diffuse[1]! + f.diffuse[2]!;
    const reflected = f.reflected[0]! + f.reflected[1]! + f.reflected[2]!;
    if (!(diffuse + reflected > 0)) return;
    const reach = Number.isFinite(lamp.distance) ? lamp.distance - 2 * OFFSET : Infinity;
    const arrives = tracer.transmittance(ox, oy, oz, lamp.x, lamp.y, lamp.z, reach);
    const { light } = lamp;
    const r = weight[0]! * light[0]!;
    const g = weight[1]! * light[1]!;
    const b = weight[2]! * light[2]!;
    if (depth === 0) {
      const y = 0.2126 * r * f.diffuse[0]! + 0.7152 * g * f.diffuse[1]! + 0.0722 * b * f.diffuse[2]!;
      this.unshadowed += wd * y;
      if (arrives)
        this.lit +=
          wd *
          (0.2126 * r * f.diffuse[0]! * tracer.passR +
            0.7152 * g * f.diffuse[1]! * tracer.passG +
            0.0722 * b * f.diffuse[2]! * tracer.passB);
    }
    if (!arrives) return;
    const pr = r * tracer.passR;
    const pg = g * tracer.passG;
    const pb = b * tracer.passB;
    if (way < 0) {
      this.add(
        LIGHT.diffuseDirect,
        source,
        pr * f.diffuse[0]! * wd,
        pg * f.diffuse[1]! * wd,
        pb * f.diffuse[2]! * wd,
        rough,
      );
      this.add(
        LIGHT.specularDirect,
        source,
        pr * f.reflected[0]! * wr,
        pg * f.reflected[1]! * wr,
        pb * f.reflected[2]! * wr,
        rough,
      );
    } else
      this.add(
        way,
        source,
        pr * (f.diffuse[0]! * wd + f.reflected[0]! * wr),
        pg * (f.diffuse[1]! * wd + f.reflected[1]! * wr),
        pb * (f.diffuse[2]! * wd + f.reflected[2]! * wr),
        rough,
      );
  }
}
