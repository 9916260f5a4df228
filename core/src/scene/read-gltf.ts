import type { Material, Node, Primitive } from '@gltf-transform/core';
import type { Light } from '@gltf-transform/extensions';
import type { Finding } from '../findings/finding.ts';
import { posedVertices } from './deform.ts';
import { MaterialConverter } from './materials.ts';
import { openScene, plainly, SceneError, type SceneFile } from './open.ts';
import { poseAt, type Matrix, type Pose } from './pose.ts';
import {
  DEFAULT_SKY,
  PLAIN_MATERIAL,
  type Camera,
  type Lamp,
  type Part,
  type Rgb,
  type Scene,
  type SceneMaterial,
  type Sky,
  type Sun,
} from './scene.ts';
import { UniqueNames } from './unique-names.ts';

const DEFAULT_SUN_RADIUS = 0.27;

/** The moment at which a scene is looked at. */
export interface Moment {
  /** Seconds from the start of the animation. */
  time: number;
  /** Seconds from one frame to the next. */
  frameTime: number;
  /** How long the shutter is open, in frames; 0 for a frozen moment. */
  shutter: number;
  /** Path of the camera; the first one by default. */
  camera?: string;
}

const STILL: Moment = { time: 0, frameTime: 1 / 24, shutter: 0 };

/**
 * Poses a scene at a moment. Objects are the nodes with a mesh, named by their path; every mesh primitive brings its
 * own material. Throws {@link SceneError} if there is nothing to render; lesser faults are added to `findings`.
 */
export const sceneAt = (file: SceneFile, moment: Moment = STILL, findings: Finding[] = []): Scene =>
  plainly(() => pose(file, moment, findings));

function pose(file: SceneFile, moment: Moment, findings: Finding[]): Scene {
  const { document, nodes } = file;
  const list = nodes.map((n) => n.node);
  // Without a shutter the second pose still tells how things move: motion vectors need it.
  const span = moment.shutter > 0 ? moment.shutter : 1;
  const open = poseAt(document, list, moment.time);
  const animated = document.getRoot().listAnimations().length > 0;
  const close = animated ? poseAt(document, list, moment.time + span * moment.frameTime) : open;
  const builder = new TriangleBuilder(new MaterialConverter(findings), open, close);
  for (const { node, path } of nodes) {
    const mesh = node.getMesh();
    if (!mesh) continue;
    const object = builder.object(path);
    for (const primitive of mesh.listPrimitives()) builder.add(node, primitive, object);
  }
  const geometry = builder.done(findings);
  if (geometry.indices.length === 0) throw new SceneError('The scene has no triangles to render.');
  const scene = document.getRoot().getDefaultScene() ?? document.getRoot().listScenes()[0]!;
  const lights = readLights(file, open);
  return {
    ...geometry,
    ...lights,
    camera: readCamera(file, open, close, moment.camera) ?? framing(geometry.positions),
    sky: { ...DEFAULT_SKY, ...((scene.getExtras()['sky'] as Sky | undefined) ?? {}) },
    span,
    shutter: moment.shutter > 0 && animated ? 1 : 0,
  };
}

/** Reads a binary glTF 2.0 scene at rest. Throws {@link SceneError}. */
export const readGlb = async (bytes: Uint8Array): Promise<Scene> => sceneAt(await openScene(bytes));

/** The wanted camera of a scene, or its first one; undefined where it has none. Throws {@link SceneError} where the wanted one is not there. */
export function readCamera(file: SceneFile, open: Pose, close: Pose, wanted?: string): Camera | undefined {
  const cameras = file.nodes.filter((n) => n.node.getCamera());
  const found = wanted === undefined ? cameras[0] : cameras.find((n) => n.path === wanted);
  if (!found) {
    if (wanted !== undefined)
      throw new SceneError(`The scene has no camera "${wanted}". Choose one of those it has.`);
    return undefined;
  }
  const lens = found.node.getCamera()!;
  const extras = { ...lens.getExtras(), ...found.node.getExtras() };
  const number = (key: string) => Math.max(0, Number(extras[key] ?? 0) || 0);
  const parallel = lens.getType() === 'orthographic';
  return {
    matrix: rigid(open.world.get(found.node)!),
    matrixEnd: rigid(close.world.get(found.node)!),
    yfov: parallel ? 0 : lens.getYFov(),
    yHalf: parallel ? lens.getYMag() : 0,
    lensRadius: number('lensRadius'),
    focus: number('focusDistance') || 1,
  };
}

/** A matrix without the scale that its parents may bring. */
export function rigid(m: Matrix): Matrix {
  const out = m.slice();
  for (let c = 0; c < 3; c++) {
    const length = Math.hypot(m[4 * c]!, m[4 * c + 1]!, m[4 * c + 2]!) || 1;
    for (let r = 0; r < 3; r++) out[4 * c + r]! /= length;
  }
  return out;
}

/** A view of everything from the front, a little from above, for a scene without a camera. */
function framing(positions: Float32Array): Camera {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    low[i % 3] = Math.min(low[i % 3]!, positions[i]!);
    high[i % 3] = Math.max(high[i % 3]!, positions[i]!);
  }
  const yfov = 0.6;
  const radius = Math.max(1e-6, Math.hypot(...low.map((l, i) => high[i]! - l)) / 2);
  const far = radius / Math.sin(yfov / 2);
  const tilt = 0.25;
  const [c, s] = [Math.cos(tilt), Math.sin(tilt)];
  const eye = low.map((l, i) => (l + high[i]!) / 2 + [0, s, c][i]! * far);
  const matrix = Float64Array.of(1, 0, 0, 0, 0, c, -s, 0, 0, s, c, 0, eye[0]!, eye[1]!, eye[2]!, 1);
  return { matrix, matrixEnd: matrix, yfov, yHalf: 0, lensRadius: 0, focus: far };
}

function readLights(file: SceneFile, pose: Pose): { suns: Sun[]; lamps: Lamp[] } {
  const suns: Sun[] = [];
  const lamps: Lamp[] = [];
  for (const { node, path } of file.nodes) {
    const light = node.getExtension<Light>('KHR_lights_punctual');
    if (!light) continue;
    const m = pose.world.get(node)!;
    const back = unit([m[8]!, m[9]!, m[10]!]);
    const strength = light.getIntensity();
    const colour = light.getColor().map((c) => c * strength) as [number, number, number];
    if (light.getType() === 'directional') {
      const degrees = Number(light.getExtras()['angularRadius'] ?? DEFAULT_SUN_RADIUS);
      suns.push({
        name: path,
        direction: back,
        irradiance: colour,
        angularRadius: (Math.max(0.05, degrees) * Math.PI) / 180,
      });
    } else {
      const spot = light.getType() === 'spot';
      lamps.push({
        name: path,
        position: [m[12]!, m[13]!, m[14]!],
        direction: [-back[0], -back[1], -back[2]],
        intensity: colour,
        innerCosine: spot ? Math.cos(light.getInnerConeAngle()) : -1,
        outerCosine: spot ? Math.cos(light.getOuterConeAngle()) : -1,
      });
    }
  }
  return { suns, lamps };
}

function unit(v: [number, number, number]): Rgb {
  const length = Math.hypot(...v) || 1;
  return [v[0] / length, v[1] / length, v[2] / length];
}

/** One primitive in the world. */
interface Piece {
  part: number;
  positions: Float32Array;
  positionsEnd: Float32Array;
  normals: Float32Array;
  colours: Float32Array;
  uvs: Float32Array | undefined;
  indices: Uint32Array;
  moves: boolean;
}

class TriangleBuilder {
  private readonly pieces: Piece[] = [];
  private readonly parts: Part[] = [];
  private readonly objects: { path: string; name: string }[] = [];
  private readonly materials: SceneMaterial[] = [];
  private readonly partAt = new Map<string, number>();
  private readonly materialAt = new Map<Material | null, number>();
  private readonly names = new UniqueNames();
  private broken = 0;

  constructor(
    private readonly converter: MaterialConverter,
    private readonly open: Pose,
    private readonly close: Pose,
  ) {}

  object(path: string): number {
    return this.objects.push({ path, name: path }) - 1;
  }

  private material(material: Material | null): number {
    const known = this.materialAt.get(material);
    if (known !== undefined) return known;
    const made = material ? this.converter.convert(material) : PLAIN_MATERIAL;
    const name = this.names.give(made.name || 'unnamed');
    const at = this.materials.push({ ...made, name }) - 1;
    this.materialAt.set(material, at);
    return at;
  }

  private part(object: number, material: number): number {
    const key = `${object} ${material}`;
    const at = this.partAt.get(key) ?? this.parts.push({ object, material }) - 1;
    this.partAt.set(key, at);
    return at;
  }

  add(node: Node, primitive: Primitive, object: number): void {
    const mode = primitive.getMode();
    const count = primitive.getAttribute('POSITION')?.getCount() ?? 0;
    // Points and lines cannot be rendered and carry no mask.
    if (count < 3 || mode < 4) return;
    const { positions, normals } = posedVertices(node, primitive, this.open);
    const later = this.close === this.open ? positions : posedVertices(node, primitive, this.close).positions;
    const moves = later !== positions && later.some((v, i) => v !== positions[i]);
    const indices = this.corners(primitive, mode, positions, later);
    if (indices.length === 0) return;
    const v: number[] = [];
    const colours = new Float32Array(3 * count).fill(1);
    const colour = primitive.getAttribute('COLOR_0');
    if (colour)
      for (let i = 0; i < count; i++) {
        colour.getElement(i, v);
        colours.set([v[0]!, v[1]!, v[2]!], 3 * i);
      }
    let uvs: Float32Array | undefined;
    [0, 1].forEach((set) => {
      const uv = primitive.getAttribute(`TEXCOORD_${set}`);
      if (!uv) return;
      uvs ??= new Float32Array(4 * count);
      for (let i = 0; i < count; i++) {
        uv.getElement(i, v);
        uvs.set([v[0]!, v[1]!], 4 * i + 2 * set);
      }
    });
    const part = this.part(object, this.material(primitive.getMaterial()));
    this.pieces.push({ part, positions, positionsEnd: later, normals, colours, uvs, indices, moves });
  }

  /** Corners of the triangles of a list, strip or fan; triangles with corners that are no numbers are left out. */
  private corners(primitive: Primitive, mode: number, a: Float32Array, b: Float32Array): Uint32Array {
    const index = primitive.getIndices();
    const count = index ? index.getCount() : a.length / 3;
    const at = (i: number) => (index ? index.getScalar(i) : i);
    const out = new Uint32Array(3 * Math.max(0, mode === 4 ? Math.floor(count / 3) : count - 2));
    let used = 0;
    const sound = (i: number) =>
      3 * i + 2 < a.length && [0, 1, 2].every((k) => Number.isFinite(a[3 * i + k]! + b[3 * i + k]!));
    for (let t = 0; 3 * t < out.length; t++) {
      const [p, q, r] =
        mode === 4
          ? [at(3 * t), at(3 * t + 1), at(3 * t + 2)]
          : mode === 5
            ? t % 2
              ? [at(t + 1), at(t), at(t + 2)]
              : [at(t), at(t + 1), at(t + 2)]
            : [at(0), at(t + 1), at(t + 2)];
      if (!sound(p) || !sound(q) || !sound(r)) {
        this.broken++;
        continue;
      }
      out[used++] = p;
      out[used++] = q;
      out[used++] = r;
    }
    return out.subarray(0, used);
  }

  done(findings: Finding[]) {
    if (this.broken)
      findings.push({
        severity: 'warning',
        code: 'triangles-broken',
        message: `${this.broken} triangle(s) have corners that are no numbers and were left out. Export the scene again if something is missing.`,
      });
    // What rests comes first: it gets a search tree of its own.
    const pieces = [...this.pieces.filter((p) => !p.moves), ...this.pieces.filter((p) => p.moves)];
    const vertices = pieces.reduce((n, p) => n + p.positions.length / 3, 0);
    const corners = pieces.reduce((n, p) => n + p.indices.length, 0);
    const textured = this.materials.some((m) => m.colourMap ?? m.surfaceMap ?? m.normalMap ?? m.emissionMap);
    const moving = pieces.some((p) => p.moves);
    const positions = new Float32Array(3 * vertices);
    const out = {
      positions,
      positionsEnd: moving ? new Float32Array(3 * vertices) : positions,
      normals: new Float32Array(3 * vertices),
      colours: new Float32Array(3 * vertices),
      uvs: new Float32Array(textured ? 4 * vertices : 0),
      indices: new Uint32Array(corners),
      firstMoving: pieces.reduce((n, p) => n + (p.moves ? 0 : p.indices.length / 3), 0),
      trianglePart: new Uint32Array(corners / 3),
      parts: this.parts,
      objects: this.objects,
      materials: this.materials,
    };
    let v = 0;
    let c = 0;
    for (const p of pieces) {
      out.positions.set(p.positions, 3 * v);
      if (moving) out.positionsEnd.set(p.positionsEnd, 3 * v);
      out.normals.set(p.normals, 3 * v);
      out.colours.set(p.colours, 3 * v);
      if (textured && p.uvs) out.uvs.set(p.uvs, 4 * v);
      for (let i = 0; i < p.indices.length; i++) out.indices[c + i] = p.indices[i]! + v;
      out.trianglePart.fill(p.part, c / 3, (c + p.indices.length) / 3);
      v += p.positions.length / 3;
      c += p.indices.length;
    }
    return out;
  }
}
