/** The chain of sights: what is seen through glass or in mirrors, as long as it can be recognised. */
import { Chain, Field, Lane, Lobe, Part } from './layout';
import { int, lane, laneInt, number, partOf, parts, put, putInt } from './memory';
import { luminance } from './arithmetic';
import { roughness } from './here';
import { lobe } from './materials';

/** Notes what is seen through glass or in a mirror, in every layer that asks for it. */
function sight(path: i32, part: i32): void {
  const layers = laneInt(Lane.layers);
  const way = int(Field.chain, path);
  const depth = int(Field.chainDepth, path);
  const rough = number(Field.chainRough, path);
  const row: usize = laneInt(Lane.sights) + 8 * layers * path;
  for (let i = 0; i < layers; i++) {
    const layer = lane + 4 * Lane.layerTable + 12 * i;
    if (load<i32>(layer) != way || load<i32>(layer + 4) != depth || rough > load<f32>(layer + 8)) continue;
    store<i32>(row + 8 * i, part);
    const w = luminance(
      number(Field.weightR, path),
      number(Field.weightG, path),
      number(Field.weightB, path),
    );
    store<f32>(row + 8 * i + 4, min<f32>(1, w));
  }
}

/** Follows the chain to a part that was met: a new object is a sighting. False if there is no chain to follow. */
export function meetChain(path: i32, part: i32): bool {
  const chain = int(Field.chain, path);
  if (chain != Chain.refraction && chain != Chain.reflection) return false;
  const object = load<i32>(parts + 4 * Part.count * part + 4 * Part.object);
  if (object != int(Field.chainObject, path)) {
    putInt(Field.chainDepth, path, int(Field.chainDepth, path) + 1);
    putInt(Field.chainObject, path, object);
    sight(path, part);
  }
  return true;
}

/** Begins a chain at the first surface, by what the path does there. */
// inline
export function beginChain(path: i32): void {
  putInt(
    Field.chain,
    path,
    lobe == Lobe.through ? Chain.refraction : lobe == Lobe.reflect ? Chain.reflection : Chain.over,
  );
  put(Field.chainRough, path, roughness);
  putInt(Field.chainObject, path, load<i32>(partOf(int(Field.triangle, path)) + 4 * Part.object));
}

/** Goes on with a chain at a later surface, or ends it. */
// inline
export function goOnChain(path: i32): void {
  const chain = int(Field.chain, path);
  if (chain == Chain.over) return;
  const goesOn = lobe != Lobe.diffuse && (chain == Chain.reflection || lobe == Lobe.through);
  if (!goesOn) putInt(Field.chain, path, Chain.over);
  else if (roughness > number(Field.chainRough, path)) put(Field.chainRough, path, roughness);
}
