import { Field, Lane, Part, Scene, WAVE } from './layout';

/** Addresses of the scene's table, and of this thread's table and arrays. */
export let scene: usize = 0;
export let lane: usize = 0;
let fields: usize = 0;

/** What every ray needs is kept at hand. */
export let nodes: usize = 0;
export let packets: usize = 0;
export let movingNodes: usize = 0;
export let movingPackets: usize = 0;
export let trianglePart: usize = 0;
export let parts: usize = 0;
export let materials: usize = 0;
export let allSeen: bool = false;
export let stack: usize = 0;

export function heap(): usize {
  return (__heap_base + 63) & ~63;
}

/** Bytes that a thread's arrays take. */
export function fieldBytes(): i32 {
  return Field.count * WAVE * 4;
}

/** Begins to work on a scene with a thread's memory; both tables must be filled. */
export function begin(sceneAt: usize, laneAt: usize, fieldsAt: usize): void {
  scene = sceneAt;
  lane = laneAt;
  fields = fieldsAt;
  nodes = sceneInt(Scene.nodes);
  packets = sceneInt(Scene.packets);
  movingNodes = sceneInt(Scene.movingNodes);
  movingPackets = sceneInt(Scene.movingPackets);
  trianglePart = sceneInt(Scene.trianglePart);
  parts = sceneInt(Scene.parts);
  materials = sceneInt(Scene.materials);
  allSeen = sceneInt(Scene.allSeen) != 0;
  stack = laneInt(Lane.stack);
}

// inline
export function sceneInt(slot: i32): i32 {
  return load<i32>(scene + 4 * slot);
}
// inline
export function sceneNumber(slot: i32): f32 {
  return load<f32>(scene + 4 * slot);
}
// inline
export function laneInt(slot: i32): i32 {
  return load<i32>(lane + 4 * slot);
}
// inline
export function laneNumber(slot: i32): f32 {
  return load<f32>(lane + 4 * slot);
}

/** Address of a path's entry in an array. */
// inline
export function entry(field: i32, path: i32): usize {
  return fields + 4 * (field * WAVE + path);
}
// inline
export function number(field: i32, path: i32): f32 {
  return load<f32>(entry(field, path));
}
// inline
export function put(field: i32, path: i32, value: f32): void {
  store<f32>(entry(field, path), value);
}
// inline
export function int(field: i32, path: i32): i32 {
  return load<i32>(entry(field, path));
}
// inline
export function putInt(field: i32, path: i32, value: i32): void {
  store<i32>(entry(field, path), value);
}

/** The part that a triangle belongs to, as the address of its record. */
// inline
export function partOf(triangle: i32): usize {
  return parts + 4 * Part.count * load<i32>(trianglePart + 4 * triangle);
}
