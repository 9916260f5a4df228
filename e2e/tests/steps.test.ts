import { By, Key, type WebDriver } from 'selenium-webdriver';
import type { Application } from '../harness/application.ts';
import { openBrowser, see, withText } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';
import { START_MS, startWithShots } from '../harness/database.ts';

/** Corrections and edge steps by mouse and keyboard, judged by what is on the screen. */
let application: Application;
let driver: WebDriver;
let page: CorrectPage;

const SMOKER: [number, number] = [0.835, 0.56];
/** Around the smoker, as shares of the demo picture. */
const AROUND = { x0: 0.75, y0: 0.2, x1: 0.93, y1: 0.75 };
const NOWHERE = { x0: 0, y0: 0, x1: 0, y1: 0 };

beforeAll(async () => {
  application = await startWithShots();
  driver = await openBrowser();
  page = new CorrectPage(driver);
  await page.openShot(application.address, 'Honey table');
  // A canvas that is often read is scaled a little otherwise from some time on: here from the beginning.
  await driver.executeScript(`
    const c = document.querySelector('.viewer canvas');
    for (let i = 0; i < 20; i++) c.getContext('2d').getImageData(0, 0, 9, 9);`);
  for (const key of ['h', 'f', 'h', 'f']) await page.press(key);
  await page.settled();
}, START_MS);
afterAll(async () => {
  await driver?.quit();
  await application?.stop();
});

/** Keeps what is on the screen, to be compared. The pointer is out of the way. */
async function remember(): Promise<void> {
  await page.pointAt(0.5, 1.1);
  await page.settled();
  await driver.executeScript(`
    const c = document.querySelector('.viewer canvas');
    window.kept = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;`);
}
/** Pixels of the screen that are seen to be others than those that were kept, inside and outside a part of the picture. */
async function changed(part = AROUND): Promise<Changed> {
  await page.pointAt(0.5, 1.1);
  let last: Changed | undefined;
  for (;;) {
    await page.settled();
    const now = await compared(part);
    // Tiles may still be on their way.
    if (last && last.inside === now.inside && last.outside === now.outside) return now;
    last = now;
  }
}
interface Changed {
  inside: number;
  outside: number;
}
const compared = (part: typeof AROUND): Promise<Changed> =>
  driver.executeScript(
    `const [part, kept] = [arguments[0], window.kept];
     const c = document.querySelector('.viewer canvas');
     const now = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
     const w = Math.min(c.width - 16, ((c.height - 16) * 16) / 9);
     const [left, top] = [(c.width - w) / 2, 8];
     let [inside, outside] = [0, 0];
     for (let y = 0, i = 0; y < c.height; y++)
       for (let x = 0; x < c.width; x++, i += 4) {
         if (Math.abs(now[i] - kept[i]) + Math.abs(now[i + 1] - kept[i + 1]) + Math.abs(now[i + 2] - kept[i + 2]) < 30) continue;
         const [u, v] = [(x - left) / w, (y - top) / ((w * 9) / 16)];
         if (u >= part.x0 && u <= part.x1 && v >= part.y0 && v <= part.y1) inside++;
         else outside++;
       }
     return { inside, outside };`,
    part,
  );

test('contrast is added by its name and changes only the thing that is picked', async () => {
  await (await withText(driver, 'button', 'New change')).click();
  await page.settled();
  await page.clickAt(...SMOKER);
  await page.press('p');
  await remember();
  await page.addStep('Add a correction', 'contrast');
  await page.type('Contrast', 90);
  const { inside, outside } = await changed();
  expect(inside).toBeGreaterThan(1000);
  expect(outside).toBe(0);
  expect((await page.steps()).join()).toContain('Contrast: 90 %');
});

test('a blur shows at once, stays inside the mask, and is set by keys', async () => {
  await remember();
  await page.addStep('Add a correction', 'blur');
  const first = await changed();
  expect(first.inside).toBeGreaterThan(300);
  expect(first.outside).toBe(0);
  const handle = await see(driver, '.sheet [role="slider"][aria-label="Size"]');
  await handle.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
  await page.settled();
  expect((await page.steps()).join()).toContain('Blur: 6.2 px');
});

test('an edge is feathered, the mask is seen before and after, and turned round it means the rest', async () => {
  await remember();
  await page.addStep('Refine the edge', 'feather');
  await page.type('Size', 14);
  const soft = await changed();
  expect(soft.inside).toBeGreaterThan(100);
  expect(soft.outside).toBe(0);
  await page.press('3');
  await page.settled();
  await remember();
  await driver.executeScript(
    `document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'b', bubbles: true }))`,
  );
  await page.settled();
  const hard = await changed();
  expect(hard.inside).toBeGreaterThan(300);
  expect(hard.outside).toBe(0);
  await driver.executeScript(
    `document.body.dispatchEvent(new KeyboardEvent('keyup', { key: 'b', bubbles: true }))`,
  );
  await page.settled();
  expect(await changed()).toEqual({ inside: 0, outside: 0 });
  await page.press('1');
  await page.settled();
  await remember();
  await page.addStep('Refine the edge', 'invert');
  expect((await changed()).outside).toBeGreaterThan(10_000);
  await page.undo();
  expect(await changed(NOWHERE)).toEqual({ inside: 0, outside: 0 });
  expect((await page.steps()).slice(0, 2).map((t) => t.split(':')[0])).toEqual(['Feather', 'Contrast']);
});

test('a step is switched off, moved, copied to another change, and undone', async () => {
  await remember();
  const input = await driver.findElement(By.css('.sheet [aria-label="Apply Contrast"]'));
  await input.findElement(By.xpath('..')).click();
  expect((await changed()).inside).toBeGreaterThan(1000);
  await page.undo();
  expect(await changed(NOWHERE)).toEqual({ inside: 0, outside: 0 });
  await page.stepMenu('Blur', 'Move up');
  expect((await page.steps()).map((t) => t.split(':')[0])).toEqual(['Feather', 'Blur', 'Contrast']);
  await page.dragStep('Contrast', 'Blur');
  expect((await page.steps()).map((t) => t.split(':')[0])).toEqual(['Feather', 'Contrast', 'Blur']);
  await page.stepMenu('Contrast', 'Copy to “Lids');
  await page.openCard('Lids in the green of the hive');
  expect((await page.steps()).join()).toContain('Contrast: 90 %');
  await page.undo();
  expect((await page.steps()).join()).not.toContain('Contrast');
});

test('a turn of hue is limited to the reds, and the limit is seen as a mask', async () => {
  await (await withText(driver, 'button', 'New change')).click();
  await page.settled();
  const find = await see(driver, 'input[aria-label="Find members"]');
  await find.sendKeys('*', Key.ENTER);
  await page.settled();
  await page.addStep('Add a correction', 'hue');
  await remember();
  await page.type('Hue', 150);
  // The hive turns as well as the honey.
  const HIVE = { x0: 0.18, y0: 0.28, x1: 0.27, y1: 0.5 };
  const HONEY = { x0: 0.54, y0: 0.52, x1: 0.62, y1: 0.72 };
  expect((await changed(HIVE)).inside).toBeGreaterThan(1000);
  for (const summary of ['Only where…', 'In a range of colours'])
    await driver.findElement(By.xpath(`//summary[contains(., '${summary}')]`)).click();
  await page.type('Around hue', 30);
  await page.type('Hue width', 50);
  expect((await changed(HIVE)).inside).toBe(0);
  expect((await changed(HONEY)).inside).toBeGreaterThan(500);
  await (await withText(driver, 'button', 'Show the limit as a mask')).click();
  await page.settled();
  await page.pointAt(0.5, 1.1);
  await page.settled();
  expect(Math.max(...(await page.colourAt(0.22, 0.4)))).toBe(0);
  expect(Math.max(...(await page.colourAt(0.6, 0.57)))).toBeGreaterThan(100);
});

test('another pass multiplies; the list says what each is for, and finds by purpose', async () => {
  await page.press('1');
  await page.openCard('Calm the brass');
  expect((await page.steps()).join('\n')).toContain('Multiply by a pass: occlusion, 70 % of it');
  await (await withText(driver, 'button', 'Add a correction')).click();
  const input = await see(driver, 'input[aria-label="Find: Add a correction"]');
  await input.sendKeys('occlusion');
  const offered = await driver.findElements(By.css('.offered button'));
  expect(await Promise.all(offered.map((b) => b.getText()))).toEqual([
    'Multiply by a pass\nDeepens with ambient occlusion, or with any other pass of the version.',
  ]);
  await input.sendKeys(Key.ESCAPE);
});

test('a shape limits the mask: drawn, dragged by its handle, nudged by keys, and undone', async () => {
  await page.openCard('Lids in the green of the hive');
  await remember();
  await page.addStep('Draw a limit', 'ellipse');
  const at = async (label: string) =>
    Number(await (await see(driver, `.sheet input[aria-label="${label} in %"]`)).getAttribute('value'));
  expect([await at('Across'), await at('Down')]).toEqual([50, 50]);
  await page.dragAcross([0.5, 0.5], [0.3, 0.2]);
  expect(Math.abs((await at('Across')) - 30)).toBeLessThan(1);
  expect(Math.abs((await at('Down')) - 20)).toBeLessThan(1);
  // It is over the hive now: the lids are red again.
  expect((await changed()).outside).toBeGreaterThan(500);
  const before = await at('Across');
  const handle = await driver.findElement(By.css('.handles button'));
  await driver.executeScript('arguments[0].focus()', handle);
  await handle.sendKeys(Key.ARROW_RIGHT);
  await page.settled();
  // A pixel of 320.
  expect((await at('Across')) - before).toBeCloseTo(100 / 320, 1);
  await page.undo();
  expect(await at('Across')).toBe(before);
  await page.undo();
  expect(await at('Across')).toBe(50);
});

test('edges are clean unless they are said to be plain', async () => {
  await page.openCard('Calm the brass');
  await (await see(driver, '.mask-line [aria-label="Refine the edge"]')).click();
  const told = async (words: string) =>
    driver.wait(
      async () => ((await (await see(driver, '.mixing label')).getAttribute('title')) ?? '').includes(words),
      10_000,
      `it does not say: ${words}`,
    );
  await told('Only the own part of each edge pixel is corrected.');
  await (await see(driver, '.mixing .el-switch')).click();
  await told('Colours are mixed by coverage.');
  await page.undo();
  await told('Only the own part');
});
