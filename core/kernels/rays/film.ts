/** Light that a path brings home, into its row: by its ways or all in one, then by its sources. */
import { Field, Lane } from './layout';
import { laneInt } from './memory';

/** Light that arrives by a rough bounce is cut off here: rarer, brighter samples would only be specks. */
const INDIRECT_LIMIT: f32 = 8;

// inline
function addTo(at: usize, r: f32, g: f32, b: f32): void {
  store<f32>(at, load<f32>(at) + r);
  store<f32>(at + 4, load<f32>(at + 4) + g);
  store<f32>(at + 8, load<f32>(at + 8) + b);
}

/** Adds light from a source by a way; after rough bounces it is limited. */
export function addLight(path: i32, way: i32, source: i32, r: f32, g: f32, b: f32, rough: i32): void {
  if (rough > 0) {
    r = min<f32>(INDIRECT_LIMIT, r);
    g = min<f32>(INDIRECT_LIMIT, g);
    b = min<f32>(INDIRECT_LIMIT, b);
  }
  const row: usize = laneInt(Lane.rows) + laneInt(Lane.rowBytes) * path;
  const apart = laneInt(Lane.parts);
  addTo(row + (apart ? 12 * way : 0), r, g, b);
  if (laneInt(Lane.sources)) addTo(row + (apart ? 96 : 12) + 12 * source, r, g, b);
}
