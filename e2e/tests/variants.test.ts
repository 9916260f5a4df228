import { readFileSync } from 'node:fs';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { samplePath } from '../../core/test/fixtures/samples.ts';
import { faults } from '../harness/axe.ts';
import { apiOf } from '../harness/api.ts';
import type { Application } from '../harness/application.ts';
import { clickSoon, openBrowser, see } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';
import { START_MS, startWithShots } from '../harness/database.ts';

/** A client who wants it in twelve colours, and changes their mind. */
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

const click = (path: string) => clickSoon(driver, () => driver.findElement(By.xpath(path)) as never);
const LID: [number, number] = [0.573, 0.478];
const COLOURS = ['#8f2d23', '#1f5fae', '#4b5d2a', '#d9b44a', '#7b3a73', '#2a6e3f'];
/** The colour of a lid, with the pointer away: what is under it is dimmed. */
async function lid(): Promise<[number, number, number]> {
  await driver.actions().move({ x: 4, y: 4 }).perform();
  await page.settled();
  return page.colourAt(...LID);
}
const until = (holds: (c: [number, number, number]) => boolean, what: string) =>
  driver.wait(async () => holds(await lid()), 20_000, what);
const reddest = ([r, g, b]: [number, number, number]) => r > g + 20 && r > b + 20;
const bluest = ([r, g, b]: [number, number, number]) => b > r + 20 && b > g + 10;

test('twelve variants come from a pasted list in one step, and are all shown', async () => {
  // What turned the lids before is taken off.
  await click("(//section[@aria-label='Corrections']//div[contains(@class, 'el-switch')])[1]");
  await click("//button[contains(., 'Add a correction')]");
  await click("//div[contains(@class, 'offered')]//button[b = 'Recolour to a swatch']");
  await click("//section[@aria-label='Variants']//button");
  await click("//button[contains(., 'From swatches')]");
  const text = await see(driver, "textarea[aria-label='Swatches, one a line']");
  await text.sendKeys([...COLOURS, ...COLOURS].map((c, i) => `Lid ${i + 1}, ${c}`).join('\n'));
  expect(await faults(driver)).toEqual([]);
  await click("//button[contains(., 'Make 12 variants')]");
  await click("//button[contains(., 'Show all')]");
  await driver.wait(
    async () =>
      (await (await see(driver, '.wall [role=status]')).getText()) === '12 variants and the list itself',
    60_000,
  );
  expect(await driver.findElements(By.css('.wall figure canvas:not(.coming)'))).toHaveLength(13);
  expect(await faults(driver)).toEqual([]);
});

test('two are compared: one is worked on, the other is what before is', async () => {
  await click("//figcaption[b = 'Lid 1']//label");
  await click("//figcaption[b = 'Lid 2']//label");
  await click("//button[contains(., 'Compare the two')]");
  await see(driver, "canvas[aria-label='Picture before']");
  await page.compare('Off');
  await until(bluest, 'the second is not worked on');
  await driver.actions().keyDown('b').perform();
  await until(reddest, 'the first is not before');
  await driver.actions().keyUp('b').perform();
});

test('what is set goes into the variant alone, and back to the list’s value', async () => {
  const swatch = await see(driver, "input[aria-label='Swatch as text']");
  await swatch.sendKeys(Key.chord(Key.CONTROL, 'a'), '#8f2d23', Key.ENTER);
  await until(reddest, 'the variant did not take the colour');
  const undo = await driver.findElement(By.css("button[aria-label='Undo']"));
  expect(await undo.getAttribute('title')).toContain('in “Lid 2”');
  await click("//section[@aria-label='Variants']//button[b = 'Lid 3']");
  await until((c) => !reddest(c), 'another variant took it, too');
  await undo.click();
  await click("//section[@aria-label='Variants']//button[b = 'Lid 2']");
  await until(bluest, 'undo did not take it back');
});

test('a state with a name is gone back to, and any step of the history', async () => {
  await click("//button[@aria-label='History']");
  const name = await see(driver, "input[aria-label='Name of the state']");
  await name.sendKeys('Twelve lids', Key.ENTER);
  await see(driver, "section[aria-label='States'] li");
  await click("//section[@aria-label='Steps']//button[contains(., 'The beginning')]");
  await click("//button[@aria-label='Close this dialog']");
  await driver.wait(async () => (await driver.findElements(By.css('li.card'))).length === 0, 10_000);
  await click("//button[@aria-label='History']");
  await click("//section[@aria-label='States']//button[contains(., 'Twelve lids')]");
  await click("//button[@aria-label='Close this dialog']");
  await driver.wait(async () => (await driver.findElements(By.css('li.card'))).length > 3, 10_000);
  const undo = await driver.findElement(By.css("button[aria-label='Undo']"));
  expect(await undo.getAttribute('title')).toContain('Back to “Twelve lids”');
  await undo.click();
  await driver.wait(async () => (await driver.findElements(By.css('li.card'))).length === 0, 10_000);
});

test('in a new version a thing that is called otherwise is proposed, and found again by a click', async () => {
  const call = apiOf(application);
  const { id } = await call<{ id: string }>('POST', '/shots', { name: 'Two versions' });
  const bytes = readFileSync(samplePath('all.exr'));
  // A name as long as the other: the file stays sound.
  const later = Buffer.from(bytes.toString('latin1').replaceAll('table/smoker', 'table/censer'), 'latin1');
  for (const file of [bytes, later]) {
    const version = await call<{ id: string }>('POST', `/shots/${id}/versions`);
    await call('PUT', `/versions/${version.id}/files/honey.exr`, new Uint8Array(file));
    await call('POST', `/versions/${version.id}/read`);
  }
  const change = {
    ...{ id: 'c', words: 'Smoker', on: true, done: false, edge: [], fence: [], brush: [], plainEdges: false },
    who: [{ mode: 'with', layer: 'CryptoObject', member: 'table/smoker' }],
    corrections: [],
  };
  await call('PUT', `/shots/${id}/changes`, {
    revision: 0,
    label: 'Smoker',
    body: { format: 'zesty-crow/changes', version: 7, headings: [], changes: [change], variants: [] },
  });
  // The later one is opened, once it is read.
  await driver.wait(async () => {
    const { versions } = await call<{ versions: { state: string }[] }>('GET', `/shots/${id}`);
    return versions.every((v) => v.state === 'ready');
  }, 30_000);
  await page.openShot(application.address, 'Two versions');
  await click("//button[contains(., 'Find them again')]");
  const row = await see(driver, "li[aria-label='table/smoker'] label");
  expect(await row.getText()).toContain('table/censer');
  expect(await (await see(driver, '.el-dialog')).getText()).toContain('1 lost');
  const rename = await driver.findElement(By.xpath("//button[contains(., 'Rename 0')]"));
  // Nothing is taken without a click.
  expect(await rename.isEnabled()).toBe(false);
  expect(await faults(driver)).toEqual([]);
  await row.click();
  await click("//button[contains(., 'Rename 1 member')]");
  await driver.wait(
    async () => (await (await see(driver, 'li.card .members')).getText()).includes('censer'),
    10_000,
  );
  await driver.wait(
    async () =>
      (await driver.findElements(By.xpath("//button[contains(., 'Find them again')]"))).length === 0,
    10_000,
  );
});
