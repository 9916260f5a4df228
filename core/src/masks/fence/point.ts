/** A place in a picture, in the unit that whoever takes it says. */
export type Point = readonly [x: number, y: number];
