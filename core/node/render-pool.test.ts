import { DEFAULT_SETTINGS, type RenderSettings } from '../src/render/settings.ts';
import { leftOf, material, sceneOf } from '../test/fixtures/scenes.ts';
import type { Film } from '../src/render/film.ts';
import { Attention } from './attention.ts';
import type { Look } from './growing-picture.ts';
import { renderScene } from './render-pool.ts';

const scene = sceneOf([...leftOf(0.3), ...leftOf(9, -3)], [material()]);
const settings = (more: Partial<RenderSettings> = {}): RenderSettings => ({
  ...DEFAULT_SETTINGS,
  width: 70,
  height: 40,
  samples: 16,
  ...more,
});
const parts = scene.parts.map((_, i) => [i]);

test('the picture and the masks are the same by any number of threads, whatever the order of the rectangles', async () => {
  const [one, three] = await Promise.all(
    [1, 3].map((threads) => renderScene(scene, settings({ seed: 5 }), { threads })),
  );
  expect(one!.light()).toEqual(three!.light());
  expect(one!.coverage(parts, parts.length)).toEqual(three!.coverage(parts, parts.length));
  expect(one!.rays).toBe(three!.rays);
});

test.each([1, 2])(
  'the whole frame is seen after half a sample a pixel, without gaps (%d threads)',
  async (threads) => {
    let taken = 0;
    const looks: { taken: number; least: number }[] = [];
    await renderScene(scene, settings({ width: 350, height: 200, samples: 2, light: false }), {
      threads,
      onProgress: ({ share }) => (taken = 2 * share),
      onLook: ({ planes: { r } }) => looks.push({ taken, least: r.reduce((a, b) => Math.min(a, b)) }),
    });
    expect(looks[0]!.taken).toBeCloseTo(0.5, 6);
    // Something is seen in every direction, so no pixel is as dark as nothing.
    expect(looks[0]!.least).toBeGreaterThan(0.04);
  },
);

test('progress rises to the end, in rounds, and there are looks on the way', async () => {
  const shares: number[] = [];
  const rounds = new Set<number>();
  let looks = 0;
  await renderScene(scene, settings(), {
    threads: 2,
    onProgress({ share, samples }) {
      shares.push(share);
      rounds.add(samples);
    },
    onLook({ planes: { width, height, r, g, b } }) {
      expect([width, height, r.length, g.length, b.length]).toEqual([70, 40, 2800, 2800, 2800]);
      // Never anything that is no number.
      expect(r.every((v) => v >= 0 && Number.isFinite(v))).toBe(true);
      looks++;
    },
  });
  expect([...rounds]).toEqual([1, 4, 8, 16]);
  expect(shares.every((s, i) => i === 0 || s >= shares[i - 1]!)).toBe(true);
  expect(shares.at(-1)).toBe(1);
  expect(looks).toBeGreaterThan(0);
});

test('a render that is cancelled rejects with the reason, at once or on the way', async () => {
  const before = renderScene(scene, settings(), {
    threads: 1,
    signal: AbortSignal.abort(new Error('never mind')),
  });
  await expect(before).rejects.toThrow('never mind');
  const stop = new AbortController();
  const during = renderScene(scene, settings({ samples: 65536 }), {
    threads: 2,
    signal: stop.signal,
    onProgress: ({ share }) => share > 0 && stop.abort(new Error('enough')),
  });
  await expect(during).rejects.toThrow('enough');
});

test('a render that is stopped and kept has every pixel', async () => {
  const keep = new AbortController();
  const film = await renderScene(scene, settings({ samples: 65536 }), {
    threads: 2,
    keep: keep.signal,
    onProgress: () => keep.abort(),
  });
  const [first, second] = film.coverage(
    parts.map((_, i) => [i < 2 ? 0 : 1]),
    2,
  );
  // What covers the whole view has no hole.
  first!.forEach((c, p) => expect(c + second![p]!).toBeCloseTo(1, 5));
});

test.each([true, false])('a render ends by itself when it is clean enough (light: %s)', async (light) => {
  const loose = await renderScene(scene, settings({ samples: 4096, noise: 0.1, light }), { threads: 2 });
  const strict = await renderScene(scene, settings({ samples: 4096, noise: 0.02, light }), { threads: 1 });
  const most = (film: Film) => Math.max(...film.samples());
  expect(most(loose)).toBeGreaterThanOrEqual(32);
  expect(most(loose)).toBeLessThan(4096);
  expect(most(strict)).toBeGreaterThan(most(loose));
  expect(loose.noise).toBeLessThanOrEqual(0.1);
  expect(strict.noise).toBeLessThanOrEqual(0.02);
});

test('a render ends when its time is over, with samples everywhere', async () => {
  const started = performance.now();
  const film = await renderScene(scene, settings({ samples: 65536, seconds: 1 }), { threads: 2 });
  // However slow the machine is, it does not end before; that it ends at all says that it did not take all samples.
  expect(performance.now() - started).toBeGreaterThan(500);
  expect(Math.min(...film.samples())).toBeGreaterThanOrEqual(1);
  expect(Math.max(...film.samples())).toBeLessThan(65536);
});

test('wherever one looks meanwhile, the film is the same in the end', async () => {
  const attention = new Attention();
  const area = { x0: 0, y0: 0, x1: 20, y1: 20 };
  const looked = await renderScene(scene, settings({ width: 200, height: 100, samples: 32 }), {
    threads: 1,
    attention,
    onProgress: ({ share, samples }) => {
      if (share > 0 && samples >= 1) attention.turnTo({ area });
    },
  });
  const plain = await renderScene(scene, settings({ width: 200, height: 100, samples: 32 }), { threads: 2 });
  expect(looked.light()).toEqual(plain.light());
});

test('a pass is shown in place of the picture as soon as one asks for it', async () => {
  const attention = new Attention();
  attention.showBy((pass) =>
    pass === 'red' ? { colours: scene.parts.map((_, i) => (i < 2 ? [1, 0, 0] : [0, 0, 1])) } : undefined,
  );
  const looks: Look[] = [];
  await renderScene(scene, settings({ width: 200, height: 100, samples: 8 }), {
    threads: 1,
    attention,
    onLook: (look) => {
      looks.push({ ...look, planes: { ...look.planes, r: look.planes.r.slice(), g: look.planes.g.slice() } });
      if (looks.length === 1) attention.turnTo({ pass: 'red' });
    },
  });
  expect(looks[0]!.pass).toBeUndefined();
  const red = looks.find((l) => l.pass === 'red')!;
  expect(red.planes.r.some((v) => v === 1)).toBe(true);
  expect(red.planes.r.some((v) => v === 0)).toBe(true);
  expect(red.planes.g.every((v) => v === 0)).toBe(true);
});

test('settings that cannot be rendered are refused in words', async () => {
  await expect(renderScene(scene, settings({ width: 0 }))).rejects.toThrow('Width and height');
});

test('samples that are added later are those that would have been taken at once', async () => {
  const size = { width: 100, height: 60 };
  const once = await renderScene(scene, settings({ ...size, samples: 24 }), { threads: 2 });
  const first = await renderScene(scene, settings({ ...size, samples: 6 }), { threads: 1 });
  const more = await renderScene(scene, settings({ ...size, samples: 24 }), {
    threads: 2,
    sums: [...first.tiles],
  });
  expect(more.light()).toEqual(once.light());
  expect(more.samples()).toEqual(once.samples());
  // With all of its samples there, nothing is rendered; it is judged all the same.
  const same = await renderScene(scene, settings({ ...size, samples: 24 }), {
    threads: 1,
    sums: [...more.tiles],
  });
  expect(same.light()).toEqual(once.light());
  expect(same.noise).toBeCloseTo(once.noise!, 9);
  expect(more.coverage(parts, parts.length)).toEqual(once.coverage(parts, parts.length));
});
