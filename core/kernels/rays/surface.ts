/** Normal, colour and roughness of the surface that a path has met, textures included. */
import { Field, Material, MOVING_PACKET_BYTES, PACKET_BYTES, Scene, Use } from './layout';
import { int, movingPackets, number, packets, partOf, put, putInt, sceneInt } from './memory';
import { lengthOf } from './arithmetic';
import { materialOf, texelB, texelG, texelR, textureAt } from './textures';
import { MOVING } from './tree';

/** Corner and edges of a triangle at a time of the shutter. */
let ax: f32 = 0;
let ay: f32 = 0;
let az: f32 = 0;
let e1x: f32 = 0;
let e1y: f32 = 0;
let e1z: f32 = 0;
let e2x: f32 = 0;
let e2y: f32 = 0;
let e2z: f32 = 0;

// inline
function at(place: i32, time: f32): usize {
  const lane = 4 * (place & 3);
  if (!(place & MOVING)) return packets + PACKET_BYTES * (place >> 2) + lane;
  return movingPackets + MOVING_PACKET_BYTES * ((place & (MOVING - 1)) >> 2) + lane;
}
// inline
function component(from: usize, row: i32, moving: bool, time: f32): f32 {
  const value = load<f32>(from + 16 * row);
  return moving ? value + time * load<f32>(from + PACKET_BYTES + 16 * row) : value;
}

function setCorners(place: i32, time: f32): void {
  const from = at(place, time);
  const moving = (place & MOVING) != 0;
  ax = component(from, 0, moving, time);
  ay = component(from, 1, moving, time);
  az = component(from, 2, moving, time);
  e1x = component(from, 3, moving, time);
  e1y = component(from, 4, moving, time);
  e1z = component(from, 5, moving, time);
  e2x = component(from, 6, moving, time);
  e2y = component(from, 7, moving, time);
  e2z = component(from, 8, moving, time);
}

/** How a point of a triangle moves until the shutter closes, into an array of three fields. */
export function motionOf(path: i32, field: i32): void {
  const place = int(Field.place, path);
  const u = number(Field.u, path);
  const v = number(Field.v, path);
  const moving = (place & MOVING) != 0;
  const from = at(place, 0) + PACKET_BYTES;
  for (let axis = 0; axis < 3; axis++) {
    const row = 16 * axis;
    const moved: f32 = moving
      ? load<f32>(from + row) + u * load<f32>(from + row + 48) + v * load<f32>(from + row + 96)
      : 0;
    put(field + axis, path, moved);
  }
}

let bentX: f32 = 0;
let bentY: f32 = 0;
let bentZ: f32 = 0;

/** Turns a unit normal by a normal map; the tangents come from the triangle's texture coordinates. */
function bend(material: usize, triangle: i32, u: f32, v: f32, nx: f32, ny: f32, nz: f32): void {
  const use = material + 4 * Material.normalMap;
  const indices: usize = sceneInt(Scene.indices) + 12 * triangle;
  const uvs: usize = sceneInt(Scene.uvs) + 8 * load<i32>(use + 4 * Use.set);
  const a = uvs + 16 * load<i32>(indices);
  const b = uvs + 16 * load<i32>(indices + 4);
  const c = uvs + 16 * load<i32>(indices + 8);
  const u1 = load<f32>(b) - load<f32>(a);
  const v1 = load<f32>(b + 4) - load<f32>(a + 4);
  const u2 = load<f32>(c) - load<f32>(a);
  const v2 = load<f32>(c + 4) - load<f32>(a + 4);
  const area = u1 * v2 - u2 * v1;
  bentX = nx;
  bentY = ny;
  bentZ = nz;
  if (area == 0) return;
  // Gradient of u over the surface, made square to the normal; v runs down the picture.
  let tx = (e1x * v2 - e2x * v1) / area;
  let ty = (e1y * v2 - e2y * v1) / area;
  let tz = (e1z * v2 - e2z * v1) / area;
  const along = tx * nx + ty * ny + tz * nz;
  tx -= along * nx;
  ty -= along * ny;
  tz -= along * nz;
  const length = lengthOf(tx, ty, tz);
  if (!(length > 0)) return;
  tx /= length;
  ty /= length;
  tz /= length;
  const hand: f32 = area < 0 ? -1 : 1;
  const bx = hand * (tz * ny - ty * nz);
  const by = hand * (tx * nz - tz * nx);
  const bz = hand * (ty * nx - tx * ny);
  textureAt(material, Material.normalMap, triangle, u, v, false);
  const scale = load<f32>(use + 4 * Use.scale);
  const x: f32 = (2 * texelR - 1) * scale;
  const y: f32 = (2 * texelG - 1) * scale;
  const z: f32 = 2 * texelB - 1;
  bentX = x * tx + y * bx + z * nx;
  bentY = x * ty + y * by + z * ny;
  bentZ = x * tz + y * bz + z * nz;
}

/** Fills point, normals, colour, roughness and metalness of the surfaces that the first `count` active paths have met. */
export function surfaces(count: i32): void {
  const normals: usize = sceneInt(Scene.normals);
  const colours: usize = sceneInt(Scene.colours);
  const indices: usize = sceneInt(Scene.indices);
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    const triangle = int(Field.triangle, path);
    const u = number(Field.u, path);
    const v = number(Field.v, path);
    const w: f32 = 1 - u - v;
    const dx = number(Field.directionX, path);
    const dy = number(Field.directionY, path);
    const dz = number(Field.directionZ, path);
    setCorners(int(Field.place, path), number(Field.time, path));
    put(Field.pointX, path, ax + u * e1x + v * e2x);
    put(Field.pointY, path, ay + u * e1y + v * e2y);
    put(Field.pointZ, path, az + u * e1z + v * e2z);
    let gx = e1y * e2z - e1z * e2y;
    let gy = e1z * e2x - e1x * e2z;
    let gz = e1x * e2y - e1y * e2x;
    const outside = gx * dx + gy * dy + gz * dz < 0;
    const side: f32 = (outside ? 1 : -1) / lengthOf(gx, gy, gz);
    gx *= side;
    gy *= side;
    gz *= side;
    const corner = indices + 12 * triangle;
    const a = 12 * load<i32>(corner);
    const b = 12 * load<i32>(corner + 4);
    const c = 12 * load<i32>(corner + 8);
    let nx = w * load<f32>(normals + a) + u * load<f32>(normals + b) + v * load<f32>(normals + c);
    let ny = w * load<f32>(normals + a + 4) + u * load<f32>(normals + b + 4) + v * load<f32>(normals + c + 4);
    let nz = w * load<f32>(normals + a + 8) + u * load<f32>(normals + b + 8) + v * load<f32>(normals + c + 8);
    const material = materialOf(partOf(triangle));
    if (load<i32>(material + 4 * (Material.normalMap + Use.texture))) {
      const length = lengthOf(nx, ny, nz);
      const turn: f32 = outside ? 1 : -1;
      if (length > 0) bend(material, triangle, u, v, nx / length, ny / length, nz / length);
      else bend(material, triangle, u, v, turn * gx, turn * gy, turn * gz);
      nx = bentX;
      ny = bentY;
      nz = bentZ;
    }
    const turn: f32 = (nx * gx + ny * gy + nz * gz < 0 ? -1 : 1) / lengthOf(nx, ny, nz);
    nx *= turn;
    ny *= turn;
    nz *= turn;
    // A smooth normal that points away from the viewer, or is missing, gives way to the triangle's own.
    if (!(-(nx * dx + ny * dy + nz * dz) > 1e-3)) {
      nx = gx;
      ny = gy;
      nz = gz;
    }
    put(Field.normalX, path, nx);
    put(Field.normalY, path, ny);
    put(Field.normalZ, path, nz);
    put(Field.flatX, path, gx);
    put(Field.flatY, path, gy);
    put(Field.flatZ, path, gz);
    putInt(Field.outside, path, outside ? 1 : 0);
    let red = load<f32>(material + 4 * Material.colour);
    let green = load<f32>(material + 4 * Material.colour + 4);
    let blue = load<f32>(material + 4 * Material.colour + 8);
    if (colours) {
      red *= w * load<f32>(colours + a) + u * load<f32>(colours + b) + v * load<f32>(colours + c);
      green *=
        w * load<f32>(colours + a + 4) + u * load<f32>(colours + b + 4) + v * load<f32>(colours + c + 4);
      blue *=
        w * load<f32>(colours + a + 8) + u * load<f32>(colours + b + 8) + v * load<f32>(colours + c + 8);
    }
    let roughness = load<f32>(material + 4 * Material.roughness);
    let metalness = load<f32>(material + 4 * Material.metalness);
    if (textureAt(material, Material.colourMap, triangle, u, v, true)) {
      red *= texelR;
      green *= texelG;
      blue *= texelB;
    }
    if (textureAt(material, Material.surfaceMap, triangle, u, v, false)) {
      roughness *= texelG;
      metalness *= texelB;
    }
    put(Field.red, path, red);
    put(Field.green, path, green);
    put(Field.blue, path, blue);
    put(Field.roughness, path, roughness);
    put(Field.metalness, path, metalness);
    if (!outside && load<i32>(material + 4 * Material.absorbs)) {
      const t = number(Field.t, path);
      for (let i = 0; i < 3; i++)
        put(
          Field.weightR + i,
          path,
          number(Field.weightR + i, path) *
            Mathf.exp(-load<f32>(material + 4 * (Material.absorption + i)) * t),
        );
    }
  }
}
