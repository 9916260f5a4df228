import { By, Key, type WebDriver } from 'selenium-webdriver';
import type { Application } from '../harness/application.ts';
import { clickSoon, openBrowser, see } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';
import { START_MS, startWithDemo } from '../harness/demo.ts';

let application: Application;
let driver: WebDriver;
let page: CorrectPage;

beforeAll(async () => {
  application = await startWithDemo('zesty-crow-recolour-');
  driver = await openBrowser(1280, 800);
  page = new CorrectPage(driver);
  await page.openShot(application.address, 'Honey table');
}, START_MS);
afterAll(async () => {
  await driver.quit();
  await application.stop();
});

const byText = (path: string) => clickSoon(driver, () => driver.findElement(By.xpath(path)) as never);
/** Opens a change and adds a correction to it. */
async function correct(change: number, correction: string): Promise<void> {
  await driver.executeScript(
    `[...document.querySelectorAll('li.card .members')][arguments[0]].dispatchEvent(
      new PointerEvent('pointerdown', { bubbles: true }));`,
    change,
  );
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
  expect(await (await see(driver, '.facts')).getText()).toContain('Render light passes');
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
