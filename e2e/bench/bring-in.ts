/**
 * npm run bench:bring-in: how long an artist waits who drops a file, from its bytes on the own machine to the first picture
 * and to IDs that can be picked from, and what the page takes of memory; and how the cast of very many members scrolls.
 * `--json FILE` writes the figures for machines.
 */
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, type WebDriver } from 'selenium-webdriver';
import { encodeCryptomatte, groupFiles, writeExr, type ExrChannel, type ExrImage } from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { demoPicture, fileOf, repeated, roundThings } from '../../core/bench/frames.ts';
import { argument, Report } from '../../core/bench/report.ts';
import { startWhole } from '../harness/application.ts';
import { openBrowser, see } from '../harness/browser.ts';

const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-bench-files-'));

/** The demo repeated over a frame of any size, with float passes beside its own until there are so many channels. */
function largeDemo(width: number, height: number, count: number): ExrImage {
  const { header, channels } = repeated(demoPicture(), 1);
  const [w, h] = [960, 540];
  const spread = ({ data }: ExrChannel): Float32Array | Uint16Array => {
    const out = new (data.constructor as new (n: number) => Float32Array)(width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x += w)
        out.set(
          (data as Float32Array).subarray((y % h) * w, (y % h) * w + Math.min(w, width - x)),
          y * width + x,
        );
    return out;
  };
  const own = channels.map((c): ExrChannel => ({ ...c, data: spread(c) }));
  const float = own.find((c) => c.type === 'float')!;
  const more = Array.from({ length: count - own.length }, (_, i): ExrChannel => {
    const data = Float32Array.from(float.data, (v, p) => (v % 1) + ((p * (i + 1)) % 997) / 997);
    return { ...float, name: `light${Math.floor(i / 3)}.${'RGB'[i % 3]}`, data };
  });
  const box = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  return { header: { ...header, dataWindow: box, displayWindow: box }, channels: [...own, ...more] };
}

/** A grey picture with an ID layer of so many members. */
function manyMembers(count: number): ExrImage {
  const [width, height] = [1920, 1080];
  const planes = roundThings(width, height, count);
  const ids = [...new Set(planes.ids[0])];
  const { channels, attributes } = encodeCryptomatte(
    'CryptoSprigs',
    { ...planes, ids: planes.ids.slice(0, 2), coverage: planes.coverage.slice(0, 2) },
    ids.map((id, i) => [`field_${i % 97}/row_${i % 1009}/sprig_${i}`, id] as const),
  );
  const grey = Float32Array.from({ length: width * height }, (_, p) => (p % width) / width);
  const picture = ['R', 'G', 'B'].map((name): ExrChannel => ({
    name,
    type: 'float',
    xSampling: 1,
    ySampling: 1,
    pLinear: false,
    data: grey,
  }));
  const box = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  return {
    header: { ...repeated(demoPicture(), 1).header, dataWindow: box, displayWindow: box, attributes },
    channels: [...picture, ...channels],
  };
}

/** Notes when a file is dropped, when the picture is there, and when each ID layer is. */
const WATCH = `
  window.bench = { picture: 0, ids: 0 };
  document.addEventListener('change', (e) => {
    if (e.target.type !== 'file') return;
    const start = performance.now();
    const there = (name) => document.querySelector('[aria-label="Look at ' + name + '"] canvas:not(.coming)');
    const timer = setInterval(() => {
      if (there('picture')) window.bench.picture ||= performance.now() - start;
      if (arguments[0].every(there)) {
        window.bench.ids = performance.now() - start;
        clearInterval(timer);
      }
    }, 10);
  }, { capture: true, once: true });`;

/** The most that a page of this browser has had in memory, in bytes. */
function peakOfPages(): number {
  let most = 0;
  for (const pid of readdirSync('/proc').filter((n) => /^\d+$/.test(n)))
    try {
      const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
      if (!command.includes('--type=renderer') || !command.includes('zesty-crow-browser-')) continue;
      const peak = /VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'));
      most = Math.max(most, 1024 * Number(peak?.[1] ?? 0));
    } catch {
      // Ended meanwhile.
    }
  return most;
}

async function drop(
  address: string,
  path: string,
  ids: readonly string[],
  after: (driver: WebDriver) => Promise<void> = async () => undefined,
): Promise<{ picture: number; ids: number; peak: number }> {
  const driver = await openBrowser(1280, 800);
  try {
    await driver.get(address);
    await see(driver, 'h1');
    await driver.executeScript(WATCH, ids);
    await driver.findElement(By.css('input[type=file]')).sendKeys(path);
    const read = () => driver.executeScript<{ picture: number; ids: number }>('return window.bench');
    await driver.wait(async () => (await read()).ids > 0, 120_000, 'the IDs did not come');
    await after(driver);
    return { ...(await read()), peak: peakOfPages() };
  } finally {
    await driver.quit();
  }
}

/** Scrolls the cast from top to bottom and back; the longest task meanwhile, in milliseconds. */
const SCROLL = `
  const done = arguments[0];
  const rows = document.querySelector('.cast .rows');
  const height = rows.scrollHeight;
  let longest = 0;
  new PerformanceObserver((list) => {
    for (const e of list.getEntries()) longest = Math.max(longest, e.duration);
  }).observe({ type: 'longtask' });
  (async () => {
    for (let i = 0; i < 200; i++) {
      rows.scrollTop = (height * (i < 100 ? i : 200 - i)) / 100;
      await new Promise(requestAnimationFrame);
    }
    await new Promise((resolve) => setTimeout(resolve, 300));
    done(longest);
  })();`;

const application = await startWhole(mkdtempSync(join(tmpdir(), 'zesty-crow-bench-')), {
  SEED_DEMO: '0',
});
try {
  const report = new Report(argument('--json'));
  const figure = (name: string, value: number, unit: string, goal: number, against: string) =>
    report.tell({ name, value, unit, goal, better: 'less', against });
  for (const [size, image, first, ready] of [
    ['1920x1080, 28 channels', () => repeated(demoPicture(), 2), 2000, 5000],
    ['4096x2160, 40 channels', () => largeDemo(4096, 2160, 40), 6000, 12_000],
  ] as const) {
    const path = join(folder, `table_${first}.exr`);
    const bytes = fileOf(image(), 'zip');
    writeFileSync(path, bytes);
    const megabytes = `${(bytes.length / 2 ** 20).toFixed(0)} MB, local bytes`;
    const { picture, ids, peak } = await drop(application.address, path, ['CryptoObject', 'CryptoMaterial']);
    figure(`${size}: first picture`, picture, 'ms', first, megabytes);
    figure(`${size}: ready masks`, ids, 'ms', ready, megabytes);
    figure(`${size}: page beside the file`, (peak - bytes.length) / 2 ** 30, 'GB', 1, megabytes);
  }
  const path = join(folder, 'sprigs.exr');
  const many = manyMembers(50_000);
  writeFileSync(
    path,
    writeExr({ ...many.header, channels: many.channels }, { compression: 'zip', zlib: nodeZlib }),
  );
  let longest = 0;
  await drop(application.address, path, ['CryptoSprigs'], async (driver) => {
    await driver.manage().setTimeouts({ script: 60_000 });
    // Until the wall hangs, and the server has read the file as well.
    await driver.sleep(8000);
    longest = await driver.executeAsyncScript<number>(SCROLL);
  });
  figure('50,000 members: longest task while scrolling', longest, 'ms', 50, 'top to bottom and back');
  const listing = Array.from({ length: 300 }, (_, i) => ({
    path: `client/shelf_${['beauty', 'ids', 'ao'][i % 3]}.${String(Math.floor(i / 3)).padStart(4, '0')}.exr`,
  }));
  const start = performance.now();
  groupFiles(listing);
  figure('300 files grouped', performance.now() - start, 'ms', 1000, 'once, in Node');
  report.end();
} finally {
  await application.stop();
}
