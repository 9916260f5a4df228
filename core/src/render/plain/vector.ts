/** Length of a vector. Math.hypot, which guards against overflow as well, takes several times as long. */
export const lengthOf = (x: number, y: number, z: number): number => Math.sqrt(x * x + y * y + z * z);
