import type { Document } from '@gltf-transform/core';
import type { InstancedMesh } from '@gltf-transform/extensions';

/**
 * Makes every instance of EXT_mesh_gpu_instancing a node of its own below the node that lists them, called after it and
 * counted from 1: so each can have its own ID. The mesh is shared; attributes are handed down.
 */
export function spreadInstances(document: Document): void {
  for (const node of document.getRoot().listNodes()) {
    const list = node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing');
    const mesh = node.getMesh();
    if (!list || !mesh) continue;
    const [moves, turns, sizes] = ['TRANSLATION', 'ROTATION', 'SCALE'].map((k) => list.getAttribute(k));
    const count = Math.max(0, ...list.listAttributes().map((a) => a.getCount()));
    for (let i = 0; i < count; i++) {
      const one = document
        .createNode(`${node.getName() || 'unnamed'}_${i + 1}`)
        .setMesh(mesh)
        .setExtras(node.getExtras());
      if (moves) one.setTranslation(moves.getElement<[number, number, number]>(i, [0, 0, 0]));
      if (turns) one.setRotation(turns.getElement<[number, number, number, number]>(i, [0, 0, 0, 1]));
      if (sizes) one.setScale(sizes.getElement<[number, number, number]>(i, [1, 1, 1]));
      node.addChild(one);
    }
    node.setMesh(null);
    node.setExtension('EXT_mesh_gpu_instancing', null);
  }
}
