import type { Node, Primitive } from '@gltf-transform/core';
import { multiply, type Matrix, type Pose } from './pose.ts';

/** Cofactor matrix of the upper 3x3: it carries normals through any transform, mirrored ones included. */
function cofactors(m: ArrayLike<number>): number[] {
  const [a, b, c, d, e, f, g, h, i] = [0, 1, 2, 4, 5, 6, 8, 9, 10].map((k) => m[k]!) as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const out = [
    e * i - f * h,
    f * g - d * i,
    d * h - e * g,
    c * h - b * i,
    a * i - c * g,
    b * g - a * h,
    b * f - c * e,
    c * d - a * f,
    a * e - b * d,
  ];
  return a * out[0]! + b * out[1]! + c * out[2]! < 0 ? out.map((x) => -x) : out;
}

/** World-space vertices of a primitive as a pose puts them: morphed, skinned, then placed. */
export interface PosedVertices {
  positions: Float32Array;
  /** Unit normals; 0, 0, 0 where the file has none. */
  normals: Float32Array;
}

/** Adds up the morph targets of an attribute. */
function morphed(
  primitive: Primitive,
  name: 'POSITION' | 'NORMAL',
  weights: readonly number[],
): Float32Array {
  const base = primitive.getAttribute(name)!;
  const count = base.getCount();
  const out = new Float32Array(3 * count);
  const v: number[] = [];
  for (let i = 0; i < count; i++) {
    base.getElement(i, v);
    out.set([v[0]!, v[1]!, v[2]!], 3 * i);
  }
  primitive.listTargets().forEach((target, k) => {
    const delta = target.getAttribute(name);
    const weight = weights[k] ?? 0;
    if (!delta || weight === 0) return;
    for (let i = 0; i < count; i++) {
      delta.getElement(i, v);
      for (let c = 0; c < 3; c++) out[3 * i + c]! += weight * v[c]!;
    }
  });
  return out;
}

/** Matrices that carry a skin's vertices from rest into the world. */
function jointMatrices(node: Node, pose: Pose): Matrix[] | undefined {
  const skin = node.getSkin();
  if (!skin) return undefined;
  const inverse = skin.getInverseBindMatrices();
  return skin.listJoints().map((joint, i) => {
    const world = pose.world.get(joint) ?? Float64Array.from(joint.getWorldMatrix());
    return inverse ? multiply(world, inverse.getElement(i, [])) : world;
  });
}

/** Vertices of one primitive of a node in the world. */
export function posedVertices(node: Node, primitive: Primitive, pose: Pose): PosedVertices {
  const weights = pose.weights.get(node) ?? [];
  const positions = morphed(primitive, 'POSITION', weights);
  const hasNormals = primitive.getAttribute('NORMAL') !== null;
  const normals = hasNormals ? morphed(primitive, 'NORMAL', weights) : new Float32Array(positions.length);
  const joints = primitive.getAttribute('JOINTS_0');
  const shares = primitive.getAttribute('WEIGHTS_0');
  const matrices = joints && shares ? jointMatrices(node, pose) : undefined;
  const fixed = pose.world.get(node)!;
  const fixedCofactors = cofactors(fixed);
  const j: number[] = [];
  const w: number[] = [];
  for (let i = 0; i < positions.length / 3; i++) {
    let m: ArrayLike<number> = fixed;
    let k = fixedCofactors;
    if (matrices) {
      joints!.getElement(i, j);
      shares!.getElement(i, w);
      const blend = new Float64Array(16);
      for (let n = 0; n < 4; n++) {
        const matrix = matrices[j[n]!];
        if (matrix && w[n]! > 0) for (let e = 0; e < 16; e++) blend[e]! += w[n]! * matrix[e]!;
      }
      m = blend;
      k = cofactors(blend);
    }
    const at = 3 * i;
    const [x, y, z] = [positions[at]!, positions[at + 1]!, positions[at + 2]!];
    for (let r = 0; r < 3; r++) positions[at + r] = m[r]! * x + m[4 + r]! * y + m[8 + r]! * z + m[12 + r]!;
    const [a, b, c] = [normals[at]!, normals[at + 1]!, normals[at + 2]!];
    const n = [0, 1, 2].map((r) => k[r]! * a + k[3 + r]! * b + k[6 + r]! * c);
    const length = Math.hypot(n[0]!, n[1]!, n[2]!);
    for (let r = 0; r < 3; r++) normals[at + r] = length > 0 ? n[r]! / length : 0;
  }
  return { positions, normals };
}
