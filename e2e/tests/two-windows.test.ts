import { By, Key, type WebDriver } from 'selenium-webdriver';
import { faults } from '../harness/axe.ts';
import { apiOf } from '../harness/api.ts';
import type { Application } from '../harness/application.ts';
import { openBrowser, see, withText } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';
import { START_MS, startWithShots } from '../harness/database.ts';

let application: Application;
let drivers: WebDriver[] = [];
let here: CorrectPage;
let there: CorrectPage;
let shot: string;

beforeAll(async () => {
  application = await startWithShots();
  drivers = [await openBrowser(), await openBrowser()];
  [here, there] = drivers.map((d) => new CorrectPage(d)) as [CorrectPage, CorrectPage];
  for (const page of [here, there]) await page.openShot(application.address, 'Honey table');
  shot = (await apiOf(application)<{ id: string; name: string }[]>('GET', '/shots')).find(
    (s) => s.name === 'Honey table',
  )!.id;
}, START_MS);
afterAll(async () => {
  for (const driver of drivers) await driver.quit();
  await application?.stop();
});

interface List {
  changes: { words: string; done: boolean; corrections: { values: Record<string, number> }[] }[];
}
const stored = async () => (await apiOf(application)<{ body: List }>('GET', `/shots/${shot}/changes`)).body;

/** Holds every request that edits back until it is let go: as slow a line as the test wants. */
const HOLD = `
  window.held = [];
  const real = window.fetch;
  window.fetch = (url, init) => init && init.method === 'PUT' && !window.loose
    ? new Promise((resolve) => window.held.push(() => resolve(real(url, init))))
    : real(url, init);
  window.letGo = () => { window.loose = true; window.held.splice(0).forEach((go) => go()); };`;

async function setWords(page: CorrectPage, at: number, text: string): Promise<void> {
  const area = (await page.all('li.card textarea'))[at]!;
  await area.click();
  await area.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
}

test('two quick edits here while another window edits: every edit of both is kept', async () => {
  await here.driver.executeScript(HOLD);
  await setWords(here, 0, 'First edit here');
  await setWords(here, 1, 'Second edit here');
  await setWords(there, 2, 'An edit elsewhere');
  await there.wait(
    async () => (await stored()).changes[2]!.words === 'An edit elsewhere',
    'it was not saved',
  );
  await here.driver.executeScript('window.letGo()');
  await here.wait(
    async () => (await stored()).changes[1]!.words === 'Second edit here',
    'the second edit was not saved',
  );
  const words = [
    'First edit here',
    'Second edit here',
    'An edit elsewhere',
    'The table softer, so that the jars stand out',
  ];
  expect((await stored()).changes.map((c) => c.words)).toEqual(words);
  const shown = (page: CorrectPage) =>
    page.driver.executeScript<string[]>(
      `return [...document.querySelectorAll('li.card textarea')].map((t) => t.value)`,
    );
  for (const page of [here, there])
    await page.wait(async () => (await shown(page)).join() === words.join(), 'a window shows something else');
});

test('what both have edited is offered side by side; the other one can still be chosen', async () => {
  await here.driver.executeScript(
    HOLD.replace('window.held = [];', 'window.held = []; window.loose = false;'),
  );
  await setWords(here, 0, 'Lids as I said');
  await setWords(there, 0, 'Lids as they said');
  await there.wait(async () => (await stored()).changes[0]!.words === 'Lids as they said', 'not saved');
  await here.driver.executeScript('window.letGo()');
  await here.says('.el-dialog', 'Edited in two windows at once');
  await here.says('.el-dialog', 'Lids as I said');
  await here.says('.el-dialog', 'Lids as they said');
  expect((await stored()).changes[0]!.words).toBe('Lids as they said');
  await here.says('.saving', 'An edit needs your choice');
  await here.driver.sleep(400);
  expect(await faults(here.driver)).toEqual([]);
  // The page goes before anything is chosen: nothing is lost.
  await here.driver.navigate().refresh();
  await here.says('.el-dialog', 'Lids as I said', 30_000);
  await here.says('.el-dialog', 'Lids as they said');
  await here.says('.saving', 'An edit needs your choice');
  await (await withText(here.driver, 'button', 'Take this one')).click();
  await here.wait(async () => (await stored()).changes[0]!.words === 'Lids as I said', 'it was not taken');
});

test('edits that could not be sent survive the closed window and are offered on the next opening', async () => {
  const [driver] = drivers as [WebDriver];
  await driver.executeScript(
    `const real = window.fetch;
     window.fetch = (url, init) => init && init.method === 'PUT' ? Promise.reject(new TypeError('gone')) : real(url, init);`,
  );
  await setWords(here, 1, 'Written on the train');
  await here.says('header', 'Not saved');
  await driver.switchTo().newWindow('tab');
  const [old, fresh] = (await driver.getAllWindowHandles()) as [string, string];
  await driver.switchTo().window(old);
  await driver.close();
  await driver.switchTo().window(fresh);
  await driver.get(`${application.address}/shots/${shot}/correct`);
  await here.says('.left-behind', 'was never saved', 30_000);
  expect((await stored()).changes[1]!.words).not.toBe('Written on the train');
  await (await withText(driver, 'button', 'Bring it back')).click();
  await here.wait(
    async () => (await stored()).changes[1]!.words === 'Written on the train',
    'it was not saved',
  );
  expect(await driver.findElements(By.css('.left-behind'))).toEqual([]);
  await see(driver, 'li.card');
});
