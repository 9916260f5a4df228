/** What the first surface tells besides its light: its data, and whether something is near it. */
import { Field, Lane } from './layout';
import { int, laneInt, laneNumber, number, put } from './memory';
import { cosine, OFFSET, outX, outY, outZ, setFrame, sine, toWorld, turn } from './arithmetic';
import { depthOf } from './camera';
import { enter, gx, gy, gz, nx, ny, nz } from './here';
import { motionOf } from './surface';
import { passB, passes, passG, passR } from './tree';

/** Notes point, normal, base colour and motion of the first surfaces. */
export function noteFirst(count: i32): void {
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    put(Field.firstDepth, path, depthOf(path));
    put(Field.firstX, path, number(Field.pointX, path));
    put(Field.firstY, path, number(Field.pointY, path));
    put(Field.firstZ, path, number(Field.pointZ, path));
    put(Field.firstNormalX, path, number(Field.normalX, path));
    put(Field.firstNormalY, path, number(Field.normalY, path));
    put(Field.firstNormalZ, path, number(Field.normalZ, path));
    put(Field.firstRed, path, number(Field.red, path));
    put(Field.firstGreen, path, number(Field.green, path));
    put(Field.firstBlue, path, number(Field.blue, path));
    motionOf(path, Field.movedX);
  }
}

/** Ambient occlusion: sends one ray from each surface, spread by the cosine, as far as things occlude. */
export function occlude(count: i32): void {
  const reach = laneNumber(Lane.occlusion);
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    enter(path);
    const u = number(Field.randomX, k);
    const r = sqrt<f32>(u);
    turn(number(Field.randomY, k));
    setFrame(nx, ny, nz);
    toWorld(r * cosine, r * sine, sqrt<f32>(max<f32>(0, 1 - u)));
    const x = number(Field.pointX, path) + gx * OFFSET;
    const y = number(Field.pointY, path) + gy * OFFSET;
    const z = number(Field.pointZ, path) + gz * OFFSET;
    const free = passes(x, y, z, outX, outY, outZ, reach, number(Field.time, path));
    put(Field.open, path, free ? (passR + passG + passB) / 3 : 0);
  }
}
