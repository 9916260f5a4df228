import * as layout from '../../../kernels/rays/layout.ts';
import { rayKernelNeeds } from '../../kernels/rays.ts';
import { aligned } from '../../kernels/load.ts';
import { buildTree, treeBytes, type BuiltTree } from '../../kernels/tree.ts';
import { srgbToLinear } from '../../colour/srgb.ts';
import type { Scene, SceneMaterial, TextureUse } from '../../scene/scene.ts';
import type { Texture } from '../../scene/texture.ts';
import { aroundSums, lightChoice } from '../light-choice.ts';
import { shadowTint } from '../shadow-tint.ts';
import { sunRadiance } from '../sky.ts';
import { ALL_RAYS, RAY } from '../ray-kinds.ts';

const { Scene: S, Part, Material, Texture: T, Use, Sun, Lamp, Shining, Sky } = layout;

/** A scene and the search trees of its triangles in memory that threads share; each thread has a lane of its own. */
export interface SceneMemory {
  memory: WebAssembly.Memory;
  /** Address of the scene's table. */
  scene: number;
  /** Address of the first lane, bytes from one to the next, and their number. */
  lanes: number;
  laneBytes: number;
  count: number;
  /** True if there are lamps or shining surfaces, and if a picture of light is all around. */
  lights: boolean;
  around: boolean;
}

/** Bytes that a lane has for its table, filter, stack, rows of results and sightings, besides its arrays. */
const STACK_BYTES = 64 + 8 * 256;
const ROW_BYTES = 96 + 12;
const LANE_TABLE = 4 * (layout.Lane.count + 4);
/** Where the pieces of a lane stand, from its beginning. */
export function laneOf(sources: number, layers: number) {
  const { fieldBytes, reachBytes } = rayKernelNeeds();
  let end = 0;
  const piece = (bytes: number) => {
    const at = end;
    end = aligned(end + bytes);
    return at;
  };
  return {
    table: piece(LANE_TABLE),
    filter: piece(4 * (layout.FILTER_STEPS + 2)),
    // 64 bytes below the stack are scratch.
    stack: piece(STACK_BYTES) + 64,
    reach: piece(reachBytes),
    fields: piece(fieldBytes),
    rows: piece(layout.WAVE * (ROW_BYTES + 12 * sources)),
    sights: piece(layout.WAVE * 8 * layers),
    bytes: end,
  };
}

/** Pieces of memory one after the other: where each stands, and what fills it once there is memory. */
class Pieces {
  private readonly fills: ((memory: ArrayBufferLike) => void)[] = [];

  constructor(public end: number) {}

  /** Makes room for some bytes, at a multiple of 64. */
  room(bytes: number, fill: (memory: ArrayBufferLike, at: number) => void): number {
    const at = this.end;
    this.end = aligned(at + bytes);
    this.fills.push((memory) => fill(memory, at));
    return at;
  }
  /** Copies an array; 0 for an empty one. */
  copy(from: Float32Array | Float64Array | Uint32Array | Int32Array | Uint8Array): number {
    if (from.length === 0) return 0;
    const bytes = new Uint8Array(from.buffer, from.byteOffset, from.byteLength);
    return this.room(bytes.length, (memory, at) => new Uint8Array(memory, at, bytes.length).set(bytes));
  }
  fill(memory: ArrayBufferLike): void {
    for (const fill of this.fills) fill(memory);
  }
}

/** Numbers and whole numbers side by side, by their slots. */
class Table {
  readonly numbers: Float32Array;
  readonly ints: Int32Array;
  readonly doubles: Float64Array;
  constructor(slots: number) {
    const buffer = new ArrayBuffer(8 * Math.ceil(slots / 2));
    this.numbers = new Float32Array(buffer);
    this.ints = new Int32Array(buffer);
    this.doubles = new Float64Array(buffer);
  }
}

/** Bytes that WebAssembly can name with 32 bits, less a page. */
export const MOST_BYTES = 2 ** 32 - 65536;

/** About how many bytes a scene takes for as many threads, those that building its trees takes for a while included. */
export function neededBytes(scene: Scene, lanes: number): number {
  const { indices, firstMoving, positions, surroundings } = scene;
  const triangles = indices.length / 3;
  const resting = treeBytes(firstMoving, positions.length / 3, false);
  const moving = treeBytes(triangles - firstMoving, positions.length / 3, true);
  const textures = new Set(
    scene.materials.flatMap((m) =>
      [m.colourMap, m.surfaceMap, m.normalMap, m.emissionMap].map((u) => u?.texture),
    ),
  );
  let bytes = indices.byteLength + scene.trianglePart.byteLength + scene.normals.byteLength;
  bytes += scene.colours.byteLength + scene.uvs.byteLength;
  for (const texture of textures) bytes += texture?.data.byteLength ?? 0;
  if (surroundings) bytes += 20 * surroundings.width * surroundings.height;
  bytes += lanes * laneOf(2 + scene.suns.length + scene.lamps.length, layout.LAYERS).bytes;
  // Both trees are there while the second is being built.
  return bytes + resting.kept + moving.kept + resting.building + moving.building;
}

/** Puts a scene into memory. */
export function sceneMemory(scene: Scene, count = 1): SceneMemory {
  const pieces = new Pieces(rayKernelNeeds().heap);
  const table = new Table(S.count);
  const { ints, numbers } = table;
  const tableAt = pieces.room(4 * S.count, (memory, at) =>
    new Int32Array(memory, at, S.count).set(ints.subarray(0, S.count)),
  );
  addTrees(pieces, ints, scene);
  ints[S.indices] = pieces.copy(scene.indices);
  ints[S.trianglePart] = pieces.copy(scene.trianglePart);
  ints[S.normals] = pieces.copy(scene.normals);
  ints[S.colours] = scene.colours.some((c) => c !== 1) ? pieces.copy(scene.colours) : 0;
  ints[S.uvs] = pieces.copy(scene.uvs);
  addParts(pieces, ints, scene);
  addMaterials(pieces, ints, scene);
  addLights(pieces, ints, scene);
  addAround(pieces, table, scene);
  const { camera } = scene;
  ints[S.camera] = pieces.copy(Float64Array.from([...camera.matrix, ...camera.matrixEnd]));
  ints[S.cameraMoves] = Number(scene.shutter > 0 && camera.matrix.some((v, i) => v !== camera.matrixEnd[i]));
  ints[S.cameraParallel] = Number(camera.yfov <= 0);
  numbers[S.lensRadius] = camera.yfov > 0 ? camera.lensRadius : 0;
  numbers[S.focus] = camera.focus;
  numbers[S.shutter] = scene.shutter;

  const lanes = pieces.end;
  const laneBytes = laneOf(2 + scene.suns.length + scene.lamps.length, layout.LAYERS).bytes;
  const pages = Math.ceil((lanes + count * laneBytes) / 65536) + 1;
  const memory = new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true });
  pieces.fill(memory.buffer);
  const lights = ints[S.powerCount]! > 0;
  return { memory, scene: tableAt, lanes, laneBytes, count, lights, around: ints[S.around] !== 0 };
}

function addTrees(pieces: Pieces, ints: Int32Array, scene: Scene): void {
  const { positions, positionsEnd, indices, firstMoving } = scene;
  const add = (tree: BuiltTree): [nodes: number, packets: number] => {
    const nodes = pieces.room(tree.nodeBytes, () => undefined);
    const packets = pieces.room(tree.packetBytes, (memory, at) => tree.write(memory, nodes, at));
    return [nodes, packets];
  };
  const count = indices.length / 3;
  if (firstMoving > 0) {
    const tree = buildTree(positions, indices, { from: 0, to: firstMoving });
    [ints[S.nodes], ints[S.packets]] = add(tree);
  }
  if (firstMoving < count) {
    const tree = buildTree(positions, indices, { from: firstMoving, to: count }, positionsEnd);
    [ints[S.movingNodes], ints[S.movingPackets]] = add(tree);
  }
}

function addParts(pieces: Pieces, ints: Int32Array, scene: Scene): void {
  const table = new Table(Part.count * scene.parts.length);
  const tints = scene.materials.map(shadowTint);
  let allSeen = true;
  scene.parts.forEach((part, i) => {
    const at = Part.count * i;
    const seen = scene.objects[part.object]!.visible ?? ALL_RAYS;
    const visible = part.role === 'away' ? seen & ~RAY.camera : seen;
    allSeen &&= visible === ALL_RAYS;
    table.ints[at + Part.object] = part.object;
    table.ints[at + Part.material] = part.material;
    table.ints[at + Part.role] = layout.Role[part.role ?? 'shown'];
    table.ints[at + Part.visible] = visible;
    table.numbers.set(tints[part.material]!, at + Part.tint);
  });
  ints[S.parts] = pieces.copy(table.ints);
  ints[S.allSeen] = Number(allSeen);
  if (!scene.objects.some((o) => o.notSeenIn?.length)) return;
  const rows = new Map<number, Uint8Array>();
  scene.objects.forEach((o, i) =>
    o.notSeenIn?.forEach((mirror) => {
      if (!rows.has(mirror)) rows.set(mirror, new Uint8Array(scene.objects.length));
      rows.get(mirror)![i] = 1;
    }),
  );
  const doors = new Int32Array(scene.objects.length);
  for (const [mirror, row] of rows) doors[mirror] = pieces.copy(row);
  ints[S.doors] = pieces.copy(doors);
}

function addMaterials(pieces: Pieces, ints: Int32Array, scene: Scene): void {
  ints[S.textures] = pieces.copy(Float32Array.from({ length: 256 }, (_, i) => srgbToLinear(i / 255)));
  const known = new Map<Texture, number>();
  const textureAt = (texture: Texture): number => {
    const before = known.get(texture);
    if (before !== undefined) return before;
    const table = new Int32Array(T.count);
    table[T.data] = pieces.copy(texture.data);
    table[T.width] = texture.width;
    table[T.height] = texture.height;
    table[T.wrapS] = layout.Wrap[texture.wrapS];
    table[T.wrapT] = layout.Wrap[texture.wrapT];
    const at = pieces.copy(table);
    known.set(texture, at);
    return at;
  };
  const table = new Table(Material.count * scene.materials.length);
  scene.materials.forEach((m, i) => addMaterial(table, Material.count * i, m, textureAt));
  ints[S.materials] = pieces.copy(table.ints);
}

function addMaterial(table: Table, at: number, m: SceneMaterial, textureAt: (t: Texture) => number): void {
  const { ints, numbers } = table;
  numbers.set(m.colour, at + Material.colour);
  numbers[at + Material.metalness] = m.metalness;
  numbers[at + Material.roughness] = m.roughness;
  numbers[at + Material.ior] = m.ior;
  numbers.set(m.emission, at + Material.emission);
  numbers[at + Material.transmission] = m.transmission;
  numbers.set(m.absorption ?? [0, 0, 0], at + Material.absorption);
  ints[at + Material.absorbs] = Number(m.absorption !== undefined);
  ints[at + Material.alphaMode] = layout.Alpha[m.alphaMode];
  numbers[at + Material.alpha] = m.alpha;
  numbers[at + Material.cutoff] = m.cutoff;
  ints[at + Material.unlit] = Number(m.unlit);
  const use = (map: number, from: (TextureUse & { scale?: number }) | undefined) => {
    if (!from) return;
    ints[at + map + Use.texture] = textureAt(from.texture);
    ints[at + map + Use.set] = from.set;
    numbers.set(from.transform, at + map + Use.rows);
    numbers[at + map + Use.scale] = from.scale ?? 1;
  };
  use(Material.colourMap, m.colourMap);
  use(Material.surfaceMap, m.surfaceMap);
  use(Material.normalMap, m.normalMap);
  use(Material.emissionMap, m.emissionMap);
}

function addLights(pieces: Pieces, ints: Int32Array, scene: Scene): void {
  const suns = new Table(Math.max(1, Sun.count * scene.suns.length));
  scene.suns.forEach((sun, i) => {
    const at = Sun.count * i;
    suns.numbers.set(sun.direction, at + Sun.direction);
    suns.numbers.set(sun.irradiance, at + Sun.irradiance);
    suns.numbers.set(sunRadiance(sun), at + Sun.radiance);
    suns.numbers[at + Sun.cosine] = Math.cos(sun.angularRadius);
  });
  ints[S.suns] = pieces.copy(suns.ints);
  ints[S.sunCount] = scene.suns.length;
  const lamps = new Table(Math.max(1, Lamp.count * scene.lamps.length));
  scene.lamps.forEach((lamp, i) => {
    const at = Lamp.count * i;
    lamps.numbers.set(lamp.position, at + Lamp.position);
    lamps.numbers.set(lamp.direction, at + Lamp.direction);
    lamps.numbers.set(lamp.intensity, at + Lamp.intensity);
    lamps.numbers[at + Lamp.innerCosine] = lamp.innerCosine;
    lamps.numbers[at + Lamp.outerCosine] = lamp.outerCosine;
  });
  ints[S.lamps] = pieces.copy(lamps.ints);
  ints[S.lampCount] = scene.lamps.length;
  const lights = lightChoice(scene);
  ints[S.powers] = pieces.copy(lights.sums);
  ints[S.powerCount] = lights.total > 0 ? lights.sums.length - 1 : 0;
  if (lights.triangles.length === 0) return;
  ints[S.densities] = pieces.copy(lights.densityOf);
  const shining = new Table(Shining.count * lights.triangles.length);
  lights.triangles.forEach((triangle, i) => {
    const at = Shining.count * i;
    const from = (positions: Float32Array, corner: number, axis: number) =>
      positions[3 * scene.indices[3 * triangle + corner]! + axis]!;
    for (let k = 0; k < 9; k++) {
      const [corner, axis] = [Math.floor(k / 3), k % 3];
      const edge = (positions: Float32Array) =>
        from(positions, corner, axis) - (corner > 0 ? from(positions, 0, axis) : 0);
      shining.numbers[at + Shining.corner + k] = edge(scene.positions);
      shining.numbers[at + Shining.motion + k] = edge(scene.positionsEnd) - edge(scene.positions);
    }
    shining.ints[at + Shining.triangle] = triangle;
  });
  ints[S.shining] = pieces.copy(shining.ints);
}

function addAround(pieces: Pieces, { ints, numbers }: Table, scene: Scene): void {
  const sky = new Float32Array(Sky.count);
  sky.set(scene.sky.zenith, Sky.zenith);
  sky.set(scene.sky.horizon, Sky.horizon);
  sky.set(scene.sky.ground, Sky.ground);
  sky.set(scene.sky.glow?.direction ?? [0, 0, 0], Sky.direction);
  sky.set(scene.sky.glow?.radiance ?? [0, 0, 0], Sky.radiance);
  sky[Sky.sharpness] = scene.sky.glow?.sharpness ?? -1;
  ints[S.sky] = pieces.copy(sky);
  const { surroundings } = scene;
  if (!surroundings) return;
  const { rows, columns } = aroundSums(surroundings);
  ints[S.around] = pieces.copy(surroundings.data);
  ints[S.aroundRows] = pieces.copy(rows);
  ints[S.aroundColumns] = pieces.copy(columns);
  ints[S.aroundWidth] = surroundings.width;
  ints[S.aroundHeight] = surroundings.height;
  numbers[S.aroundTurn] = surroundings.turn;
  numbers[S.aroundGain] = surroundings.gain;
}
