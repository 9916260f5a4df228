import type { Node } from '@gltf-transform/core';
import type { Light } from '@gltf-transform/extensions';
import { posedVertices } from './deform.ts';
import type { SceneFile } from './open.ts';
import { multiply, poseAt, type Matrix, type Pose } from './pose.ts';
import { readCamera, rigid, sceneAt, type Moment } from './read-gltf.ts';
import type { Camera, Rgb } from './scene.ts';

/** Where something is at each moment: column-major matrices to the world, turned and moved but never scaled. */
export interface Track {
  /** Path of its node. */
  path: string;
  matrices: Matrix[];
}
export interface CameraTrack extends Track {
  /** Its lens, which does not change; the matrix in it is that of the first moment. */
  lens: Camera;
}
export interface LightTrack extends Track {
  type: 'directional' | 'point' | 'spot';
  /** Linear Rec. 709. */
  colour: Rgb;
  /** Candela, or lux for a directional one, as in KHR_lights_punctual. */
  intensity: number;
  innerCone: number;
  outerCone: number;
}
export interface ObjectTrack extends Track {
  /** Width, height and depth along its own axes at the first moment, in scene units; its matrix points to the middle. */
  size: Rgb;
}
export interface SceneTracks {
  camera: CameraTrack;
  lights: LightTrack[];
  objects: ObjectTrack[];
}

interface Box {
  low: number[];
  high: number[];
}
const grow = (box: Box, element: ArrayLike<number>, at = 0): void => {
  for (let k = 0; k < 3; k++) {
    box.low[k] = Math.min(box.low[k]!, element[at + k]!);
    box.high[k] = Math.max(box.high[k]!, element[at + k]!);
  }
};
const emptyBox = (): Box => ({
  low: [Infinity, Infinity, Infinity],
  high: [-Infinity, -Infinity, -Infinity],
});
const middle = ({ low, high }: Box) => low.map((l, k) => (l + high[k]!) / 2);

/** The box around an object along its own axes, before it is moved. */
function ownBox(node: Node): Box {
  const box = emptyBox();
  for (const primitive of node.getMesh()!.listPrimitives()) {
    const position = primitive.getAttribute('POSITION');
    if (!position) continue;
    grow(box, position.getMin([]));
    grow(box, position.getMax([]));
  }
  return box;
}
/** The same along the world's axes of an object whose corners move against each other. */
function posedBox(node: Node, pose: Pose): Box {
  const box = emptyBox();
  for (const primitive of node.getMesh()!.listPrimitives()) {
    const { positions } = posedVertices(node, primitive, pose);
    for (let i = 0; i < positions.length; i += 3) grow(box, positions, i);
  }
  return box;
}
const bends = (node: Node) =>
  node.getSkin() !== null ||
  node
    .getMesh()!
    .listPrimitives()
    .some((p) => p.listTargets().length > 0);

const moved = ([x, y, z]: readonly number[]): Matrix =>
  Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x!, y!, z!, 1);

function objectTrack({ node, path }: SceneFile['nodes'][number], poses: readonly Pose[]): ObjectTrack {
  if (bends(node)) {
    const boxes = poses.map((pose) => posedBox(node, pose));
    const [first] = boxes;
    const size = first!.high.map((h, k) => h - first!.low[k]!) as [number, number, number];
    return { path, size, matrices: boxes.map((box) => moved(middle(box))) };
  }
  const box = ownBox(node);
  const matrices = poses.map((pose) => multiply(pose.world.get(node)!, moved(middle(box))));
  const scale = (axis: number) => Math.hypot(...[0, 1, 2].map((r) => matrices[0]![4 * axis + r]!));
  const size = box.high.map((h, k) => (h - box.low[k]!) * scale(k)) as [number, number, number];
  return { path, size, matrices: matrices.map(rigid) };
}

function lightTrack(
  { node, path }: SceneFile['nodes'][number],
  light: Light,
  poses: readonly Pose[],
): LightTrack {
  return {
    path,
    matrices: poses.map((pose) => rigid(pose.world.get(node)!)),
    type: light.getType(),
    colour: light.getColor() as unknown as Rgb,
    intensity: light.getIntensity(),
    innerCone: light.getInnerConeAngle(),
    outerCone: light.getOuterConeAngle(),
  };
}

/**
 * Follows a scene's camera, its lights and some of its objects over moments: each in the middle of the time in which the
 * shutter is open, where what is blurred is seen. Throws {@link SceneError} for a scene that cannot be posed.
 * @param objects paths of objects
 */
export function tracksOf(
  file: SceneFile,
  moments: readonly Moment[],
  objects: ReadonlySet<string>,
): SceneTracks {
  const nodes = file.nodes.map((n) => n.node);
  const middles = moments.map((m): Moment => ({ ...m, time: m.time + (m.shutter * m.frameTime) / 2 }));
  const poses = middles.map((m) => poseAt(file.document, nodes, m.time));
  // A scene without a camera is looked at from where all of it is seen.
  const cameras = poses.map(
    (pose, i) =>
      readCamera(file, pose, pose, middles[i]!.camera) ??
      sceneAt(file, { ...middles[i]!, shutter: 0 }).camera,
  );
  const path = middles[0]?.camera ?? file.nodes.find((n) => n.node.getCamera())?.path ?? 'camera';
  return {
    camera: { path, lens: cameras[0]!, matrices: cameras.map((c) => c.matrix) },
    lights: file.nodes.flatMap((n) => {
      const light = n.node.getExtension<Light>('KHR_lights_punctual');
      return light ? [lightTrack(n, light, poses)] : [];
    }),
    objects: file.nodes
      .filter((n) => n.node.getMesh() && objects.has(n.path))
      .map((n) => objectTrack(n, poses)),
  };
}

/**
 * Where a camera sees a point of the world: x to the right and y down in a picture of this size, pixel middles at
 * halves, and how far before the camera it is; undefined behind it.
 */
export function seenAt(
  lens: Camera,
  matrix: Matrix,
  [x, y, z]: ArrayLike<number> & Iterable<number>,
  size: { width: number; height: number; pixelAspect?: number },
): { x: number; y: number; depth: number } | undefined {
  const d = [x! - matrix[12]!, y! - matrix[13]!, z! - matrix[14]!];
  const along = (axis: number) => [0, 1, 2].reduce((sum, r) => sum + d[r]! * matrix[4 * axis + r]!, 0);
  const depth = -along(2);
  if (depth <= 0) return undefined;
  const tall = lens.yfov > 0 ? Math.tan(lens.yfov / 2) * depth : lens.yHalf;
  const wide = (tall * size.width * (size.pixelAspect ?? 1)) / size.height;
  return {
    x: ((along(0) / wide + 1) / 2) * size.width,
    y: ((1 - along(1) / tall) / 2) * size.height,
    depth,
  };
}
