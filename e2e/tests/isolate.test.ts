import { By, Key, type WebDriver } from 'selenium-webdriver';
import type { Application } from '../harness/application.ts';
import { openBrowser, see, withText } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';
import { START_MS, startWithShots } from '../harness/database.ts';

/** Picking and masks by mouse and keyboard, on the demo's honey table. */
let application: Application;
let driver: WebDriver;
let page: CorrectPage;

const CLOTH: [number, number] = [0.6, 0.86];
const SMOKER: [number, number] = [0.835, 0.56];
const WALL: [number, number] = [0.7, 0.1];
const SPRIG: [number, number] = [0.58, 0.9];
const LIDS: [number, number][] = [
  [0.44, 0.53],
  [0.575, 0.475],
];
/** Honey behind the glass of the jar in the middle. */
const HONEY: [number, number] = [0.571, 0.56];

beforeAll(async () => {
  application = await startWithShots();
  driver = await openBrowser();
  page = new CorrectPage(driver);
  await page.openShot(application.address, 'Honey table');
}, START_MS);
afterAll(async () => {
  await driver?.quit();
  await application?.stop();
});

const newChange = async () => {
  await (await withText(driver, 'button', 'New change')).click();
  await page.settled();
};
/** Away from the words of a card that was made just now. */
const leaveField = () => driver.executeScript('document.activeElement.blur()');

test('a line drawn around things takes those that are whole within it; a wrong one goes with a click', async () => {
  await newChange();
  await leaveField();
  await page.press('d');
  await page.drawAlong([
    [0.5, 0.4],
    [0.63, 0.4],
    [0.63, 0.76],
    [0.5, 0.76],
    [0.5, 0.45],
  ]);
  expect((await page.picks()).sort()).toEqual(['jars/jar_2/glass', 'jars/jar_2/label', 'jars/jar_2/lid']);
  await (await see(driver, 'button[aria-label="Remove jars/jar_2/label"]')).click();
  await page.settled();
  expect((await page.picks()).sort()).toEqual(['jars/jar_2/glass', 'jars/jar_2/lid']);
  await page.undo();
  await page.undo();
  expect(await page.picks()).toEqual([]);
  // Drawn around the same place, what it touches reaches farther.
  await (await withText(driver, 'button', 'Touched')).click();
  await page.drawAlong([
    [0.52, 0.45],
    [0.62, 0.45],
    [0.62, 0.72],
    [0.52, 0.72],
    [0.52, 0.5],
  ]);
  expect((await page.picks()).join()).toContain('wall');
  await page.undo();
  await page.press('c');
});

test('a rule is proposed by what is picked, shown before it is taken, and undone after a reload', async () => {
  await newChange();
  await leaveField();
  await page.clickAt(...SPRIG);
  expect((await page.picks()).join()).toMatch(/^lavender\/sprig_\d+$/);
  await page.says('.sheet .warning', '41 more like lavender/sprig_*');
  await (await withText(driver, 'button', 'Take them too')).click();
  await page.settled();
  expect(await page.picks()).toEqual(['lavender/sprig_* (42)']);
  await page.clickAt(...WALL);
  expect(await page.picks()).toEqual(['lavender/sprig_* (42)', 'wall']);
  await driver.navigate().refresh();
  await page.ready();
  await page.undo();
  await page.openLast();
  expect(await page.picks()).toEqual(['lavender/sprig_* (42)']);
  await page.undo();
  expect((await page.picks()).join()).toMatch(/^lavender\/sprig_\d+$/);
});

test('what lies behind glass is taken from the list at the pointer, by an amount', async () => {
  await newChange();
  await leaveField();
  expect(await page.maskAt(...HONEY)).toBe(0);
  await page.takeFromList(HONEY, 'materials through glass', 'honey');
  await page.press(Key.ESCAPE);
  const whole = await page.maskAt(...HONEY);
  expect(whole).toBeGreaterThan(50);
  await page.menuOf('honey', 'Amount');
  await page.type('Amount', 50);
  expect(Math.abs((await page.maskAt(...HONEY)) - whole / 2)).toBeLessThan(2);
  expect((await page.picks()).join()).toContain('50 %');
});

test('members are swapped for others while edge and corrections stay', async () => {
  await newChange();
  await leaveField();
  await page.clickAt(...CLOTH);
  await page.addStep('Refine the edge', 'feather');
  await page.addStep('Draw a limit', 'ellipse');
  await page.addStep('Add a correction', 'exposure');
  await page.type('Exposure', 2);
  const steps = await page.steps();
  const seen = async () => {
    await page.pointAt(0.5, 1.1);
    await page.settled();
    return [...(await page.colourAt(...CLOTH)), ...(await page.colourAt(...SMOKER))];
  };
  const before = await seen();
  // A canvas that is often read is scaled a little otherwise.
  const off = async () => {
    const now = await seen();
    return Math.max(...now.map((v, k) => Math.abs(v - before[k]!)));
  };
  expect(await page.picks()).toEqual(['cloth']);
  await page.menuOf('cloth', 'Swap for another');
  await page.clickAt(...SMOKER);
  expect((await page.picks()).join()).toContain('smoker/can');
  expect(await page.steps()).toEqual(steps);
  expect(await off()).toBeGreaterThan(20);
  await page.undo();
  expect(await page.picks()).toEqual(['cloth']);
  expect(await off()).toBeLessThan(3);
});

test('a heading switches what stands under it as one, and its fence limits it all', async () => {
  await page.openCard('Lids in the green of the hive');
  await page.press('p');
  await page.pointAt(0.5, 1.1);
  await page.settled();
  const green = await Promise.all(LIDS.map((l) => page.colourAt(...l)));
  for (const [r, g] of green) expect(g).toBeGreaterThan(r);
  await page.menuOf('Lids in the green of the hive', 'Put under a new heading');
  await leaveField();
  const on = () => see(driver, '.heading .el-switch');
  await (await on()).click();
  await page.settled();
  for (const l of LIDS) {
    const [r, g] = await page.colourAt(...l);
    expect(r).toBeGreaterThan(g);
  }
  await (await on()).click();
  await page.settled();
  // A fence over the jar on the left alone.
  await page.addStep('Draw a limit', 'rectangle');
  await page.type('Across', 44);
  await page.type('Width', 12);
  await page.pointAt(0.5, 1.1);
  await page.settled();
  expect(await page.colourAt(...LIDS[0]!)).toEqual(green[0]);
  const [r, g] = await page.colourAt(...LIDS[1]!);
  expect(r).toBeGreaterThan(g);
  await driver.findElement(By.css('.heading .bin')).click();
  await page.settled();
  expect(await page.colourAt(...LIDS[1]!)).toEqual(green[1]);
});

test('a stroke of the brush adds to the mask and another takes away; the mask is seen beside the picture', async () => {
  await newChange();
  await leaveField();
  await page.press('k');
  await page.dragAcross([0.62, 0.1], [0.75, 0.1]);
  expect(await page.maskAt(0.7, 0.1)).toBe(100);
  expect(await page.maskAt(0.7, 0.2)).toBe(0);
  await (await withText(driver, 'button', 'Take away')).click();
  await page.dragAcross([0.7, 0.05], [0.7, 0.15]);
  expect(await page.maskAt(0.7, 0.1)).toBe(0);
  await page.press('m');
  await see(driver, 'canvas[aria-label="Mask"]');
  await page.settled();
  const white = await driver.executeScript<number>(`
    const c = document.querySelector('canvas[aria-label="Mask"]');
    const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
    let n = 0;
    for (let i = 0; i < d.length; i += 4) if (d[i] > 250) n++;
    return n;`);
  expect(white).toBeGreaterThan(100);
  await page.press('m', Key.ESCAPE);
});
