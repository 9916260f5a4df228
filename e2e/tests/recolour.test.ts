import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encode } from 'fast-png';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import type { Application } from '../harness/application.ts';
import { clickSoon, openBrowser, see } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';
import { START_MS, startWithShots } from '../harness/database.ts';
import { chooseFile, standInForFileDialog } from '../harness/file-dialog.ts';

let application: Application;
let driver: WebDriver;
let page: CorrectPage;

beforeAll(async () => {
  application = await startWithShots();
  driver = await openBrowser(1280, 800);
  page = new CorrectPage(driver);
  await page.openShot(application.address, 'Honey table');
}, START_MS);
afterAll(async () => {
  await driver.quit();
  await application.stop();
});

const byText = (path: string) => clickSoon(driver, () => driver.findElement(By.xpath(path)) as never);
// Places of the demo picture, as shares of it.
const LABEL: [number, number] = [0.565, 0.6];
const LID: [number, number] = [0.573, 0.478];

const open = (change: number) =>
  driver.executeScript(
    `[...document.querySelectorAll('li.card .members')][arguments[0]].dispatchEvent(
      new PointerEvent('pointerdown', { bubbles: true }));`,
    change,
  );
/** Opens a change and adds a correction to it. */
async function correct(change: number, correction: string): Promise<void> {
  await open(change);
  await byText("//button[contains(., 'Add a correction')]");
  await byText(`//div[contains(@class, 'offered')]//button[b = '${correction}']`);
}
const mean = async (change: number) =>
  driver.executeScript<string[]>(
    `return [...[...document.querySelectorAll('li.card')][arguments[0]].querySelectorAll('.swatches i')]
      .map((i) => getComputedStyle(i).backgroundColor);`,
    change,
  );
const numbers = (colour: string) => (colour.match(/[\d.]+/g) ?? []).slice(0, 3).map(Number);

const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-files-'));
function fileOf(name: string, content: string | Uint8Array): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}
const greenPicture = (name: string) =>
  fileOf(
    name,
    encode({
      width: 64,
      height: 64,
      data: Uint8Array.from({ length: 3 * 64 * 64 }, (_, i) => [20, 160, 40][i % 3]!),
      channels: 3,
      depth: 8,
    }),
  );

/** A colour of the picture once nothing is on its way any more: what was undone a moment ago still comes. */
async function resting(place: [number, number]) {
  // Under the pointer all but what is picked is dimmed.
  await driver.actions().move({ x: 4, y: 4 }).perform();
  await page.settled();
  let last = await page.colourAt(...place);
  await driver.wait(async () => {
    const [before, now] = [last, await page.colourAt(...place)];
    last = now;
    return before.every((v, k) => v === now[k]);
  }, 10_000);
  return last;
}

test('the lids take the colour of a swatch, and how near they are is told', async () => {
  await correct(0, 'Recolour to a swatch');
  // What turned them before is taken off.
  await byText("(//section[@aria-label='Corrections']//div[contains(@class, 'el-switch')])[1]");
  const text = await see(driver, "input[aria-label='Swatch as text']");
  await text.sendKeys('nothing like a colour', Key.ENTER);
  expect(await (await see(driver, '.sheet [role=alert]')).getText()).toContain('Not a colour');
  await text.sendKeys(Key.chord(Key.CONTROL, 'a'), '#1f5fae', Key.ENTER);
  await driver.wait(
    async () => (await (await see(driver, '.facts')).getText()).includes('ΔE 0.0'),
    20_000,
    'the swatch was not reached',
  );
  const [before, after] = (await mean(0)).map(numbers);
  // Red they were; now their mean is the swatch, to a step of the screen.
  expect(before![0]).toBeGreaterThan(before![2]!);
  [0x1f, 0x5f, 0xae].forEach((v, k) => expect(Math.abs(after![k]! - v)).toBeLessThan(3));
  expect(await (await see(driver, '.facts')).getText()).toContain('By light passes');
});

test('a swatch is taken from a picture file by a click', async () => {
  await standInForFileDialog(driver);
  await byText("//button[@aria-label='Take swatch from a picture file']");
  await chooseFile(driver, greenPicture('brand sheet.png'));
  const canvas = await see(driver, "canvas[aria-label='Picture to take a colour from']");
  await driver.wait(async () => (await canvas.getRect()).width > 10, 5000);
  await driver.actions().move({ origin: canvas }).click().perform();
  const text = await see(driver, "input[aria-label='Swatch as text']");
  await driver.wait(async () => (await text.getAttribute('value')) === '#14a028', 5000);
  await byText("//button[@aria-label='Undo']");
  await driver.wait(async () => (await text.getAttribute('value')) === '#1f5fae', 5000);
});

test('without light passes it is told what would do better', async () => {
  await page.empty('Diffuse light');
  await driver.wait(
    async () => (await (await see(driver, '.facts')).getText()).includes('Render light passes'),
    10_000,
  );
  await driver.wait(async () => (await (await see(driver, '.facts')).getText()).includes('ΔE 0.0'), 20_000);
});

test('a colour is taken from the picture by a click', async () => {
  await (await see(driver, 'button[aria-label="Take swatch from the picture"]')).click();
  await page.clickAt(0.27, 0.5);
  await page.settled();
  const hex = await (await see(driver, "input[aria-label='Swatch as text']")).getAttribute('value');
  // The hive is teal.
  const [r, g, b] = [1, 3, 5].map((i) => parseInt(hex!.slice(i, i + 2), 16));
  expect(r).toBeLessThan(g!);
  expect(r).toBeLessThan(b!);
  await driver.wait(async () => (await (await see(driver, '.facts')).getText()).includes('ΔE 0.0'), 20_000);
});

test('a curve turns the hue of the lavender; leveled it is as before', async () => {
  const before = (await mean(1))[1];
  await correct(1, 'Curves by hue');
  await byText("//div[@role='group' and @aria-label='Hue, by hue']//button");
  const plot = await see(driver, "[aria-label='Hue, by hue'] svg");
  // Under the line lie the colours of the axis, and on them those of the lavender.
  await driver.wait(
    async () => (await plot.findElements(By.css('rect'))).length > 36,
    10_000,
    'no colours of its own',
  );
  const { width } = await plot.getRect();
  // Lavender is at about 290 degrees.
  await driver
    .actions()
    .move({ origin: plot, x: Math.round(width * (290 / 360 - 0.5)), y: 0 })
    .press()
    .move({ origin: plot, x: Math.round(width * (290 / 360 - 0.5)), y: -30, duration: 100 })
    .release()
    .perform();
  await driver.wait(async () => (await mean(1))[1] !== before, 20_000, 'the lavender stayed as it was');
  const turned = numbers((await mean(1))[1]!);
  // From blue towards red.
  expect(turned[0]! - turned[2]!).toBeGreaterThan(numbers(before!)[0]! - numbers(before!)[2]! + 15);
  await byText("//div[@role='group' and @aria-label='Hue, by hue']//button[. = 'Level it']");
  await driver.wait(async () => (await mean(1))[1] === before, 20_000, 'a level line changed something');
});

test('the brass is calmed by its reflection pass, and nothing else is', async () => {
  const [before, jar] = [await mean(2), await page.colourAt(...LABEL)];
  await correct(2, 'Scale one kind of light');
  await page.choose('Light pass', 'reflection');
  await page.type('Times', 0.2);
  await driver.wait(async () => (await mean(2))[1] !== before[1], 20_000, 'the brass stayed as it was');
  const [was, is] = [numbers(before[1]!), numbers((await mean(2))[1]!)];
  was.forEach((v, k) => expect(is[k]).toBeLessThan(v));
  expect(await page.colourAt(...LABEL)).toEqual(jar);
  // What is seen in no mirror image stays: it is not black.
  expect(Math.max(...is)).toBeGreaterThan(20);
});

test('a correction is copied to another change', async () => {
  await byText("//button[@aria-label='More for Scale one kind of light']");
  await byText("//li[contains(@class, 'el-dropdown-menu__item')][contains(., 'Copy to “Lids')]");
  await open(0);
  await driver.wait(
    async () =>
      (await driver.findElements(By.xpath("//button[@aria-label='Scale one kind of light']"))).length > 0,
    10_000,
    'it did not arrive',
  );
  await (await see(driver, 'button[aria-label="Undo"]')).click();
  await page.settled();
});

test('white balance is set by a click on something that should be neutral', async () => {
  await correct(3, 'White balance');
  const before = (await mean(3))[1];
  await byText("//button[contains(., 'a neutral area of the picture')]");
  await page.clickAt(0.84, 0.81);
  await driver.wait(async () => (await mean(3))[1] !== before, 20_000, 'the linen stayed as it was');
  await page.settled();
  const [r, g, b] = numbers((await mean(3))[1]!);
  expect(Math.max(r!, g!, b!) - Math.min(r!, g!, b!)).toBeLessThan(6);
  await (await see(driver, 'button[aria-label="Undo"]')).click();
  await driver.wait(async () => (await mean(3))[1] === before, 20_000, 'it is not one step of the history');
  await (await see(driver, 'button[aria-label="Undo"]')).click();
  await page.settled();
});

test('a blur of the cloth smears nothing that stands on it', async () => {
  const places = [LID, [0.487, 0.62], [0.27, 0.5]] as const;
  const colours = async () => Promise.all(places.map(([x, y]) => page.colourAt(x, y)));
  const before = await colours();
  await correct(3, 'Blur');
  await page.type('Size', 20);
  await page.settled();
  expect(await colours()).toEqual(before);
  const cloth = await mean(3);
  expect(cloth).toHaveLength(2);
});

test('a part takes the mean of another one by a click, and what is around it is offered as a change', async () => {
  await correct(0, 'Recolour to a swatch');
  await byText("//p[contains(@class, 'facts')]//button[. = 'another part']");
  // The hive's wood is teal all over.
  await page.clickAt(0.27, 0.5);
  await driver.wait(
    async () => {
      const [r, g, b] = numbers((await mean(0))[1]!) as [number, number, number];
      return r < g && r < b;
    },
    20_000,
    'the lids did not take it',
  );
  const cards = (await driver.findElements(By.css('li.card'))).length;
  await byText("//p[contains(@class, 'facts')]//button[. = 'change the ring around it']");
  await driver.wait(async () => (await driver.findElements(By.css('li.card'))).length === cards + 1, 10_000);
  expect((await page.steps()).join()).toMatch(/Rim only.*saturation −60/s);
});

test('an exposure is dragged in the picture, kept as a preset, and shown on another part', async () => {
  await correct(1, 'Exposure');
  await byText("//button[@aria-label='Drag exposure in the picture']");
  await page.dragAcross([0.3, 0.3], [0.5, 0.3]);
  const dragged = async () =>
    Number(await (await see(driver, '.sheet input[aria-label="Exposure in stops"]')).getAttribute('value'));
  expect(await dragged()).toBeGreaterThan(1);
  await page.press(Key.ESCAPE);
  await byText("//button[@aria-label='More for Exposure']");
  await byText("//li[contains(@class, 'el-dropdown-menu__item')][contains(., 'Keep as a preset')]");
  const name = await see(driver, '.el-message-box input');
  await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Sunlit', Key.ENTER);
  await page.settled();
  await open(3);
  await byText("//button[contains(., 'Add a correction')]");
  const row = await see(driver, '.preset canvas:not(.coming)', 20_000);
  expect((await row.getRect()).width).toBeGreaterThan(20);
  await byText("//div[contains(@class, 'preset')]//button[contains(., 'Sunlit')]");
  await driver.wait(async () => (await page.steps()).some((t) => t.startsWith('Exposure')), 10_000);
});

test('a sample is pinned by a click and goes on while values move; warnings are counted', async () => {
  await byText("//button[@aria-label = 'Scopes']");
  await byText("//button[normalize-space() = 'Pin a sample']");
  await page.clickAt(...LID);
  await page.says('[aria-label="Scopes"]', '3 × 3 pixels');
  await page.says('[aria-label="Scopes"]', 'after');
  expect((await driver.findElements(By.css('.viewer .pin'))).length).toBe(1);
  await byText("//button[@aria-label = 'View']");
  await byText("//summary[starts-with(normalize-space(), 'Warnings')]");
  await byText("//label[contains(., 'Clipped')]");
  await driver.wait(
    async () => /[\d,]+ pixels are marked/.test((await page.texts('.corner')).join(' ')),
    10_000,
    'nothing was counted',
  );
  await byText("//button[@aria-label = 'Reset the view']");
  await driver.actions().sendKeys(Key.ESCAPE).perform();
});

test('a CDL file sets slope, offset and power; a broken one says what is wrong', async () => {
  await standInForFileDialog(driver);
  await correct(1, 'Slope, offset, power (ASC CDL)');
  await byText("//button[contains(., 'Load a file')]");
  await chooseFile(driver, fileOf('broken.cc', '<ColorCorrection><SOPNode>'));
  await driver.wait(
    async () => (await (await see(driver, '.el-message, [role=alert]')).getText()).includes('broken.cc'),
    5000,
  );
  await byText("//button[contains(., 'Load a file')]");
  const nodes = '<SOPNode><Slope>1.2 1 0.9</Slope><Offset>0 0.01 0</Offset><Power>1 1 1.1</Power></SOPNode>';
  await chooseFile(
    driver,
    fileOf(
      'grade.ccc',
      `<ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.01"><ColorCorrection id="evening">${nodes}</ColorCorrection></ColorCorrectionCollection>`,
    ),
  );
  const slope = await see(driver, "input[aria-label='Slope, red']");
  await driver.wait(async () => Number(await slope.getAttribute('value')) === 1.2, 5000);
  const undo = await driver.findElement(By.css("button[aria-label='Undo']"));
  expect(await undo.getAttribute('title')).toContain('“evening”');
  await undo.click();
  await byText("//button[@aria-label='Undo']");
  await page.settled();
});

test('a table of a .cube file changes how the picture is shown, and before stands beside after', async () => {
  await standInForFileDialog(driver);
  const plain = await resting(LID);
  await byText("//button[@aria-label = 'View']");
  await byText("//div[contains(@class, 'el-popover')]//div[contains(@class, 'el-select')]");
  await byText("//li[contains(., 'Table from a .cube file')]");
  const rows = Array.from({ length: 8 }, (_, i) => [i & 4 ? 1 : 0, i & 2 ? 1 : 0, i & 1].join(' '));
  // Red and blue change places.
  await chooseFile(driver, fileOf('swap.cube', `TITLE "swap"\nLUT_3D_SIZE 2\n${rows.join('\n')}\n`));
  await driver.actions().move({ x: 4, y: 4 }).perform();
  await driver.wait(async () => {
    const now = await page.colourAt(...LID);
    return Math.abs(now[0] - plain[2]) < 4 && Math.abs(now[2] - plain[0]) < 4;
  }, 10_000);
  await byText("//button[@aria-label = 'Reset the view']");
  await driver.actions().move({ x: 4, y: 4 }).perform();
  await driver.wait(async () => {
    const now = await page.colourAt(...LID);
    return Math.abs(now[0] - plain[0]) < 2 && Math.abs(now[2] - plain[2]) < 2;
  }, 10_000);
  await driver.actions().sendKeys(Key.ESCAPE).perform();
  await page.compare('Side by side');
  await see(driver, "canvas[aria-label='Picture before']");
  await page.compare('Off');
  await page.settled();
});

test('a picture is laid on a label, and only there', async () => {
  await standInForFileDialog(driver);
  const lid = await resting(LID);
  await byText("//button[contains(., 'New change')]");
  await page.clickAt(...LABEL);
  await page.settled();
  await byText("//button[contains(., 'Add a correction')]");
  await byText("//div[contains(@class, 'offered')]//button[b = 'Lay a picture on it']");
  await byText("//button[contains(., 'Choose a picture')]");
  await chooseFile(driver, greenPicture('new label.png'));
  await driver.wait(
    async () => {
      const [r, g, b] = await page.colourAt(...LABEL);
      return g > r + 40 && g > b + 40;
    },
    20_000,
    'the label did not turn green',
  );
  (await resting(LID)).forEach((v, k) => expect(Math.abs(v - lid[k]!)).toBeLessThanOrEqual(1));
  expect(await (await see(driver, '.settings')).getText()).toContain('new label.png');
  // It is there again after a reload: the file is kept with the shot.
  await driver.navigate().refresh();
  await page.ready();
  await driver.wait(async () => {
    const [r, g] = await page.colourAt(...LABEL);
    return g > r + 40;
  }, 20_000);
});
