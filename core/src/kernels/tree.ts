import {
  MOVING_NODE_BYTES,
  MOVING_PACKET_BYTES,
  NODE_BYTES,
  PACKET_BYTES,
} from '../../kernels/rays/layout.ts';
import { BYTES } from './generated/tree.ts';
import { aligned, loadKernel, memoryUpTo, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  build(
    count: number,
    positions: number,
    ends: number,
    indices: number,
    boxes: number,
    order: number,
    runs: number,
    nodes: number,
  ): void;
  nodesMade(): number;
  packetsMade(): number;
  writePackets(packets: number, base: number): void;
}

/** Triangles of a mesh that one tree holds, numbered as in the mesh. */
export interface TriangleRange {
  from: number;
  to: number;
}

/** A search tree that was built and waits to be copied to where it will be searched. */
export interface BuiltTree {
  nodeBytes: number;
  packetBytes: number;
  /** Copies nodes and packets to two places of a memory. */
  write(memory: ArrayBufferLike, nodesAt: number, packetsAt: number): void;
}

/** Bytes a triangle that building takes besides the mesh: box, number, run. */
const WORK_BYTES = 32 + 4 + 8;

/**
 * Builds the tree of a range of triangles, at least one.
 * @param positions x, y, z of each vertex
 * @param positionsEnd where the vertices are when the shutter closes, for triangles that move
 */
export function buildTree(
  positions: Float32Array,
  indices: Uint32Array,
  { from, to }: TriangleRange,
  positionsEnd?: Float32Array,
): BuiltTree {
  const k = loadKernel<Exports>(BYTES);
  const count = to - from;
  const own = indices.subarray(3 * from, 3 * to);
  const open = aligned(k.heap());
  const shut = aligned(open + positions.byteLength);
  const corners = aligned(shut + (positionsEnd?.byteLength ?? 0));
  const boxes = aligned(corners + own.byteLength);
  const order = aligned(boxes + 32 * count);
  const runs = aligned(order + 4 * count);
  const nodes = aligned(runs + 8 * count);
  const memory = memoryUpTo(k, nodes + NODE_BYTES);
  new Float32Array(memory.buffer, open, positions.length).set(positions);
  if (positionsEnd) new Float32Array(memory.buffer, shut, positionsEnd.length).set(positionsEnd);
  new Uint32Array(memory.buffer, corners, own.length).set(own);
  k.build(count, open, positionsEnd ? shut : 0, corners, boxes, order, runs, nodes);
  const nodeBytes = k.nodesMade() * (positionsEnd ? MOVING_NODE_BYTES : NODE_BYTES);
  const packetBytes = k.packetsMade() * (positionsEnd ? MOVING_PACKET_BYTES : PACKET_BYTES);
  return {
    nodeBytes,
    packetBytes,
    write(target, nodesAt, packetsAt) {
      const packets = aligned(nodes + nodeBytes);
      const made = memoryUpTo(k, packets + packetBytes);
      k.writePackets(packets, from);
      new Uint8Array(target, nodesAt, nodeBytes).set(made.subarray(nodes, nodes + nodeBytes));
      new Uint8Array(target, packetsAt, packetBytes).set(made.subarray(packets, packets + packetBytes));
    },
  };
}

/** Bytes that the tree of so many triangles will take at most as a rule, and that building it takes for a while. */
export const treeBytes = (
  count: number,
  vertices: number,
  moves: boolean,
): { kept: number; building: number } => ({
  kept: count * (moves ? 190 : 100),
  building: count * (WORK_BYTES + 12 + (moves ? 190 : 100)) + vertices * (moves ? 24 : 12),
});
