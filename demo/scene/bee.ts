import { ellipsoid, tube, type Shape, type Vec } from './shape.ts';

/** A bee about 14 mm long, head towards +z, feet at y = 0. Drawn part by part, one material each. */
export function drawBee(s: Shape, part: 'body' | 'dark' | 'wings', flying: boolean): void {
  const y = 0.0042;
  if (part === 'body') {
    // Banded abdomen and furry thorax.
    ellipsoid(
      s,
      [0, y, -0.0045],
      [
        [0.0027, 0, 0],
        [0, -0.0006, 0.0052],
        [0, 0.0026, 0.0003],
      ],
      18,
      22,
      (_u, v) => (Math.sin(v * 26) > 0.05 ? [0.1, 0.12, 0.4] : [1, 1, 1]),
    );
    ellipsoid(
      s,
      [0, y + 0.0006, 0.0014],
      [
        [0.0025, 0, 0],
        [0, 0.0024, 0],
        [0, 0, 0.0024],
      ],
      16,
      12,
      () => [0.75, 0.7, 1],
    );
  } else if (part === 'dark') {
    ellipsoid(
      s,
      [0, y + 0.0002, 0.0042],
      [
        [0.0019, 0, 0],
        [0, 0.0017, 0],
        [0, 0, 0.0013],
      ],
      14,
      10,
    );
    for (const side of [-1, 1]) {
      tube(
        s,
        (t) => [side * (0.0006 + 0.0012 * t), y + 0.001 + 0.0012 * t, 0.005 + 0.0018 * t],
        () => 0.00018,
        5,
        4,
      );
      for (let k = 0; k < 3; k++)
        tube(
          s,
          (t): Vec => [
            side * (0.0015 + 0.0042 * t),
            y - 0.001 + 0.0014 * Math.sin(t * 3.1) - (y - 0.0012) * t,
            0.0022 - k * 0.0016 + (1 - k) * 0.002 * t,
          ],
          (t) => 0.00034 - 0.00018 * t,
          5,
          7,
        );
    }
  } else {
    const lift = flying ? 0.55 : 0.12;
    for (const side of [-1, 1])
      for (const [length, back] of [
        [0.0092, 0.55],
        [0.0066, 0.95],
      ] as const) {
        const out: Vec = [
          side * Math.cos(back) * 0.5 * length,
          lift * 0.5 * length,
          -Math.sin(back) * 0.5 * length,
        ];
        const across: Vec = [side * Math.sin(back) * 0.0016, 0, Math.cos(back) * 0.0016];
        ellipsoid(
          s,
          [side * 0.001 + out[0], y + 0.0022 + out[1], 0.0012 + out[2]],
          side > 0 ? [out, [0, 0.00006, 0], across] : [across, [0, 0.00006, 0], out],
          14,
          6,
        );
      }
  }
}
