import { By, Key, type WebDriver } from 'selenium-webdriver';
import { apiOf } from '../harness/api.ts';
import type { Application } from '../harness/application.ts';
import { openBrowser, see, setSize } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';
import { startWithShots } from '../harness/database.ts';

/** The room of the Correct stage, measured at three sizes: what is in sight, and that nothing makes the picture jump. */
let application: Application;
let driver: WebDriver;
let page: CorrectPage;
const SIZES = [
  [1024, 720],
  [1280, 800],
  [1600, 1000],
] as const;
const LONG = 'The lids of all the honey jars a little bluer, please';

const step = (id: string, kind: string, values: object = {}) => ({ id, kind, on: true, values });
const change = (n: number, corrections: object[]) => ({
  ...{ id: `change-${n}`, words: n === 0 ? LONG : `Wish ${n}`, on: true, done: false },
  who: [{ mode: 'with', layer: 'CryptoMaterial', member: 'lid_enamel' }],
  corrections,
});
const hsl = (id: string) => step(id, 'hue-saturation-lightness', { hue: 20 });

/** Writes a change list in the place of the shot's own, with all steps folded but those. */
async function listOf(changes: object[], unfolded: readonly string[] = []): Promise<void> {
  const call = apiOf(application);
  const [shot] = await call<{ id: string; name: string }[]>('GET', '/shots');
  const { revision } = await call<{ revision: number }>('GET', `/shots/${shot!.id}/changes`);
  const body = { format: 'zesty-crow/changes', version: 1, changes };
  await call('PUT', `/shots/${shot!.id}/changes`, { revision, label: 'Test', body });
  await driver.get(application.address);
  await driver.executeScript(
    `localStorage.setItem('zesty-crow/open-steps', arguments[0]);`,
    JSON.stringify(unfolded),
  );
  await page.openShot(application.address, shot!.name);
}

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}
const boxes = async (css: string): Promise<Box[]> =>
  Promise.all((await driver.findElements(By.css(css))).map((e) => e.getRect()));
/** Where the picture lies on the screen: the first and last pixel across and down that are not the room's. */
const pictureBox = (): Promise<number[]> =>
  driver.executeScript(`
    const c = document.querySelector('.viewer canvas');
    const { width, height } = c;
    const d = c.getContext('2d').getImageData(0, 0, width, height).data;
    const room = (i) => d[i + 3] === 0;
    let [x0, y0, x1, y1] = [width, height, -1, -1];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        if (!room(4 * (y * width + x))) {
          x0 = Math.min(x0, x); x1 = Math.max(x1, x); y0 = Math.min(y0, y); y1 = Math.max(y1, y);
        }
    return [x0, y0, x1, y1];`);

beforeAll(async () => {
  application = await startWithShots();
  driver = await openBrowser();
  page = new CorrectPage(driver);
});
afterAll(async () => {
  await driver?.quit();
  await application?.stop();
});

test('with one pick the first correction is in sight at once; two open ones or eight folded ones are whole', async () => {
  await setSize(driver, 1280, 800);
  const window = () => driver.executeScript<number>('return innerHeight');
  const two = [hsl('a'), hsl('b')];
  await listOf([change(0, two)], ['a', 'b']);
  const [first, second] = await boxes('.sheet section:has(> .heading) ol > li');
  expect(first!.y).toBeLessThan(250);
  expect(second!.y + second!.height).toBeLessThanOrEqual(await window());
  const sliders = await driver.findElements(By.css('.sheet [role=slider]'));
  const seen = await Promise.all(sliders.map((e) => e.isDisplayed()));
  expect(seen.filter(Boolean)).toHaveLength(8);
  const scrolls = () =>
    driver.executeScript<boolean>(
      `const s = document.querySelector('.sheet'); return s.scrollHeight > s.clientHeight;`,
    );
  expect(await scrolls()).toBe(false);
  await listOf([
    change(
      0,
      Array.from({ length: 8 }, (_, i) => hsl(`c${i}`)),
    ),
  ]);
  const folded = await boxes('.sheet section:has(> .heading) ol > li');
  expect(folded).toHaveLength(8);
  expect(folded.at(-1)!.y + folded.at(-1)!.height).toBeLessThanOrEqual(await window());
  expect(await scrolls()).toBe(false);
});

test('eight changes are in sight, one that is not open is at most 60 pixels high, and fifty scroll', async () => {
  await listOf(Array.from({ length: 50 }, (_, i) => change(i, [hsl(`s${i}`)])));
  const bottom = (await boxes('.card-panel .body'))[0]!;
  const cards = await boxes('li.card');
  expect(cards).toHaveLength(50);
  expect(cards.filter((c) => c.y + c.height <= bottom.y + bottom.height).length).toBeGreaterThanOrEqual(8);
  for (const { height } of await boxes('li.card:not(.open)')) expect(height).toBeLessThanOrEqual(60);
  // Folds below it leave it most of the column.
  for (const fold of await driver.findElements(By.css('.list .fold > .head'))) await fold.click();
  const [panel, column] = [(await boxes('.card-panel'))[0]!, (await boxes('.left.column'))[0]!];
  expect(panel.height).toBeGreaterThanOrEqual(0.6 * column.height - 1);
});

describe.each(SIZES)('at %d x %d', (width, height) => {
  beforeAll(async () => {
    await setSize(driver, width, height);
    await listOf([change(0, [hsl('a')])], ['a']);
  });

  test('the bar is one row, as high in every way of looking, and the picture stays where it is', async () => {
    const bar = async () => (await boxes('.view-bar'))[0]!;
    const first = await bar();
    expect(first.height).toBeLessThanOrEqual(40);
    await page.press('1');
    await page.settled();
    const place = await pictureBox();
    for (const look of ['2', '3', '4', '5', '1']) {
      await page.press(look);
      await page.settled();
      expect(await bar()).toEqual(first);
      // All of it is on the bar.
      for (const b of await boxes('.view-bar button')) {
        expect(b.y).toBeGreaterThanOrEqual(first.y - 1);
        expect(b.x + b.width).toBeLessThanOrEqual(first.x + first.width + 1);
        expect(Math.min(b.width, b.height)).toBeGreaterThanOrEqual(24);
      }
      expect(await pictureBox()).toEqual(place);
    }
    // Scopes lie below it, or over its lower edge: a quarter of it at most.
    await page.press('j');
    const strip = async () => (await boxes('.strip'))[0];
    await driver.wait(async () => (await strip()) !== undefined, 5000);
    await page.settled();
    expect(await pictureBox()).toEqual(place);
    const [top, canvas] = [(await strip())!.y, (await boxes('.viewer canvas'))[0]!];
    const [, y0, , y1] = place as [number, number, number, number];
    expect(top).toBeGreaterThanOrEqual(canvas.y + y1 - (y1 - y0) / 4 - 2);
    if (width === 1280) expect(canvas.height - y1).toBeGreaterThan(200);
    await page.press('j');
  });

  test('the tag is one line that lies away from the pointer, and is gone while something is dragged', async () => {
    await page.pointAt(0.5, 0.5);
    const tag = (await boxes('[aria-label="Under the pointer"]'))[0]!;
    expect(tag.width * tag.height).toBeLessThan(320 * 24);
    const canvas = (await boxes('.viewer canvas'))[0]!;
    const [x0, y0, x1, y1] = (await pictureBox()) as [number, number, number, number];
    const [x, y] = [canvas.x + (x0 + x1) / 2, canvas.y + (y0 + y1) / 2];
    const over = x >= tag.x && x <= tag.x + tag.width && y >= tag.y && y <= tag.y + tag.height;
    expect(over).toBe(false);
    await driver.actions().press().perform();
    await driver.wait(async () => (await boxes('[aria-label="Under the pointer"]')).length === 0, 5000);
    await driver.actions().release().perform();
    await page.undo();
  });
});

test('radio groups go by arrow keys, a value is reset by a key, and single keys can be changed or switched off', async () => {
  await setSize(driver, 1280, 800);
  await listOf([change(0, [hsl('a')])], ['a']);
  const chosen = async (label: string) =>
    (await driver.findElement(By.css(`[aria-label="${label}"] [aria-checked="true"]`))).getAttribute(
      'aria-label',
    );
  await (await see(driver, '[role=radio][aria-label="Picture"]')).sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
  expect(await chosen('See')).toBe('Mask');
  await driver.switchTo().activeElement().sendKeys(Key.ARROW_LEFT, Key.ARROW_LEFT);
  expect(await chosen('See')).toBe('Picture');
  const hue = await see(driver, '.sheet [role=slider][aria-label="Hue"]');
  expect(await hue.getAttribute('aria-valuenow')).toBe('20');
  await hue.sendKeys(Key.DELETE);
  await page.settled();
  expect(await hue.getAttribute('aria-valuenow')).toBe('0');
  // A key of one's own, and none at all.
  const look = () => chosen('See');
  await driver.executeScript('document.activeElement.blur()');
  await page.press('?');
  await (await see(driver, 'button[aria-label="Change the key 3: Mask"]')).click();
  await driver.actions().sendKeys('u').perform();
  await see(driver, 'button[aria-label="Change the key U: Mask"]');
  await (await see(driver, '.el-dialog .el-dialog__headerbtn')).click();
  await driver.wait(async () => (await driver.findElements(By.css('.el-dialog'))).length === 0, 5000);
  await page.press('3');
  expect(await look()).toBe('Picture');
  await page.press('u');
  expect(await look()).toBe('Mask');
  await page.press('1', '?');
  await (await see(driver, '.el-dialog .below .el-switch')).click();
  await (await see(driver, '.el-dialog .el-dialog__headerbtn')).click();
  await driver.wait(async () => (await driver.findElements(By.css('.el-dialog'))).length === 0, 5000);
  await page.press('u');
  expect(await look()).toBe('Picture');
  await driver.executeScript(`localStorage.removeItem('zesty-crow/keys')`);
});

test('before is kept by a click until it is ended, and shown while its button is held', async () => {
  await listOf([change(0, [step('x', 'exposure', { stops: 3 })])]);
  const lid = () => page.colourAt(0.55, 0.46);
  const after = await lid();
  const hold = await see(driver, 'button[aria-label="Before"]');
  await hold.click();
  await page.settled();
  expect(await lid()).not.toEqual(after);
  await hold.click();
  await page.settled();
  expect(await lid()).toEqual(after);
});

test('columns fold and come back by key and by button, with the focus on their button', async () => {
  const fold = await see(driver, 'button[aria-label="Fold away the open change"]');
  await fold.sendKeys(Key.ENTER);
  await see(driver, 'button[aria-label="Show the open change"]');
  expect(await driver.switchTo().activeElement().getAttribute('aria-label')).toBe('Show the open change');
  await driver.switchTo().activeElement().sendKeys(Key.ENTER);
  await see(driver, '.sheet');
});

test('a pen that is pressed harder draws with a larger brush, and all of it is one stroke of the history', async () => {
  await listOf([change(0, [])]);
  await page.press('k');
  const canvas = await see(driver, '.viewer canvas');
  const box = await canvas.getRect();
  const { sendDevToolsCommand } = driver as unknown as {
    sendDevToolsCommand(command: string, parameters: object): Promise<void>;
  };
  const pen = (type: string, x: number, force: number) =>
    sendDevToolsCommand.call(driver, 'Input.dispatchMouseEvent', {
      ...{ type, x: Math.round(box.x + box.width / 2 + x), y: Math.round(box.y + 150), force },
      ...{ pointerType: 'pen', button: 'left', buttons: 1, clickCount: 1 },
    });
  await pen('mousePressed', -120, 0.1);
  for (let i = 1; i <= 10; i++) await pen('mouseMoved', -120 + 20 * i, 0.1 + 0.08 * i);
  await pen('mouseReleased', 80, 0);
  await page.settled();
  const call = apiOf(application);
  const [shot] = await call<{ id: string }[]>('GET', '/shots');
  const { body } = await call<{ body: { changes: { brush: { size: number }[] }[] } }>(
    'GET',
    `/shots/${shot!.id}/changes`,
  );
  const sizes = body.changes[0]!.brush.map((b) => b.size);
  expect(sizes.length).toBeGreaterThan(1);
  expect(Math.max(...sizes)).toBeGreaterThan(2 * Math.min(...sizes));
  await page.press('c');
  await page.undo();
  const after = await call<{ body: { changes: { brush: object[] }[] } }>('GET', `/shots/${shot!.id}/changes`);
  expect(after.body.changes[0]!.brush).toEqual([]);
});
