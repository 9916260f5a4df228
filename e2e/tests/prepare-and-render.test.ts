import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { smallScene } from '../../core/test/fixtures/small-scene.ts';
import type { Application } from '../harness/application.ts';
import { startEmpty } from '../harness/database.ts';
import { openBrowser, see, withText } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';

let application: Application;
let driver: WebDriver;
let page: CorrectPage;
const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-e2e-'));

beforeAll(async () => {
  application = await startEmpty();
  driver = await openBrowser();
  page = new CorrectPage(driver);
});
afterAll(async () => {
  await driver?.quit();
  await application?.stop();
});

/** Clicks a place of the scene's view, in shares of its size. */
async function clickView(u: number, v: number, more = false): Promise<void> {
  const canvas = await see(driver, '.scene canvas');
  const { width, height } = await canvas.getRect();
  const at = { origin: canvas, x: Math.round((u - 0.5) * width), y: Math.round((v - 0.5) * height) };
  const actions = driver.actions().move(at);
  if (more) actions.keyDown(Key.SHIFT);
  actions.click();
  if (more) actions.keyUp(Key.SHIFT);
  await actions.perform();
}
test('a scene that is dropped begins a shot in Prepare, with its tree and its faults', async () => {
  const file = join(folder, 'bee_yard.glb');
  writeFileSync(file, await smallScene());
  await driver.get(application.address);
  await (await see(driver, '.wall')).getText();
  await (await driver.findElement(By.css('input[type=file]'))).sendKeys(file);
  await see(driver, '.prepare .scene canvas', 30_000);
  await page.wait(
    async () => Number(await (await see(driver, '.scene')).getAttribute('data-drawn')) > 0,
    'nothing was drawn',
  );
  await page.wait(async () => (await page.all('.scene .veil')).length === 0, 'the scene did not load');
  expect(await page.texts('.row .name')).toEqual(['jars', 'wall', 'bee']);
  expect(await (await see(driver, 'h1')).getText()).toBe('Bee yard');
});

test('a click in the view finds the row, and the selection can be numbered and wished for', async () => {
  // The bee hangs right of the middle; the jar's glass is left of it, before its lid.
  await clickView(0.62, 0.5);
  await page.wait(
    async () => (await page.texts('.row.chosen .name')).join() === 'bee',
    'the bee was not chosen',
  );
  await clickView(0.35, 0.5, true);
  await page.wait(async () => (await page.all('.row.chosen')).length === 2, 'the glass was not added');
  await (await withText(driver, 'button', 'Count up')).click();
  await page.saved();
  const bee = await see(driver, 'input[aria-label="Number of bee"]');
  expect(await bee.getAttribute('value')).toBe('1');

  // A number on the group is handed down to what has none.
  const jars = await see(driver, 'input[aria-label="Number of jars"]');
  await page.typeInto(jars, '7');
  await page.saved();
  const lid = await see(driver, 'input[aria-label="Number of jars/lid"]');
  expect(await lid.getAttribute('placeholder')).toBe('7');
  expect(await (await see(driver, 'input[aria-label="Number of jars/glass"]')).getAttribute('value')).toBe(
    '2',
  );
  // The same number by hand elsewhere is a clash, and shown as one.
  await page.typeInto(await see(driver, 'input[aria-label="Number of wall"]'), '1');
  await page.saved();
  expect(await (await see(driver, 'input[aria-label="Number of wall"]')).getAttribute('class')).toContain(
    'clash',
  );
  await (await see(driver, 'button[aria-label="Undo"]')).click();
  await page.wait(
    async () =>
      (await (await see(driver, 'input[aria-label="Number of wall"]')).getAttribute('value')) === '',
    'undo did not take the number off',
  );
});

test('a wish is judged, the cheapest pass for it is one click, and so is a whole plan', async () => {
  await (await see(driver, '.row[title^="jars "]')).click();
  await (await withText(driver, 'button', 'New wish')).click();
  const words = await see(driver, '.wish-card textarea');
  await words.sendKeys('Jars in front stronger', Key.TAB);
  await page.wait(
    async () => (await page.texts('.verdict')).join().includes('No pass isolates it'),
    'the wish was not judged',
  );
  await (await withText(driver, 'button', 'the cheapest')).click();
  await page.wait(async () => (await page.all('.verdict.served')).length === 1, 'the wish is not served');
  expect((await page.texts('.pass .title')).join()).toContain('Object buffer');
  await (await withText(driver, 'button', 'Propose from wishes')).click();
  await page.wait(
    async () => (await page.texts('.pass .title')).join().includes('Puzzle matte'),
    'nothing was proposed',
  );
  expect(await page.all('.verdict.served')).toHaveLength(1);
  await page.saved();
  // Undo brings the buffer back; redo the proposal. Both survive a reload.
  await driver.navigate().refresh();
  await see(driver, '.wish-card');
  await (await see(driver, 'button[aria-label="Undo"]:not([disabled])')).click();
  await page.wait(
    async () => (await page.texts('.pass .title')).join().includes('Object buffer'),
    'undo did not undo',
  );
  await (await see(driver, 'button[aria-label="Redo"]:not([disabled])')).click();
  await page.wait(
    async () => (await page.texts('.pass .title')).join().includes('Puzzle matte'),
    'redo did not redo',
  );
});

test('a render cannot start without a valid target; names are always in view', async () => {
  await (await withText(driver, 'button', 'Render…')).click();
  await page.wait(
    async () => (await page.texts('.names li')).join() === 'Bee_yard_v001_all.0001.exr',
    'the name is not shown',
  );
  await page.typeInto(await page.field('File name'), '{shot}_{moon}');
  const start = await withText(driver, 'button', 'Render v1');
  await page.wait(async () => (await start.getAttribute('disabled')) !== null, 'it could be started');
  expect((await page.texts('.fault')).join()).toContain('{moon}');
  await page.typeInto(await page.field('File name'), '{shot}_v{version}.{frame}');
  for (const [label, value] of [
    ['Width', '96'],
    ['Height', '60'],
    ['Samples', '16'],
    ['Last frame', '2'],
  ] as const)
    await page.typeInto(await page.field(label), value);
  await page.wait(
    async () =>
      (await page.texts('.names li')).join(' ') === 'Bee_yard_v001.0001.exr to Bee_yard_v001.0002.exr',
    'the names of the range are not shown',
  );
  await page.wait(async () => (await start.getAttribute('disabled')) === null, 'it cannot be started');
});

test('frames are rendered while one looks on, and what they cost stands beside the estimate', async () => {
  await page.saved();
  await (await withText(driver, 'button', 'Render v1')).click();
  await page.wait(
    async () => (await page.all('.frame.done')).length === 2,
    'the frames were not rendered',
    90_000,
  );
  await see(driver, '.rendered canvas', 20_000);
  await page.wait(
    async () => /v1: .* MB, \d+ samples a pixel, a frame/.test((await page.texts('.fold .summary')).join()),
    'it is not told what a frame cost',
  );
  await see(driver, '.room .look canvas');
});

test('the wish becomes a change with its picks, in every frame', async () => {
  await (await withText(driver, 'button', 'Correct…')).click();
  await page.ready();
  await (await see(driver, 'button.wish')).click();
  await page.settled();
  expect(await page.picks()).toEqual([expect.stringContaining('jars')]);
  expect(await page.all('.card .lost, .picks .lost')).toHaveLength(0);
  await (await see(driver, 'button[aria-label="Frame after"]')).click();
  await page.wait(async () => (await page.texts('.now')).join().includes('frame 2 of 2'), 'still frame 1');
  await page.ready();
  // A wish that has become a change is not offered again.
  expect(await page.all('button.wish')).toHaveLength(0);
});

test('one who looks for what is not there is told', async () => {
  await (await withText(driver, 'a', 'Prepare')).click();
  await page.typeInto(await see(driver, 'input[aria-label="Find in the scene"]'), 'queen');
  await page.wait(
    async () => (await page.texts('.roster')).join().includes('Nothing is called that'),
    'no empty state',
  );
});
