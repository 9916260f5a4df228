/** How long an artist waits, in the running application and Debian's Chromium. */
import {
  castOf,
  ChangeStack,
  CORRECTIONS,
  EDGE_STEPS,
  openFrame,
  type Change,
  type ExrImage,
  type StepUse,
  type Variant,
} from '@zesty-crow/core';
import type { WebDriver } from 'selenium-webdriver';
import { fileOf, repeated } from '../../core/bench/frames.ts';
import type { Figure, Tell } from '../../core/bench/report.ts';
import { workingValues } from '../../core/bench/values.ts';
import { apiOf, type Call } from '../harness/api.ts';
import type { Application } from '../harness/application.ts';
import { openBrowser } from '../harness/browser.ts';

/** Milliseconds to the picture's own pixels, and until it can be picked from, by how often the demo is repeated. */
const GOALS: Record<number, [pixels: number, ready: number | undefined]> = {
  1: [1000, undefined],
  2: [1500, 3000],
  4: [4000, 8000],
};

/** What is measured, and how often. */
export interface BrowserBench {
  /** The picture that is repeated. */
  picture: ExrImage;
  /** How often it is repeated each way: one opening and one drag at each of these. */
  sizes: readonly number[];
  /** The size at which corrections, masks and the wall of variants are measured. */
  detail: number;
  /** Openings after the first. */
  openings: number;
  /** Steps of a drag over six changes, and of a single correction. */
  drag: number;
  steps: number;
  /** So many corrections and edge steps are measured. */
  kinds: number;
  variants: number;
  /** Clicks that put members in and out. */
  clicks: number;
  /** Whether memory is measured: the browser answers that when it likes. */
  memory: boolean;
  /** Milliseconds in which what is done behind the picture comes to its end. */
  rest: number;
  only?: string | undefined;
}
/** At full size, with the demo's table. */
export const FULL: Omit<BrowserBench, 'picture'> = {
  ...{
    sizes: [1, 2, 4],
    detail: 2,
    openings: 3,
    drag: 100,
    steps: 40,
    kinds: Infinity,
    variants: 24,
    rest: 3000,
    clicks: 24,
    memory: true,
  },
};

/** Six changes; the first is open, and covers about a tenth of the frame. */
const CHANGES: Change[] = [
  ['CryptoObject', 'hive/*'],
  ['CryptoMaterial', 'lid_enamel'],
  ['CryptoObject', 'lavender/*'],
  ['CryptoMaterial', 'brass'],
  ['CryptoMaterial', 'linen'],
  ['CryptoObject', 'nothing'],
].map(([layer, member], i) => ({
  id: `change-${i}`,
  words: member!,
  on: true,
  done: false,
  edge: [],
  fence: [],
  brush: [],
  plainEdges: false,
  who: [{ mode: 'with', layer: layer!, member: member! }],
  corrections: [
    {
      id: `c${i}`,
      kind: 'hue-saturation-lightness',
      on: true,
      values: { hue: 15 * (i + 1), saturation: 10 },
    },
  ],
}));

async function importShot(call: Call, name: string, bytes: Uint8Array): Promise<string> {
  const { id } = await call<{ id: string }>('POST', '/shots', { name });
  const version = await call<{ id: string }>('POST', `/shots/${id}/versions`);
  await call('PUT', `/versions/${version.id}/files/${name}.exr`, bytes);
  await call('POST', `/versions/${version.id}/read`);
  for (;;) {
    const shot = await call<{ versions: { state: string }[] }>('GET', `/shots/${id}`);
    if (shot.versions[0]?.state === 'ready') break;
    if (shot.versions[0]?.state === 'failed') throw new Error('The shot could not be read.');
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  await call('PUT', `/shots/${id}/changes`, {
    revision: 0,
    label: 'Six changes',
    body: { format: 'zesty-crow/changes', version: 6, headings: [], changes: CHANGES, variants: [] },
  });
  return id;
}

/** Watches from the first moment of a page: own pixels, all read, tasks that are too long. */
const WATCH = `
  window.bench = { drawn: 0, ready: 0, first: 0, long: [], settled: 0 };
  new PerformanceObserver((list) => {
    for (const e of list.getEntries()) window.bench.long.push([e.startTime, e.duration]);
  }).observe({ type: 'longtask', buffered: true });
  new PerformanceObserver((list) => (window.bench.first ||= list.getEntries()[0].startTime))
    .observe({ type: 'paint', buffered: true });
  addEventListener('drawn', () => (window.bench.drawn ||= performance.now()));
  addEventListener('settled', () => {
    window.bench.settled = performance.now();
    if (!document.querySelector('.stage-picture .reading')) window.bench.ready ||= performance.now();
  });`;

interface Opening {
  drawn: number;
  ready: number;
  first: number;
  long: [start: number, duration: number][];
}

async function open(driver: WebDriver, address: string): Promise<Opening> {
  await driver.get('about:blank');
  await driver.get(address);
  const read = () => driver.executeScript<Opening>('return window.bench');
  await driver.wait(async () => (await read()).ready > 0, 120_000, 'the picture was not read');
  return read();
}

/** Clicks at places of the picture, one after the other, in and out, and notes when all was drawn. */
const CLICKS = `
  const [places, ms, done] = arguments;
  const canvas = document.querySelector('.viewer canvas');
  const box = canvas.getBoundingClientRect();
  const send = (type, [x, y]) =>
    canvas.dispatchEvent(new PointerEvent(type, {
      bubbles: true, pointerId: 1, button: 0, buttons: type === 'pointerup' ? 0 : 1,
      clientX: box.left + box.width * x, clientY: box.top + box.height * y,
    }));
  canvas.setPointerCapture = () => undefined;
  const rest = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
  (async () => {
    const times = [];
    for (const place of places) {
      const settled = new Promise((resolve) => addEventListener('settled', resolve, { once: true }));
      const start = performance.now();
      send('pointerdown', place);
      send('pointerup', place);
      await settled;
      times.push(performance.now() - start);
      // What is taken apart in the background, and saved, is not the next click's.
      await rest(ms);
    }
    done(times);
  })();`;

/** Drags a slider, first this way and then that, and notes for each step when the first new pixels and all of them were drawn. */
const DRAG = `
  const [count, label, way, done] = arguments;
  const handle = document.querySelector('.el-slider__button-wrapper[aria-label="' + label + '"]');
  const box = handle.getBoundingClientRect();
  const y = box.top + box.height / 2;
  const send = (target, type, x) =>
    target.dispatchEvent(new MouseEvent(type, { bubbles: true, clientX: x, clientY: y, buttons: 1 }));
  const rest = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
  (async () => {
    let x = box.left + box.width / 2;
    send(handle, 'mousedown', x);
    const steps = [];
    for (let i = -5; i < count; i++) {
      x += (i + 5) % 20 < 10 ? way : -way;
      let first = 0;
      let last = 0;
      const drawn = () => {
        first ||= performance.now();
        last = performance.now();
      };
      addEventListener('drawn', drawn);
      const settled = new Promise((resolve) => addEventListener('settled', resolve, { once: true }));
      const start = performance.now();
      send(window, 'mousemove', x);
      await settled;
      removeEventListener('drawn', drawn);
      if (i >= 0 && first) steps.push([first - start, last - start]);
      await rest(20);
    }
    send(window, 'mouseup', x);
    done(steps);
  })();`;

const quantile = (values: number[], q: number) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * q))]!;

const MEMORY = `
  const done = arguments[0];
  performance.measureUserAgentSpecificMemory().then((m) => done(m.bytes), () => done(0));`;

/** Pixels across and down. */
function sizeOf({ header: { dataWindow: w } }: ExrImage): { width: number; height: number } {
  return { width: w.xMax - w.xMin + 1, height: w.yMax - w.yMin + 1 };
}

/** Pixels that a mask of each change covers, in one picture. */
async function maskedPixels(picture: ExrImage): Promise<number> {
  const bytes = fileOf(picture, 'zip');
  const frame = await openFrame(
    [{ role: 'picture', name: 'demo.exr', frame: null }],
    undefined,
    async () => bytes,
  );
  const cast = await Promise.all(frame.layers.map(async (l) => castOf(l, await frame.index(l))));
  const stack = new ChangeStack(await frame.picture(), cast);
  stack.update(CHANGES);
  let covered = 0;
  for (const { id } of CHANGES)
    for (let tile = 0; tile < stack.tileCount; tile++)
      for (const c of stack.mask(id)!.tile(tile) ?? []) if (c > 0) covered++;
  return covered;
}

async function openingFigures(
  tell: Tell,
  { picture, drag, openings, memory: asked }: BrowserBench,
  driver: WebDriver,
  address: string,
  times: number,
  /** Takes the changes out of the shot. */
  clear: () => Promise<unknown>,
): Promise<void> {
  const { width, height } = sizeOf(picture);
  const size = `${width * times}x${height * times}`;
  const [pixels, ready] = GOALS[times] ?? [Infinity, undefined];
  const cold = await open(driver, address);
  const warm: Opening[] = [];
  for (let i = 0; i < openings; i++) warm.push(await open(driver, address));
  const middle = (pick: (o: Opening) => number) => quantile(warm.map(pick), 0.5);
  const long = Math.max(0, ...warm.flatMap((o) => o.long.filter(([t]) => t > o.first).map(([, d]) => d)));
  const ms = (name: string, value: number, goal: number | undefined, against: string): Figure => ({
    name: `${size}: ${name}`,
    value,
    unit: 'ms',
    ...(goal === undefined ? {} : { goal }),
    better: 'less',
    against,
  });
  tell(
    ms(
      'own pixels',
      middle((o) => o.drawn),
      pixels,
      `navigation, warm; cold ${cold.drawn.toFixed(0)}`,
    ),
    ms(
      'ready to pick',
      middle((o) => o.ready),
      ready,
      `navigation, warm; cold ${cold.ready.toFixed(0)}`,
    ),
    ms('longest task after first paint', long, 100, `${openings} openings`),
  );
  await driver.manage().setTimeouts({ script: 180_000 });
  const steps = await driver.executeAsyncScript<[number, number][]>(DRAG, drag, 'Hue', 3);
  const [first, all] = [steps.map((s) => s[0]), steps.map((s) => s[1])];
  const against = `input event, ${steps.length} steps; median`;
  tell(
    ms(
      'slider, first new pixels, p95',
      quantile(first, 0.95),
      50,
      `${against} ${quantile(first, 0.5).toFixed(0)}`,
    ),
    ms('slider, whole change, p95', quantile(all, 0.95), 100, `${against} ${quantile(all, 0.5).toFixed(0)}`),
  );
  if (!asked) return;
  const memory = await driver.executeAsyncScript<number>(MEMORY);
  await clear();
  await open(driver, address);
  const bare = await driver.executeAsyncScript<number>(MEMORY);
  const area = width * height * times * times;
  tell(
    {
      name: `${size}: memory of the page`,
      value: memory / area,
      unit: 'B/pixel',
      better: 'less',
      against: `${(memory / 2 ** 20).toFixed(0)} MB, six changes`,
    },
    {
      name: `${size}: memory of a masked pixel and change`,
      value: (memory - bare) / ((await maskedPixels(picture)) * times * times),
      unit: 'B',
      goal: 16,
      better: 'less',
      against: `${(bare / 2 ** 20).toFixed(0)} MB without changes`,
    },
  );
}

/** The first of six changes, of a tenth of the frame, with each correction, whose amount is dragged. */
const stepsToMeasure = (most: number): [label: string, use: StepUse][] =>
  CORRECTIONS.filter(
    (c) =>
      (c.works === 'pixel' || c.kind === 'blur') && !c.fields.some((f) => f.kind === 'pass' && !f.optional),
  )
    .slice(0, most)
    .map((c) => {
      const values = { ...workingValues(c.fields), ...(c.kind === 'blur' ? { size: 20 } : {}) };
      const use = { id: 'c', kind: c.kind, on: true, values };
      return [c.kind === 'blur' ? 'Blur of 20 px' : c.label, use];
    });

/** Milliseconds from taking the last step back until the picture is whole again. */
const UNDO = `
  const done = arguments[arguments.length - 1];
  const from = performance.now();
  addEventListener('settled', () => done(performance.now() - from), { once: true });
  document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, bubbles: true }));
`;

async function stepFigures(
  tell: Tell,
  bench: BrowserBench,
  driver: WebDriver,
  address: string,
  size: string,
  put: (changes: Change[]) => Promise<unknown>,
): Promise<void> {
  const undone: number[] = [];
  for (const [label, use] of stepsToMeasure(bench.kinds)) {
    await put([{ ...CHANGES[0]!, corrections: [use] }, ...CHANGES.slice(1)]);
    await open(driver, address);
    const steps = await driver.executeAsyncScript<[number, number][]>(DRAG, bench.steps, 'Amount', -3);
    // The drag is saved as one step of the history; the next list is put over that.
    await driver.wait(
      () =>
        driver.executeScript(`return document.querySelector('.saving').textContent.includes('All saved')`),
      20_000,
    );
    const all = steps.map((s) => s[1]);
    tell({
      name: `${size}: ${label}, whole change, p95`,
      value: quantile(all, 0.95),
      unit: 'ms',
      goal: use.kind === 'blur' ? 200 : 100,
      better: 'less',
      against: `input event, ${steps.length} steps; median ${quantile(all, 0.5).toFixed(0)}`,
    });
    undone.push(await driver.executeAsyncScript<number>(UNDO));
  }
  tell({
    name: `${size}: undo, whole picture, p95`,
    value: quantile(undone, 0.95),
    unit: 'ms',
    goal: 100,
    better: 'less',
    against: `key, ${undone.length} times; median ${quantile(undone, 0.5).toFixed(0)}`,
  });
}

/** Shows all variants, and tells when the pictures of the first row were there, and all of them, in milliseconds. */
const WALL = `
  const done = arguments[arguments.length - 1];
  const from = performance.now();
  document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'y', bubbles: true }));
  let first = 0;
  const look = () => {
    const cells = document.querySelector('.wall .cells');
    const there = cells ? cells.querySelectorAll('canvas:not(.coming)').length : 0;
    const columns = cells ? getComputedStyle(cells).gridTemplateColumns.split(' ').length : Infinity;
    if (!first && there >= columns) first = performance.now() - from;
    if (cells && there === cells.children.length) done([first, performance.now() - from]);
    else requestAnimationFrame(look);
  };
  look();
`;

/** A wall of variants of the lids in other hues, over six changes; what memory they leave behind. */
async function wallFigures(
  tell: Tell,
  bench: BrowserBench,
  driver: WebDriver,
  address: string,
  size: string,
  put: (changes: Change[], variants?: Variant[]) => Promise<unknown>,
): Promise<void> {
  const [, lids] = CHANGES;
  await put(
    CHANGES,
    Array.from({ length: bench.variants }, (_, i) => ({
      id: `variant-${i}`,
      name: `Lids ${i + 1}`,
      sets: [
        {
          change: lids!.id,
          step: lids!.corrections[0]!.id,
          kind: 'hue-saturation-lightness',
          values: { hue: 15 * i - 180 },
        },
      ],
    })),
  );
  await open(driver, address);
  const memory = () => (bench.memory ? driver.executeAsyncScript<number>(MEMORY) : Promise.resolve(0));
  const before = await memory();
  const [first, all] = await driver.executeAsyncScript<[number, number]>(WALL);
  const after = await memory();
  const against = `key Y, ${bench.variants} variants and the list itself`;
  const ms = (name: string, value: number, goal: number): Figure => ({
    name: `${size}: ${name}`,
    value,
    unit: 'ms',
    goal,
    better: 'less',
    against,
  });
  tell(ms('wall of variants, first row', first, 2000), ms('wall of variants, all', all, 12_000), {
    name: `${size}: memory that the wall adds`,
    value: (after - before) / 2 ** 20,
    unit: 'MB',
    better: 'less',
    against: `${(before / 2 ** 20).toFixed(0)} MB before`,
  });
}

/** Places on the hive, the table, a jar and the smoker, as shares of the viewer. */
const PLACES = [0.2, 0.22, 0.25, 0.45, 0.56, 0.8].flatMap((x) => [
  [x, 0.45],
  [x, 0.55],
]);

/** Isolating: a click until its mask is shown, an edge step's value, and clean edges in the background. */
async function maskFigures(
  tell: Tell,
  bench: BrowserBench,
  driver: WebDriver,
  address: string,
  size: string,
  put: (changes: Change[]) => Promise<unknown>,
  /** The server has nothing left to do. */
  idle: () => Promise<void>,
): Promise<void> {
  const figure = (name: string, value: number, goal: number, against: string): Figure => ({
    name: `${size}: ${name}`,
    value,
    unit: 'ms',
    goal,
    better: 'less',
    against,
  });
  const saved = () =>
    driver.wait(
      () =>
        driver.executeScript(`return document.querySelector('.saving').textContent.includes('All saved')`),
      20_000,
    );
  await driver.manage().setTimeouts({ script: 180_000 });
  await idle();
  await put(CHANGES);
  const { ready } = await open(driver, address);
  await driver.sleep(bench.rest + 1000);
  const settled = await driver.executeScript<number>('return window.bench.settled');
  tell(figure('clean edges of six changes, after all else', settled - ready, 1000, 'opening'));
  // A change that does nothing yet is what is picked for.
  await put([...CHANGES.slice(1), { ...CHANGES[0]!, id: 'empty', who: [], corrections: [] }]);
  await open(driver, address);
  await driver.executeScript(`[...document.querySelectorAll('li.card .members')].at(-1).dispatchEvent(
    new PointerEvent('pointerdown', { bubbles: true }));`);
  await driver.sleep(bench.rest);
  const twice = [...PLACES, ...PLACES].slice(0, bench.clicks);
  const clicks = (await driver.executeAsyncScript<number[]>(CLICKS, twice, bench.rest / 4)).slice(2);
  await saved();
  tell(
    figure(
      'click until the mask is shown, p95',
      quantile(clicks, 0.95),
      60,
      `pointer event, ${clicks.length} clicks; median ${quantile(clicks, 0.5).toFixed(0)}`,
    ),
  );
  for (const { kind, fields, label } of EDGE_STEPS.slice(0, bench.kinds)) {
    const edge = [{ id: 'e', kind, on: true, values: workingValues(fields) }];
    await put([{ ...CHANGES[0]!, edge }, ...CHANGES.slice(1)]);
    await open(driver, address);
    await driver.sleep(bench.rest / 2);
    const steps = await driver.executeAsyncScript<[number, number][]>(DRAG, bench.steps, 'Amount', -3);
    await saved();
    const all = steps.map((s) => s[1]);
    tell(
      figure(
        `edge step ${label}, p95`,
        quantile(all, 0.95),
        150,
        `input event, ${steps.length} steps; median ${quantile(all, 0.5).toFixed(0)}`,
      ),
    );
  }
}

/** Measures all of it in an application that has no shots; each figure is told when it is known. */
export async function browserFigures(
  tell: Tell,
  bench: BrowserBench,
  application: Application,
): Promise<void> {
  const call = apiOf(application);
  const { sizes, only, detail } = bench;
  const { width, height } = sizeOf(bench.picture);
  for (const times of sizes) {
    const id = await importShot(call, `table_${times}`, fileOf(repeated(bench.picture, times), 'zip'));
    // Each size in a browser of its own, so that the first opening is a cold one.
    const driver = await openBrowser(1280, 800);
    try {
      await (
        driver as unknown as { sendDevToolsCommand(name: string, parameters: object): Promise<void> }
      ).sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', { source: WATCH });
      const put = async (changes: Change[], variants: Variant[] = []) => {
        const { revision } = await call<{ revision: number }>('GET', `/shots/${id}/changes`);
        return call('PUT', `/shots/${id}/changes`, {
          revision,
          label: 'Other changes',
          body: { format: 'zesty-crow/changes', version: 6, headings: [], changes, variants },
        });
      };
      const idle = async () => {
        for (;;) {
          const jobs = await call<{ state: string }[]>('GET', '/jobs');
          if (jobs.every((j) => j.state !== 'waiting' && j.state !== 'running')) return;
          await driver.sleep(500);
        }
      };
      const address = `${application.address}/shots/${id}/correct`;
      const size = `${width * times}x${height * times}`;
      if (!only) await openingFigures(tell, bench, driver, address, times, () => put([]));
      if (times !== detail) continue;
      if (!only) await stepFigures(tell, bench, driver, address, size, put);
      if (only !== 'wall') await maskFigures(tell, bench, driver, address, size, put, idle);
      if (only !== 'masks') await wallFigures(tell, bench, driver, address, size, put);
    } finally {
      await driver.quit();
    }
  }
}
