import type { AnimationChannel, Document, Node } from '@gltf-transform/core';

/** Column-major 4x4 matrices. */
export type Matrix = Float64Array;

export const identity = (): Matrix => Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);

export function multiply(a: ArrayLike<number>, b: ArrayLike<number>): Matrix {
  const out = new Float64Array(16);
  for (let c = 0; c < 4; c++)
    for (let r = 0; r < 4; r++) {
      let sum = 0;
      for (let k = 0; k < 4; k++) sum += a[4 * k + r]! * b[4 * c + k]!;
      out[4 * c + r] = sum;
    }
  return out;
}

/** Matrix of a translation, a unit quaternion and a scale. */
export function compose(t: ArrayLike<number>, q: ArrayLike<number>, s: ArrayLike<number>): Matrix {
  const [x, y, z, w] = [q[0]!, q[1]!, q[2]!, q[3]!];
  const rotation = [
    [1 - 2 * (y * y + z * z), 2 * (x * y + z * w), 2 * (x * z - y * w)],
    [2 * (x * y - z * w), 1 - 2 * (x * x + z * z), 2 * (y * z + x * w)],
    [2 * (x * z + y * w), 2 * (y * z - x * w), 1 - 2 * (x * x + y * y)],
  ];
  const out = new Float64Array(16);
  for (let c = 0; c < 3; c++) for (let r = 0; r < 3; r++) out[4 * c + r] = rotation[c]![r]! * s[c]!;
  out.set([t[0]!, t[1]!, t[2]!, 1], 12);
  return out;
}

/** Spherical interpolation of unit quaternions (Shoemake 1985), the short way round. */
function slerp(a: readonly number[], b: readonly number[], t: number): number[] {
  let cosine = a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]! + a[3]! * b[3]!;
  const sign = cosine < 0 ? -1 : 1;
  cosine = Math.min(1, cosine * sign);
  const angle = Math.acos(cosine);
  const sine = Math.sin(angle);
  const [wa, wb] = sine < 1e-6 ? [1 - t, t] : [Math.sin((1 - t) * angle) / sine, Math.sin(t * angle) / sine];
  const out = a.map((v, i) => wa! * v + sign * wb! * b[i]!);
  const length = Math.hypot(...out);
  return out.map((v) => v / length);
}

/** Value of an animation channel at a time in seconds; held before its first and after its last key. */
function valueAt(channel: AnimationChannel, time: number): number[] | undefined {
  const sampler = channel.getSampler();
  const input = sampler?.getInput();
  const output = sampler?.getOutput();
  if (!sampler || !input || !output || input.getCount() === 0) return undefined;
  const count = input.getCount();
  const cubic = sampler.getInterpolation() === 'CUBICSPLINE';
  const width = channel.getTargetPath() === 'weights' ? output.getCount() / count / (cubic ? 3 : 1) : 1;
  // A key's value; cubic splines store in-tangent, value and out-tangent.
  const read = (key: number, part: 0 | 1 | 2 = 1): number[] => {
    const first = (cubic ? key * 3 + part : key) * width;
    const list: number[] = [];
    for (let i = 0; i < width; i++) list.push(...output.getElement(first + i, []));
    return list;
  };
  let next = 0;
  while (next < count && input.getScalar(next) <= time) next++;
  if (next === 0) return read(0);
  if (next === count) return read(count - 1);
  const from = input.getScalar(next - 1);
  const length = input.getScalar(next) - from;
  const t = (time - from) / length;
  const a = read(next - 1);
  const b = read(next);
  if (sampler.getInterpolation() === 'STEP') return a;
  const turn = channel.getTargetPath() === 'rotation';
  if (cubic) {
    const ta = read(next - 1, 2);
    const tb = read(next, 0);
    const t2 = t * t;
    const t3 = t2 * t;
    const out = a.map(
      (v, i) =>
        (2 * t3 - 3 * t2 + 1) * v +
        (t3 - 2 * t2 + t) * length * ta[i]! +
        (3 * t2 - 2 * t3) * b[i]! +
        (t3 - t2) * length * tb[i]!,
    );
    const norm = turn ? Math.hypot(...out) : 1;
    return out.map((v) => v / norm);
  }
  return turn ? slerp(a, b, t) : a.map((v, i) => v + (b[i]! - v) * t);
}

/** World matrices and morph weights of all nodes at one time. */
export interface Pose {
  world: Map<Node, Matrix>;
  weights: Map<Node, number[]>;
}

/** Length of the longest animation in seconds, 0 for a scene at rest. */
export function animationLength(document: Document): number {
  let longest = 0;
  for (const animation of document.getRoot().listAnimations())
    for (const sampler of animation.listSamplers()) {
      const input = sampler.getInput();
      if (input && input.getCount() > 0) longest = Math.max(longest, input.getScalar(input.getCount() - 1));
    }
  return longest;
}

/** Poses a document at a time in seconds. `nodes` come parents first. */
export function poseAt(document: Document, nodes: readonly Node[], time: number): Pose {
  const moved = new Map<Node, Partial<Record<string, number[]>>>();
  for (const animation of document.getRoot().listAnimations())
    for (const channel of animation.listChannels()) {
      const node = channel.getTargetNode();
      const path = channel.getTargetPath();
      const value = node && path && valueAt(channel, time);
      if (value) moved.set(node, { ...moved.get(node), [path]: value });
    }
  const pose: Pose = { world: new Map(), weights: new Map() };
  for (const node of nodes) {
    const own = moved.get(node);
    const local = own
      ? compose(
          own['translation'] ?? node.getTranslation(),
          own['rotation'] ?? node.getRotation(),
          own['scale'] ?? node.getScale(),
        )
      : Float64Array.from(node.getMatrix());
    const parent = node.getParentNode();
    const above = parent && pose.world.get(parent);
    pose.world.set(node, above ? multiply(above, local) : local);
    const weights = own?.['weights'] ?? node.getWeights();
    pose.weights.set(node, weights.length ? weights : (node.getMesh()?.getWeights() ?? []));
  }
  return pose;
}
