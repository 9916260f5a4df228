import { copyFileSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, type WebDriver } from 'selenium-webdriver';
import { readExr } from '@zesty-crow/core/formats/exr';
import { frozenBytes } from '../../core/test/fixtures/frozen.ts';
import { samplePath, truth } from '../../core/test/fixtures/samples.ts';
import type { Application } from '../harness/application.ts';
import { clickSoon, openBrowser, see, withText } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';
import { START_MS, startWithShots } from '../harness/database.ts';

let application: Application;
let driver: WebDriver;
let page: CorrectPage;

// The lid of the middle jar, the big plank in front, and the brass can, as shares of the demo picture.
const LID: [number, number] = [0.573, 0.478];
const SMOKER: [number, number] = [0.835, 0.56];
const ROOF: [number, number] = [0.3, 0.15];

beforeAll(async () => {
  application = await startWithShots();
  driver = await openBrowser();
  page = new CorrectPage(driver);
}, START_MS);
afterAll(async () => {
  await driver?.quit();
  await application?.stop();
});

const drop = async (...names: string[]) => {
  const input = await driver.findElement(By.css('input[type=file]'));
  await input.sendKeys(names.map((n) => samplePath(n)).join('\n'));
};
const reload = async () => {
  await driver.navigate().refresh();
  await page.ready();
};
const difference = (a: number[], b: number[]) => Math.max(...a.map((v, i) => Math.abs(v - b[i]!)));

test('the demo opens with its changes applied', async () => {
  await page.openShot(application.address, 'Honey table');
  const [r, g] = await page.colourAt(...LID);
  expect(g).toBeGreaterThan(r);
  const cards = await driver.findElements(By.css('li.card'));
  expect(cards).toHaveLength(4);
});

test('what is under the pointer is told with its coverage', async () => {
  await page.pointAt(...SMOKER);
  const tag = await see(driver, '[aria-label="Under the pointer"]');
  // In one line what a click would take.
  expect((await tag.getText()).split('\n').join(' ')).toMatch(/^\S*smoker\/can 100 %$/);
  expect((await tag.getRect()).height).toBeLessThan(26);
  // Everything there, while a key is held.
  await driver.actions().keyDown('e').perform();
  await page.says('[aria-label="Under the pointer"]', 'brass');
  await driver.actions().keyUp('e').perform();
  await driver.wait(async () => !(await tag.getText()).includes('brass'), 5000);
  // Near the pointer, and inside the picture's room.
  const [box, room] = [await tag.getRect(), await (await see(driver, '.stage-picture')).getRect()];
  expect(box.x).toBeGreaterThanOrEqual(room.x);
  expect(box.x + box.width).toBeLessThanOrEqual(room.x + room.width + 1);
});

test('a click begins a change, a number corrects it, and all is there after a reload', async () => {
  await (await withText(driver, 'button', 'New change')).click();
  await page.settled();
  const before = await page.colourAt(...ROOF);
  await page.clickAt(...ROOF);
  expect((await page.picks()).join()).toContain('hive/roof');
  await page.addStep('Add a correction', 'Exposure');
  await page.type('Exposure', -2);
  await page.press('p');
  await page.pointAt(0.5, 0.02);
  await page.settled();
  const after = await page.colourAt(...ROOF);
  expect(after[1]).toBeLessThan(before[1]! * 0.7);
  await reload();
  await page.openCard('');
  expect((await page.picks()).join()).toContain('hive/roof');
  await page.press('p');
  await page.pointAt(0.5, 0.02);
  await page.settled();
  expect(difference(await page.colourAt(...ROOF), after)).toBeLessThan(3);
});

test('before is shown while a key is held, undo goes back across the reload', async () => {
  const after = await page.colourAt(...ROOF);
  await driver.executeScript(
    `dispatchEvent(new KeyboardEvent('keydown', { key: 'b' })); document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'b', bubbles: true }))`,
  );
  await driver.sleep(300);
  expect((await page.colourAt(...ROOF))[1]).toBeGreaterThan(after[1]! + 20);
  await driver.executeScript(
    `document.body.dispatchEvent(new KeyboardEvent('keyup', { key: 'b', bubbles: true }))`,
  );
  await page.settled();
  expect(difference(await page.colourAt(...ROOF), after)).toBeLessThan(3);
  await page.undo();
  expect((await page.colourAt(...ROOF))[1]).toBeGreaterThan(after[1]! + 20);
});

test('a second click takes out; a sweep takes many; materials are picked by key without losing objects', async () => {
  await page.clickAt(...ROOF);
  expect((await page.picks()).join()).not.toContain('hive/roof');
  await page.dragAcross([0.05, 0.88], [0.2, 0.86]);
  const swept = await page.picks();
  expect(swept.filter((n) => n.includes('lavender/sprig_')).length).toBeGreaterThan(3);
  await page.press('x');
  await page.clickAt(...SMOKER);
  const both = await page.picks();
  expect(both.length).toBe(swept.length + 1);
  expect(both.join()).toContain('brass');
});

test('what another window does appears here, and nothing is overwritten', async () => {
  const shots = (await (await fetch(`${application.address}/api/shots`)).json()) as {
    id: string;
    name: string;
  }[];
  const path = `${application.address}/api/shots/${shots.find((s) => s.name === 'Honey table')!.id}/changes`;
  const state = (await (await fetch(path)).json()) as {
    revision: number;
    body: { changes: { words: string }[] };
  };
  state.body.changes[0]!.words = 'Lids like the hive, said elsewhere';
  const saved = await fetch(path, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ revision: state.revision, label: 'Elsewhere', body: state.body }),
  });
  expect(saved.status).toBe(200);
  const words = () => driver.executeScript<string>(`return document.querySelector('li.card textarea').value`);
  await driver.wait(async () => (await words()).endsWith('said elsewhere'), 10_000);
});

test('the mask, the cut-out and the ID map can be looked at', async () => {
  await page.press('3');
  await page.settled();
  expect(await page.colourAt(...SMOKER)).toEqual([255, 255, 255]);
  expect(await page.colourAt(0.5, 0.1)).toEqual([0, 0, 0]);
  await page.press('4');
  await page.settled();
  const outside = await page.colourAt(0.5, 0.1);
  expect(outside[0]).toBe(outside[2]);
  await page.press('2');
  await page.settled();
  expect(difference(await page.colourAt(...SMOKER), await page.colourAt(...LID))).toBeGreaterThan(20);
  await page.press('1');
  await page.settled();
});

test('the export is computed and holds every channel', async () => {
  await (await withText(driver, 'button', 'Export…')).click();
  await (await withText(driver, 'button', 'Compute at full resolution')).click();
  const link = await see(driver, 'a.result', 60_000);
  const response = await fetch((await link.getAttribute('href'))!);
  const image = readExr(new Uint8Array(await response.arrayBuffer()));
  const source = readExr(frozenBytes('honey_table_v1.exr'));
  // Every channel but the picture's is there with the very samples it came with; the picture was changed.
  const of = (channels: typeof image.channels, name: string) => channels.find((c) => c.name === name)?.data;
  for (const { name } of source.channels.filter((c) => !'RGBA'.includes(c.name)))
    expect([name, of(image.channels, name)]).toEqual([name, of(source.channels, name)]);
  expect(of(image.channels, 'G')).not.toEqual(of(source.channels, 'G'));
  await (await withText(driver, 'button', 'Close')).click();
});

test('files from elsewhere become shots: with names beside them, with overscan, and broken ones with the reason', async () => {
  await driver.get(application.address);
  await see(driver, 'button[aria-label="Open Honey table"]');
  // The manifest was renamed: it is the only one, so it belongs to the picture all the same.
  const renamed = join(mkdtempSync(join(tmpdir(), 'zesty-crow-names-')), 'names_of_the_table.json');
  copyFileSync(samplePath('sidecar.json'), renamed);
  await (
    await driver.findElement(By.css('input[type=file]'))
  ).sendKeys([samplePath('object_sidecar.exr'), renamed].join('\n'));
  const onWall = async (name: string) => {
    await driver.get(application.address);
    await see(driver, `button[aria-label="Open ${name}"]:has(img)`, 30_000);
  };
  await see(driver, '[aria-label="Look at CryptoObject"]', 30_000);
  await onWall('Object sidecar');
  await drop('object_overscan.exr');
  await see(driver, '[aria-label="Look at CryptoObject"]', 30_000);
  await onWall('Object overscan');
  await drop('object_tiled.exr');
  await see(driver, '[aria-label="Look at CryptoObject"]', 30_000);
  await onWall('Object tiled');
  const cut = join(mkdtempSync(join(tmpdir(), 'zesty-crow-cut-')), 'cut_off.exr');
  writeFileSync(cut, readFileSync(samplePath('all.exr')).subarray(0, 300));
  await driver.findElement(By.css('input[type=file]')).sendKeys(cut);
  await page.says('.problem', 'The file ends in the middle of');
  await driver.get(application.address);
  await clickSoon(driver, () => see(driver, 'button[aria-label="Open Object sidecar"]:not([disabled])'));
  await page.ready();
  await (await withText(driver, 'button', 'New change')).click();
  // What a rule matches here is what it matches on export: names, not numbers.
  await page.typeInto(await page.field('Find members'), 'bees/*');
  await page.says('.picks', '(3)');
  await page.pointAt(0.5, 0.5);
  // In a field it would be typed.
  await driver.executeScript('document.activeElement.blur()');
  await driver.actions().keyDown('e').perform();
  const under = await (await see(driver, '[aria-label="Under the pointer"].unfolded')).getText();
  await driver.actions().keyUp('e').perform();
  expect(under).not.toContain('id:');
  expect(Object.keys(truth.objects).some((name) => under.includes(name))).toBe(true);
  await drop404();
});

/** An address of nothing leads back to the wall. */
async function drop404(): Promise<void> {
  await driver.get(`${application.address}/shots/00000000-0000-4000-8000-000000000000/correct`);
  await see(driver, '.wall');
}

test('a deleted shot comes back by undo', async () => {
  await driver.get(application.address);
  await (await see(driver, 'button[aria-label="Delete Object overscan"]')).click();
  await (await see(driver, '.undo-note')).click();
  await see(driver, 'button[aria-label="Open Object overscan"]');
});
