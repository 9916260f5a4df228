import { copyFileSync, mkdirSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key, type WebDriver, type WebElement } from 'selenium-webdriver';
import { samplePath } from '../../core/test/fixtures/samples.ts';
import { tool } from '../../core/test/fixtures/tools.ts';
import { faults } from '../harness/axe.ts';
import type { Application } from '../harness/application.ts';
import { startEmpty } from '../harness/database.ts';
import { clickSoon, openBrowser, see, withText } from '../harness/browser.ts';

/** A client's folder is brought in: how its files belong together is shown, and put right before they are sent. */
let application: Application;
let driver: WebDriver;

beforeAll(async () => {
  application = await startEmpty();
  driver = await openBrowser();
  await driver.get(application.address);
});
afterAll(async () => {
  await driver?.quit();
  await application?.stop();
});

/** The wall of shots, once a shot has its picture there. */
async function onWall(name: string): Promise<void> {
  await driver.get(application.address);
  await see(driver, `button[aria-label="Open ${name}"]:has(img)`, 60_000);
}

const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-folder-'));
function file(name: string, from = 'all.exr', ...convert: string[]): string {
  const path = join(folder, name);
  if (convert.length) tool('oiiotool', samplePath(from), ...convert, '-o', path);
  else copyFileSync(samplePath(from), path);
  return path;
}

test('passes in files of their own become one version; a wrong one is left out', async () => {
  const paths = [
    file('shelf_beauty.exr', 'all.exr', '--ch', 'R,G,B,A'),
    file('shelf_ids.exr', 'object_only_zips.exr'),
    file('shelf_ao.png', 'all.exr', '--ch', 'G', '-d', 'uint8'),
    file('shelf_depth.tif', 'all.exr', '--ch', 'depth.Z', '-d', 'float'),
    file('shelf_old.exr', 'object_two_ranks.exr'),
    file('notes.json', 'sidecar.json'),
  ];
  await driver.findElement(By.css('input[type=file]')).sendKeys(paths.join('\n'));
  const dialog = await see(driver, '.el-dialog');
  const text = await dialog.getText();
  expect(text).toContain('5 pictures');
  expect(text).toContain('Is old a pass of shelf?');
  expect(text).toContain('depth by its name');
  expect(await faults(driver)).toEqual([]);
  // The wrong one goes out by keyboard.
  await driver
    .findElement(By.css('[aria-label="Where shelf_old.exr belongs"]'))
    .sendKeys(Key.ENTER, Key.ARROW_DOWN, Key.ENTER);
  await driver.wait(async () => (await dialog.getText()).includes('Left out'), 5_000);
  expect(await dialog.getText()).toContain('4 pictures');
  // By the mouse in again, and out.
  const [grip, out, home] = await Promise.all([
    see(driver, 'section[aria-label="Left out"] .grip'),
    see(driver, 'section[aria-label="Left out"] table'),
    see(driver, 'section[aria-label="Shelf"] tbody tr:nth-child(2)'),
  ]);
  const drag = (from: WebElement, to: WebElement) =>
    driver
      .actions()
      .move({ origin: from })
      .press()
      .move({ origin: to, y: 2, duration: 200 })
      .move({ origin: to, duration: 200 })
      .release()
      .perform();
  await drag(grip, home);
  await driver.wait(
    async () => (await dialog.getText()).includes('5 pictures'),
    5_000,
    'it was not dragged in',
  );
  await drag(await see(driver, 'tr:has([title="shelf_old.exr"]) .grip'), out);
  await driver.wait(
    async () => (await dialog.getText()).includes('4 pictures'),
    5_000,
    'it was not dragged out',
  );
  await (await withText(driver, 'button', 'Bring in one version')).click();
});

test('each of them hangs on the wall at once, whatever format it came in, and can be picked from', async () => {
  // Made from the files themselves: the server need not have read them.
  await see(driver, '[aria-label="Look at ao"]', 60_000);
  const titles = await Promise.all(
    (await driver.findElements(By.css('.wall figure .title'))).map((e) => e.getText()),
  );
  expect(titles.map((t) => t.replaceAll('\n', ': '))).toEqual([
    'Picture',
    'CryptoObject: Cryptomatte',
    'ao: Ambient occlusion',
    'depth: Depth',
  ]);
  await driver.wait(
    async () => (await driver.findElements(By.css('.wall canvas.coming'))).length === 0,
    20_000,
    'a picture is missing',
  );
  expect(await (await see(driver, '.cast')).getText()).toContain('hive');
});

test('frames are a sequence, and gaps are told before they are sent', async () => {
  await onWall('Shelf');
  const small = ['--resize', '64x36', '--ch', 'R,G,B'];
  const paths = [1, 2, 4].map((n) => file(`walk.000${n}.exr`, 'all.exr', ...small));
  await driver.findElement(By.css('input[type=file]')).sendKeys(paths.join('\n'));
  const dialog = await see(driver, '.el-dialog');
  expect(await dialog.getText()).toContain('frames 1 to 4, missing: 3');
  await (await withText(driver, 'button', 'Bring in one version')).click();
  const strip = await see(driver, '[aria-label="Frames"]', 60_000);
  expect((await strip.getText()).split(/\s+/)).toEqual(['1', '2', '3', '4']);
  expect(await (await strip.findElement(By.css('.gap'))).getAttribute('title')).toBe('Missing: 3');
  await (await see(driver, '[aria-label="Frame 2"]')).click();
  await driver.actions().sendKeys(Key.ARROW_RIGHT).perform();
  await see(driver, '[aria-label="Frame 4"][aria-pressed="true"]');
});

test('files that are there already are known again; more are added to a version, and one is replaced', async () => {
  await onWall('Walk');
  await driver.findElement(By.css('input[type=file]')).sendKeys(join(folder, 'shelf_ids.exr'));
  const dialog = await see(driver, '.el-dialog');
  expect(await dialog.getText()).toContain('This file is in “Shelf”, v1 already');
  await driver.actions().sendKeys(Key.ESCAPE).perform();
  await clickSoon(driver, () => see(driver, 'button[aria-label="Open Shelf"]'));
  await clickSoon(driver, () => withText(driver, 'a', 'Inspect'));
  await see(driver, '[aria-label="Look at ao"]');
  // Another ambient occlusion under the same name, and a pass that was not there.
  const add = [
    file('shelf_ao.png', 'all.exr', '--ch', 'R', '-d', 'uint16'),
    file('shelf_normal.exr', 'all.exr', '--ch', 'R,G,B', '-d', 'half'),
  ];
  await driver.findElement(By.css('.inspect > input[type=file]')).sendKeys(add.join('\n'));
  const question = await see(driver, '[aria-label="Add to v1?"]');
  expect(await question.getText()).toMatch(/shelf_ao\.png\s+takes the place of the one there/);
  await (await withText(driver, 'button', 'Add to v1')).click();
  await see(driver, '[aria-label="Look at normal"]', 30_000);
  const wall = await see(driver, '.wall');
  await driver.wait(async () => (await wall.getText()).includes('16 bits'), 10_000, 'ao is the old one');
  await (await see(driver, '[aria-label="Files"] button')).click();
  await (await see(driver, '[aria-label="Take out shelf_normal.exr"]')).click();
  await driver.wait(
    async () => (await driver.findElements(By.css('[aria-label="Look at normal"]'))).length === 0,
    20_000,
    'it is still there',
  );
  await clickSoon(driver, () => see(driver, '.undo-note'));
  await see(driver, '[aria-label="Look at normal"]', 20_000);
});

test('a folder is dropped by the mouse, with folders in it', async () => {
  await onWall('Walk');
  const client = mkdtempSync(join(tmpdir(), 'zesty-crow-client-'));
  mkdirSync(join(client, 'passes'));
  copyFileSync(samplePath('all.exr'), join(client, 'bench_beauty.exr'));
  copyFileSync(samplePath('object_only_zips.exr'), join(client, 'passes', 'bench_ids.exr'));
  const drag = (type: string) =>
    (
      driver as unknown as { sendDevToolsCommand(name: string, parameters: object): Promise<void> }
    ).sendDevToolsCommand('Input.dispatchDragEvent', {
      type,
      x: 700,
      y: 400,
      data: { items: [], files: [client], dragOperationsMask: 1 },
    });
  await drag('dragEnter');
  await see(driver, '.wall.dragging');
  await drag('dragOver');
  await drag('drop');
  const dialog = await see(driver, '.el-dialog');
  const text = await dialog.getText();
  expect(text).toMatch(/passes\/bench_ids\.exr\s+ids/);
  expect(text).toContain('2 pictures');
  await driver.actions().sendKeys(Key.ESCAPE).perform();
});
