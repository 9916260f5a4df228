/**
 * Colours of 8 bits a component that lie far apart, none near black: each next one is the point of a lattice that is
 * farthest from all before (Gonzalez, "Clustering to minimize the maximum intercluster distance", 1985). Deterministic.
 */
export function farColours(count: number): [number, number, number][] {
  // A lattice that has several points for each colour.
  const steps = Math.min(32, Math.max(5, Math.ceil(Math.cbrt(count * 6))));
  const points: [number, number, number][] = [];
  for (let r = 0; r < steps; r++)
    for (let g = 0; g < steps; g++)
      for (let b = 0; b < steps; b++)
        points.push([r, g, b].map((k) => Math.round((k * 255) / (steps - 1))) as [number, number, number]);
  const distance = (a: readonly number[], b: readonly number[]) =>
    (a[0]! - b[0]!) ** 2 + (a[1]! - b[1]!) ** 2 + (a[2]! - b[2]!) ** 2;
  // Black means "nothing here", so it is taken before the first colour.
  const nearest = Float64Array.from(points, (p) => distance(p, [0, 0, 0]));
  const out: [number, number, number][] = [];
  while (out.length < Math.min(count, points.length - 1)) {
    let best = 0;
    for (let i = 1; i < points.length; i++) if (nearest[i]! > nearest[best]!) best = i;
    const chosen = points[best]!;
    out.push(chosen);
    for (let i = 0; i < points.length; i++) nearest[i] = Math.min(nearest[i]!, distance(points[i]!, chosen));
  }
  // More things than the lattice has points: any colours that were not used yet.
  for (let n = 1; out.length < count; n++) out.push([(n * 7) & 255, (n >> 5) & 255, 3 + ((n * 3) % 250)]);
  return out;
}
