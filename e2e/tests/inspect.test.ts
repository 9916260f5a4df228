import { By, Key, type WebDriver } from 'selenium-webdriver';
import { faults } from '../harness/axe.ts';
import type { Application } from '../harness/application.ts';
import { clickSoon, openBrowser, see, withText } from '../harness/browser.ts';
import { START_MS, startWithShots } from '../harness/database.ts';

/** The wall of passes and the cast, by mouse and keyboard. */
let application: Application;
let driver: WebDriver;

beforeAll(async () => {
  application = await startWithShots();
  driver = await openBrowser();
  const shots = (await (await fetch(`${application.address}/api/shots`)).json()) as {
    id: string;
    name: string;
  }[];
  await driver.get(`${application.address}/shots/${shots.find((s) => s.name === 'Honey table')!.id}/inspect`);
  await see(driver, '[aria-label="Look at CryptoObject"]');
}, START_MS);
afterAll(async () => {
  await driver?.quit();
  await application?.stop();
});

/** Different colours in the picture of a pass. */
const colours = (css: string): Promise<number> =>
  driver.executeScript(
    `const c = document.querySelector(arguments[0]);
     if (!c || c.classList.contains('coming')) return 0;
     return new Set(new Uint32Array(c.getContext('2d').getImageData(0, 0, c.width, c.height).data.buffer)).size;`,
    css,
  );
const values = async (): Promise<string> => (await driver.findElement(By.css('.values'))).getText();

test('every pass of the version hangs there with a picture, and says what it is for', async () => {
  const titles = await Promise.all(
    (await driver.findElements(By.css('.wall figure strong'))).map((e) => e.getText()),
  );
  expect(titles).toEqual([
    'Picture',
    'CryptoObject',
    'CryptoMaterial',
    'RefractedMaterial',
    'ReflectedMaterial',
    'Buffers',
    'base',
    'depth',
    'diffuse_direct',
    'diffuse_indirect',
    'lamp_sky',
    'lamp_sun',
    'normal',
    'occlusion',
    'reflection',
    'refraction',
    'specular_direct',
    'specular_indirect',
  ]);
  for (const name of ['picture', 'CryptoObject', 'depth', 'normal', 'occlusion', 'lamp_sun'])
    await driver.wait(
      async () => (await colours(`[aria-label="Look at ${name}"] canvas`)) > 20,
      20_000,
      `${name} has no picture`,
    );
  const text = await (await driver.findElement(By.css('.wall'))).getText();
  expect(text).toContain('3 layers, two ranks in each.');
  expect(text).toContain('How far away each pixel is');
});

test('a pass opens large, channel by channel, with its values, and closes by key', async () => {
  await clickSoon(driver, () => see(driver, '[aria-label="Look at normal"]'));
  const stage = await see(driver, '.large .stage');
  await driver.wait(async () => (await colours('.large canvas')) > 1000, 20_000, 'it is not drawn');
  const together = await colours('.large canvas');
  await driver.actions().move({ origin: stage, x: 0, y: 120 }).perform();
  // A table faces up.
  await driver.wait(
    async () => /X −?\S+\s+Y 0\.9\d+|Y 1\b/.test((await values()).replaceAll('\n', ' ')),
    10_000,
  );
  await (await withText(driver, 'button', 'Y')).click();
  await driver.wait(
    async () => {
      const now = await colours('.large canvas');
      return now > 10 && now < Math.min(257, together);
    },
    10_000,
    'a channel by itself is grey',
  );
  await driver.actions().sendKeys(Key.ESCAPE).perform();
  await see(driver, '.wall');
});

test('IDs under the pointer are told by name', async () => {
  await clickSoon(driver, () => see(driver, '[aria-label="Look at CryptoObject"]'));
  const stage = await see(driver, '.large .stage');
  await driver.wait(async () => (await colours('.large canvas')) > 20, 20_000);
  await driver.actions().move({ origin: stage, x: -200, y: -100 }).perform();
  await driver.wait(async () => (await values()).includes('hive/'), 10_000, 'no name is told');
  await driver.actions().sendKeys(Key.ESCAPE).perform();
});

test('two passes stand beside each other at the same place', async () => {
  await clickSoon(driver, () => see(driver, '[aria-label="Look at depth"]'));
  await (await withText(driver, 'button', 'Beside')).click();
  await driver.wait(
    async () => (await driver.findElements(By.css('.pane'))).length === 2,
    10_000,
    'there is no second pass',
  );
  await driver
    .actions()
    .move({ origin: await see(driver, '.pane .stage') })
    .perform();
  const both = () =>
    driver.executeScript<string[]>(
      `return [...document.querySelectorAll('.values')].map((e) => e.innerText)`,
    );
  await driver.wait(
    async () => {
      const [depth, picture] = await both();
      return /Z\s+\d/.test(depth ?? '') && /R\s+\d/.test(picture ?? '');
    },
    10_000,
    'both values are not told',
  );
  const [depth, picture] = await both();
  expect(depth!.split('\n')[0]).toBe(picture!.split('\n')[0]);
  expect(await faults(driver)).toEqual([]);
});

test('a channel becomes a mask that is picked from, and goes by undo', async () => {
  await (await withText(driver, 'button', 'Make a mask')).click();
  await see(driver, '.maker');
  await driver.wait(async () => (await colours('.maker canvas')) > 50, 20_000, 'the mask is not shown');
  const name = await see(driver, '[aria-label="Name of the mask"]');
  await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'near');
  await (await withText(driver, 'button', 'Invert')).click();
  expect(await faults(driver)).toEqual([]);
  await (await withText(driver, 'button', 'Make mask')).click();
  await see(driver, '[aria-label="Look at Masks"]', 20_000);
  await driver.wait(async () => (await colours('[aria-label="Look at Masks"] canvas')) > 20, 20_000);
  await clickSoon(driver, () => see(driver, '.undo-note'));
  await driver.wait(
    async () => (await driver.findElements(By.css('[aria-label="Look at Masks"]'))).length === 0,
    20_000,
    'the mask is still there',
  );
});

test('members are found by name, sorted, and begin a change', async () => {
  const find = await see(driver, '[aria-label="Find members"]');
  await find.sendKeys('jars/*/lid');
  const names = async () =>
    Promise.all((await driver.findElements(By.css('.rows .row .name'))).map((e) => e.getText()));
  await driver.wait(async () => (await names()).length === 3, 10_000);
  await (await see(driver, '.row.head button')).click();
  await driver.wait(
    async () => (await names()).join() === 'jars/jar_1/lid,jars/jar_2/lid,jars/jar_3/lid',
    5_000,
  );
  await (await see(driver, '[aria-label="As a tree"]')).click();
  const branch = await see(driver, '.rows .branch .cut');
  expect((await branch.getText()).split(/\s+/)).toEqual(['jars', '3']);
  await (await see(driver, '[aria-label="Choose jars/"]')).click();
  // All but them is darkened in the picture.
  await driver.actions().move({ origin: find }).perform();
  await driver.wait(async () => (await colours('.first .dimming')) > 3, 10_000, 'they are not shown');
  await (await withText(driver, 'button', 'Begin a change')).click();
  await driver.wait(
    async () => (await driver.findElements(By.css('.picks .name'))).length === 3,
    20_000,
    'the change is not open',
  );
  const picks = await Promise.all(
    (await driver.findElements(By.css('.picks .name'))).map((e) => e.getText()),
  );
  expect(picks.map((p) => p.replace(/\s*object$/, '')).sort()).toEqual([
    'jars/jar_1/lid',
    'jars/jar_2/lid',
    'jars/jar_3/lid',
  ]);
  // The picture is there, too, though another stage had it open before.
  await driver.wait(
    async () => (await driver.findElements(By.css('.reading, .veil'))).length === 0,
    20_000,
    'the picture is not read',
  );
  await driver.navigate().back();
  await see(driver, '.wall');
});
