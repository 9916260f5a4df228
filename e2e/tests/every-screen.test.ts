import { PARCEL_KINDS } from '@zesty-crow/core/parcels';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { apiOf } from '../harness/api.ts';
import { faults } from '../harness/axe.ts';
import type { Application } from '../harness/application.ts';
import { clickSoon, openBrowser, see, setSize, withText } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';
import { START_MS, startWithShots } from '../harness/database.ts';

let application: Application;
let driver: WebDriver;
let page: CorrectPage;
let shots: { id: string; name: string }[];

beforeAll(async () => {
  application = await startWithShots();
  driver = await openBrowser();
  page = new CorrectPage(driver);
  await page.openShot(application.address, 'Honey table');
  shots = await apiOf(application)<{ id: string; name: string }[]>('GET', '/shots');
}, START_MS);
afterAll(async () => {
  await driver?.quit();
  await application?.stop();
});

/** What the browser complained of since the last look: policies above all. */
async function complaints(): Promise<string[]> {
  const entries = await driver.manage().logs().get('browser');
  return entries
    .map((e) => e.message)
    .filter((m) => /Content Security Policy|Cross-Origin|Refused to/i.test(m));
}
/** Things on the page that stick out of the window. */
const cutOff = () =>
  driver.executeScript<string[]>(
    `return [...document.querySelectorAll('button, input, textarea, h1, h2, h3, label')]
       .filter((e) => e.checkVisibility() && !e.closest('.scroll, .el-popper, canvas'))
       .map((e) => [e, e.getBoundingClientRect()])
       .filter(([, r]) => r.width > 0 && (r.right > innerWidth + 1 || r.bottom > innerHeight + 1 || r.left < -1))
       .map(([e, r]) => e.tagName + ' ' + (e.getAttribute('aria-label') ?? e.textContent.trim()).slice(0, 40) + ' ' + Math.round(r.right) + 'x' + Math.round(r.bottom))`,
  );

/** A stage of a shot; one that is open stays as it is, with the panels that were opened. */
async function atStage(stage: string, shot = 'Honey table'): Promise<void> {
  const address = `${application.address}/shots/${shots.find((s) => s.name === shot)!.id}/${stage}`;
  if ((await driver.getCurrentUrl()) === address) return;
  await driver.get(address);
  if (stage === 'correct') await page.ready();
}
/** Waits until a sheet or a list has come in; the next screen is opened once it is closed by key. */
const over: string[] = [];
async function cameIn(css: string): Promise<void> {
  await see(driver, css);
  await driver.sleep(500);
  over.push(css);
}
async function closeOver(): Promise<void> {
  for (const css of over.splice(0)) {
    await driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.wait(
      async () =>
        (await Promise.all((await page.all(css)).map((e) => e.isDisplayed()))).every((shown) => !shown),
      `${css} did not close`,
    );
  }
}
/** The stage of handing over, of a shot of which nothing is handed over yet. */
async function openExport(): Promise<void> {
  await atStage('export');
  await withText(driver, 'button', 'Add a parcel');
}

const SCREENS: [name: string, open: () => Promise<unknown>][] = [
  [
    'Shots',
    async () => {
      await driver.get(application.address);
      await see(driver, 'button[aria-label="Open Honey table"] img');
    },
  ],
  [
    'Prepare',
    async () => {
      await atStage('prepare');
      await see(driver, '.scene[data-drawn]:not([data-drawn="0"])', 60_000);
    },
  ],
  [
    'Render',
    async () => {
      await atStage('render', 'Bee flight');
      await see(driver, '.rendered canvas', 30_000);
    },
  ],
  [
    'Inspect, the wall',
    async () => {
      await atStage('inspect');
      await see(driver, '[aria-label="Look at occlusion"]');
      await see(driver, '.rows .row');
    },
  ],
  [
    'Inspect, a pass by itself',
    async () => {
      await atStage('inspect', 'Bee flight');
      await (await see(driver, '[aria-label="Look at depth"]')).click();
      await see(driver, '.large canvas');
    },
  ],
  ['Correct', () => atStage('correct')],
  [
    'Correct with its findings',
    async () => {
      await atStage('correct');
      await (await withText(driver, 'button', 'Findings')).click();
      await see(driver, '.findings li');
    },
  ],
  [
    'Correct with scopes and samples',
    async () => {
      await atStage('correct');
      await (await withText(driver, 'button', 'Scopes')).click();
      await see(driver, '[aria-label="Scopes"] canvas');
      await page.settled();
    },
  ],
  [
    'The history',
    async () => {
      await atStage('correct');
      await (await see(driver, 'button[aria-label="History"]')).click();
      await cameIn('[aria-label="Steps"]');
    },
  ],
  [
    'What can be added to a change',
    async () => {
      await atStage('correct');
      await (await withText(driver, 'button', 'Add a correction')).click();
      await cameIn('input[aria-label="Find: Add a correction"]');
    },
  ],
  [
    'The list of keys',
    async () => {
      await atStage('correct');
      await driver.executeScript('document.activeElement.blur()');
      await page.press('?');
      await cameIn('.el-dialog');
    },
  ],
  [
    'Export',
    async () => {
      await atStage('correct');
      await (await withText(driver, 'button', 'Export…')).click();
      await cameIn('.el-dialog');
    },
  ],
  ['The stage of handing over, empty', () => openExport()],
  ...PARCEL_KINDS.map(({ label }): [string, () => Promise<unknown>] => [
    `A parcel of ${label}`,
    async () => {
      await openExport();
      await (await withText(driver, 'button', 'Add a parcel')).click();
      await clickSoon(driver, () => withText(driver, 'li', label));
      await see(driver, '.sheet');
      await driver.sleep(500);
    },
  ]),
];

describe.each(SCREENS)('%s', (_, open) => {
  test('can be read and used by everyone, and breaks no policy', async () => {
    await complaints();
    await closeOver();
    await open();
    expect(await faults(driver)).toEqual([]);
    expect(await complaints()).toEqual([]);
  });
});

describe('the room of the picture', () => {
  const picture = async () => (await see(driver, '.stage-picture')).getRect();

  test.each([
    [1024, 720],
    [1280, 800],
    [2560, 1440],
  ])('at %i x %i nothing is cut off, and sliders are long enough to aim with', async (width, height) => {
    await setSize(driver, width, height);
    await page.openShot(application.address, 'Honey table');
    expect(await cutOff()).toEqual([]);
    for (const slider of await driver.findElements(By.css('.settings > .control .el-slider__runway')))
      expect((await slider.getRect()).width).toBeGreaterThanOrEqual(140);
    const room = await picture();
    // On a large window the room goes to the picture.
    if (width === 2560) expect(room.width / width).toBeGreaterThan(0.7);
    if (width === 1280) expect(room.width / width).toBeGreaterThan(0.53);
    await setSize(driver, 1280, 800);
  });

  test('columns fold away by key, both by one, and stay as they were after a reload', async () => {
    await page.openShot(application.address, 'Honey table');
    const wide = (await picture()).width;
    const becomes = (what: (width: number) => boolean) =>
      page.wait(async () => what((await picture()).width), 'the picture got another room');
    await page.press('l');
    await becomes((w) => w > wide + 150);
    await page.press('s');
    await becomes((w) => w > 1150);
    await driver.navigate().refresh();
    await page.ready();
    await becomes((w) => w > 1150);
    await page.press('w');
    await becomes((w) => Math.abs(w - wide) < 3);
  });

  test('a column is as wide as it was dragged, also after a reload', async () => {
    const column = async () => (await see(driver, '.right.column')).getRect();
    const before = await column();
    const bar = (await driver.findElements(By.css('.el-splitter-bar__dragger')))[1]!;
    await driver
      .actions()
      .move({ origin: bar })
      .press()
      .move({ origin: bar, x: -80, y: 0 })
      .release()
      .perform();
    await page.wait(async () => (await column()).width > before.width + 60, 'the column was not dragged');
    const after = await column();
    await driver.navigate().refresh();
    await page.ready();
    await page.wait(
      async () => Math.abs((await column()).width - after.width) < 3,
      'the width was not remembered',
    );
  });
});
