import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { decode, encode } from 'fast-png';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { apiOf } from '../harness/api.ts';
import type { Application } from '../harness/application.ts';
import { clickSoon, openBrowser, see } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';
import { START_MS, startWithShots } from '../harness/database.ts';
import { chooseFile, standInForFileDialog } from '../harness/file-dialog.ts';

/** A sequence is gone through, a value gets keys, and frames and layers are handed over. */
let application: Application;
let driver: WebDriver;
let page: CorrectPage;
beforeAll(async () => {
  application = await startWithShots();
  driver = await openBrowser(1280, 800);
  page = new CorrectPage(driver);
  await page.openShot(application.address, 'Bee flight');
}, START_MS);
afterAll(async () => {
  await driver.quit();
  await application.stop();
});

const click = (path: string) => clickSoon(driver, () => driver.findElement(By.xpath(path)) as never);
const text = (css: string) =>
  driver.executeScript<string>(`return document.querySelector(${JSON.stringify(css)})?.textContent ?? ''`);
const frameIs = (n: number) =>
  driver.wait(async () => (await text('.now')).includes(`frame ${n} of`), 20_000, `frame ${n} is not open`);

test('drawing along the strip shows the stored picture at once, and opens the frame where it rests', async () => {
  const cell = (n: number) => see(driver, `[data-frame="${n}"]`);
  await driver
    .actions()
    .move({ origin: await cell(1) })
    .press()
    .move({ origin: await cell(3) })
    .perform();
  await frameIs(3);
  expect(await driver.findElements(By.css('.frame-over'))).toHaveLength(1);
  await driver
    .actions()
    .move({ origin: await cell(5) })
    .release()
    .perform();
  await frameIs(5);
  await driver.wait(async () => (await driver.findElements(By.css('.frame-over'))).length === 0, 20_000);
  await page.settled();
});

test('played, all frames are computed, and the area of the mask is told for each', async () => {
  await click("//button[@aria-label='Play']");
  await driver.wait(async () => (await text('.told')).includes('all frames computed'), 90_000);
  await click("//button[@aria-label='Stop']");
  expect(
    await driver.findElements(By.css('svg[aria-label="Area of the mask by frame"] circle')),
  ).toHaveLength(5);
});

test('an exposure with keys at two frames is half of it in between, in the frames that are handed over', async () => {
  const call = apiOf(application);
  const shots = await call<{ id: string; name: string; versionId: string }[]>('GET', '/shots');
  const { id, versionId } = shots.find((s) => s.name === 'Bee flight')!;
  // One change of one correction, whose keys are put by hand.
  const { revision } = await call<{ revision: number }>('GET', `/shots/${id}/changes`);
  const wall = {
    ...{
      id: 'wall',
      words: 'The wall',
      on: true,
      done: false,
      edge: [],
      fence: [],
      brush: [],
      plainEdges: true,
    },
    who: [{ mode: 'with', layer: 'CryptoObject', member: 'wall' }],
    corrections: [{ id: 'k', kind: 'exposure', on: true, values: {} }],
  };
  const body = { format: 'zesty-crow/changes', version: 7, headings: [], changes: [wall], variants: [] };
  await call('PUT', `/shots/${id}/changes`, { revision, label: 'The wall', body });
  await driver.navigate().refresh();
  await page.ready();
  await frameIs(1);
  await click("//summary[. = 'Over frames']");
  await click("//button[contains(., 'Key at frame 1')]");
  await page.press(Key.ESCAPE);
  await click("//button[@data-frame='5']");
  await frameIs(5);
  await driver.wait(async () => (await driver.findElements(By.css('.frame-over'))).length === 0, 20_000);
  await page.type('Exposure', 2);
  await page.settled();

  await click("//a[contains(., 'Export')]");
  await click("//button[contains(., 'Add a parcel')]");
  await click("//li[contains(., 'Corrected picture')]");
  const frames = await see(driver, 'input[placeholder^="all; or"]');
  await frames.sendKeys('3', Key.ENTER);
  await driver.wait(
    async () => (await text('.names')).includes('.0003.exr') && !(await text('.names')).includes('.0004'),
    10_000,
  );
  await click("//button[contains(., 'Make this parcel')]");
  await driver.wait(async () => (await driver.findElements(By.css('.download'))).length === 1, 60_000);
  const archive = await (await see(driver, '.download')).getAttribute('href');
  const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-handed-'));
  writeFileSync(join(folder, 'all.zip'), Buffer.from(await (await fetch(archive!)).arrayBuffer()));
  execFileSync('python3', ['-m', 'zipfile', '-e', join(folder, 'all.zip'), folder]);
  const { versions } = await call<{
    versions: { id: string; files: { id: string; name: string; role: string; frame: number }[] }[];
  }>('GET', `/shots/${id}`);
  const source = versions
    .find((v) => v.id === versionId)!
    .files.find((f) => f.role === 'picture' && f.frame === 3 && !f.name.includes('data'))!;
  writeFileSync(
    join(folder, 'source.exr'),
    Buffer.from(await (await fetch(`${application.address}/api/files/${source.id}`)).arrayBuffer()),
  );
  // A pixel of the wall alone, in both, as oiiotool reads them: one stop of light, twice as much.
  const pixel = (file: string) => {
    const told = execFileSync(
      'oiiotool',
      [join(folder, file), '--ch', 'R,G,B', '--cut', '3x3+139+13', '--printstats'],
      { encoding: 'utf8' },
    );
    return Number(/Stats Avg:\s+([\d.]+)/.exec(told)![1]);
  };
  expect(pixel('corrected_picture/bee_flight_v1.0003.exr') / pixel('source.exr')).toBeCloseTo(2, 1);
}, 180_000);

test('masks and a layered file are made, opened again, and after a change only what changed is made anew', async () => {
  for (const kind of ['Masks', 'Layered file']) {
    await click("//button[contains(., 'Add a parcel')]");
    await click(`//li[contains(., '${kind}')]`);
    const frames = await see(driver, 'input[placeholder^="all; or"]');
    await frames.sendKeys('1-2', Key.ENTER);
    await driver.wait(
      async () => (await text('.names')).includes('.0002.') && !(await text('.names')).includes('.0003.'),
      10_000,
    );
  }
  await click("//button[contains(., 'Make all')]");
  const ended = (files: string) =>
    driver.wait(async () => (await text('.runs article')).includes(files), 90_000, `not: ${files}`);
  await ended('4 of 5 files made anew');
  await click("(//button[contains(., 'Show the files')])[1]");
  await driver.wait(async () => (await text('.runs article ul')).includes('layered_file'), 10_000);
  const link = await driver.findElement(
    By.xpath("//ul/li/a[contains(., 'masks/bee_flight_v1_the_wall.0001.png')]"),
  );
  const mask = decode(new Uint8Array(await (await fetch((await link.getAttribute('href'))!)).arrayBuffer()));
  expect([mask.width, mask.height, mask.depth, mask.channels]).toEqual([160, 90, 16, 1]);
  expect(mask.data[14 * 160 + 140]).toBe(65535);
  // The value of the keys between them is another one; no mask is.
  await driver.navigate().back();
  await page.ready();
  await frameIs(1);
  await page.type('Exposure', 1);
  await click("//a[contains(., 'Export')]");
  await click("//button[contains(., 'Make all')]");
  await ended('3 of 5 files made anew');
}, 240_000);

test('members that are typed are cut out on a picture from a file; what was handed over is deleted again', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-cut-'));
  const green = Uint8Array.from({ length: 3 * 16 * 9 }, (_, i) => [40, 160, 90][i % 3]!);
  writeFileSync(
    join(folder, 'meadow.png'),
    encode({ width: 16, height: 9, channels: 3, depth: 8, data: green }),
  );
  const choose = async (label: string, option: string) => {
    await click(
      `//*[contains(@class,'line')][./span[. = '${label}']]//*[contains(@class,'el-select__wrapper')]`,
    );
    await click(`//li[contains(., '${option}')]`);
  };
  await click("//button[contains(., 'Add a parcel')]");
  await click("//li[contains(., 'Cut-outs')]");
  await choose('Of', 'of an ID layer, together');
  await (await see(driver, 'input[placeholder*="jars/"]')).sendKeys('jars/jar_1/*', Key.ENTER);
  await (await see(driver, 'input[placeholder="all; or 1-10, 14"]')).sendKeys('1', Key.ENTER);
  await choose('On', 'a picture that fills');
  await standInForFileDialog(driver);
  await click("//button[contains(., 'Choose a picture')]");
  await chooseFile(driver, join(folder, 'meadow.png'));
  await driver.wait(async () => (await text('.sheet')).includes('meadow.png'), 10_000);
  await driver.wait(async () => /1 file, about/.test(await text('.go')), 10_000);
  const runs = async () => (await driver.findElements(By.css('.runs article'))).length;
  const before = await runs();
  await click("//button[contains(., 'Make this parcel')]");
  await driver.wait(async () => (await runs()) === before + 1, 10_000);
  await driver.wait(async () => (await text('.runs article')).includes('1 of 1 files made anew'), 60_000);
  await click("(//button[contains(., 'Show the files')])[1]");
  const link = await see(driver, '.runs li a');
  const cut = decode(new Uint8Array(await (await fetch((await link.getAttribute('href'))!)).arrayBuffer()));
  expect([cut.width, cut.height, cut.depth, cut.channels]).toEqual([160, 90, 16, 3]);
  const pixel = (x: number, y: number) =>
    [0, 1, 2].map((k) => Math.round(cut.data[3 * (y * 160 + x) + k]! / 257));
  // Beside the jar the picture, on the jar something else.
  expect(pixel(2, 2)).toEqual([40, 160, 90]);
  expect(pixel(93, 60)).not.toEqual([40, 160, 90]);
  await click("(//button[starts-with(@aria-label, 'Delete the run of')])[1]");
  await click("//div[contains(@class,'el-popconfirm')]//button[contains(., 'Delete')]");
  await driver.wait(async () => (await runs()) === before, 10_000);
}, 240_000);
