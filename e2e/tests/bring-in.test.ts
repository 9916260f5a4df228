import { copyFileSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { samplePath } from '../../core/test/fixtures/samples.ts';
import { tool } from '../../core/test/fixtures/tools.ts';
import { startApplication, type Application } from '../harness/application.ts';
import { clickSoon, openBrowser, see, withText } from '../harness/browser.ts';

/** A client's folder is brought in: how its files belong together is shown, and put right before they are sent. */
let application: Application;
let driver: WebDriver;

beforeAll(async () => {
  application = await startApplication(mkdtempSync(join(tmpdir(), 'zesty-crow-bring-in-')), {
    SEED_DEMO: '0',
  });
  driver = await openBrowser();
  await driver.get(application.address);
});
afterAll(async () => {
  await driver?.quit();
  await application?.stop();
});

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
  // The wrong one goes out by keyboard.
  await driver
    .findElement(By.css('[aria-label="Where shelf_old.exr belongs"]'))
    .sendKeys(Key.ENTER, Key.ARROW_DOWN, Key.ENTER);
  await driver.wait(async () => (await dialog.getText()).includes('Left out'), 5_000);
  expect(await dialog.getText()).toContain('4 pictures');
  await (await withText(driver, 'button', 'Bring in one version')).click();
  await see(driver, 'button[aria-label="Open Shelf"] img', 60_000);
});

test('each of them hangs on the wall, whatever format it came in, and can be picked from', async () => {
  await clickSoon(driver, () => see(driver, 'button[aria-label="Open Shelf"]'));
  await see(driver, '.stage-picture');
  await clickSoon(driver, () => withText(driver, 'a', 'Inspect'));
  await see(driver, '[aria-label="Look at ao"]');
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
  await driver.get(application.address);
  await see(driver, 'button[aria-label="Open Shelf"] img');
  const small = ['--resize', '64x36', '--ch', 'R,G,B'];
  const paths = [1, 2, 4].map((n) => file(`walk.000${n}.exr`, 'all.exr', ...small));
  await driver.findElement(By.css('input[type=file]')).sendKeys(paths.join('\n'));
  const dialog = await see(driver, '.el-dialog');
  expect(await dialog.getText()).toContain('frames 1 to 4, missing: 3');
  await (await withText(driver, 'button', 'Bring in one version')).click();
  await clickSoon(driver, () => see(driver, 'button[aria-label="Open Walk"]:has(img)', 60_000));
  await withText(driver, 'span', 'frame 1 of 3');
});
