/** npm run screenshots: one picture of each main view, made from the demo data. */
import { mkdirSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { By } from 'selenium-webdriver';
import { startWhole } from './harness/application.ts';
import { openBrowser, savePicture, see, withText } from './harness/browser.ts';
import { CorrectPage } from './harness/correct-page.ts';

const folder = fileURLToPath(new URL('../docs/screenshots/', import.meta.url));
mkdirSync(folder, { recursive: true });
const application = await startWhole(mkdtempSync(join(tmpdir(), 'zesty-crow-pictures-')));
const driver = await openBrowser();
try {
  const page = new CorrectPage(driver);
  const shoot = (name: string) => savePicture(driver, `${folder}${name}.png`);
  await page.openShot(application.address, 'Honey table');
  await driver.get(application.address);
  await see(driver, 'button[aria-label="Open Honey table"] img');
  await driver.sleep(600);
  await shoot('shots');

  const stage = async (shot: string, name: string) => {
    const shots = (await (await fetch(`${application.address}/api/shots`)).json()) as {
      id: string;
      name: string;
    }[];
    await driver.get(`${application.address}/shots/${shots.find((x) => x.name === shot)!.id}/${name}`);
  };
  await stage('Honey table', 'prepare');
  await driver.wait(
    async () =>
      (await driver.findElements(By.css('.scene[data-drawn]:not([data-drawn="0"])'))).length > 0 &&
      (await driver.findElements(By.css('.scene .veil'))).length === 0,
    60_000,
    'the scene did not load',
  );
  const canvas = await see(driver, '.scene canvas');
  await driver.actions().move({ origin: canvas, x: 230, y: 40 }).click().perform();
  await driver.sleep(900);
  await shoot('prepare');
  await stage('Bee flight', 'render');
  await see(driver, '.rendered canvas', 30_000);
  await driver.sleep(1200);
  await shoot('render');
  await stage('Honey table', 'inspect');
  await driver.wait(
    async () =>
      (await driver.findElements(By.css('.wall canvas'))).length > 8 &&
      (await driver.findElements(By.css('.wall canvas.coming'))).length === 0,
    30_000,
    'the wall is not there',
  );
  await shoot('inspect');
  await stage('Apiary, from the client', 'inspect');
  await driver.wait(
    async () =>
      (await driver.findElements(By.css('.findings li'))).length > 2 &&
      (await driver.findElements(By.css('.wall canvas'))).length > 3 &&
      (await driver.findElements(By.css('.wall canvas.coming'))).length === 0,
    60_000,
    "the client's folder is not read",
  );
  await shoot('client');
  const tile = "//figure[.//strong[normalize-space()='flat']]//button[contains(., 'Names')]";
  await (await driver.findElement(By.xpath(tile))).click();
  await see(driver, '[aria-label="ID pass"] .stage canvas:not(.coming)');
  await driver.sleep(600);
  await shoot('id-pass');
  await stage('Bee flight', 'correct');
  await page.ready();
  await (await see(driver, 'button[aria-label="Play"]')).click();
  await driver.wait(
    async () => (await driver.findElements(By.xpath("//*[contains(., 'all frames computed')]"))).length > 0,
    120_000,
    'the frames were not computed',
  );
  await (await see(driver, 'button[aria-label="Stop"]')).click();
  await (await see(driver, 'button[data-frame="6"]')).click();
  await driver.sleep(2500);
  await page.settled();
  await shoot('sequence');
  await page.press('y');
  await driver.wait(
    async () =>
      (await driver.findElements(By.xpath("//*[contains(., '3 variants and the list')]"))).length > 0,
    60_000,
    'the variants were not computed',
  );
  await shoot('variants');
  await stage('Bee flight', 'export');
  for (const kind of ['Corrected picture', 'Masks', 'Layered file', 'Report']) {
    await (await withText(driver, 'button', 'Add a parcel')).click();
    await driver.sleep(500);
    await (await withText(driver, 'li', kind)).click();
    await driver.sleep(500);
  }
  await driver.wait(
    async () => (await driver.findElements(By.css('.names li'))).length > 0,
    20_000,
    'the parcels were not looked at',
  );
  await (await withText(driver, 'button', 'Make all')).click();
  await see(driver, '.download', 120_000);
  await driver.sleep(600);
  await shoot('parcels');

  await page.openShot(application.address, 'Honey table');
  await page.pointAt(0.72, 0.62);
  await shoot('correct');
  await page.press('5');
  await (await withText(driver, 'button', 'Scopes')).click();
  await page.settled();
  await driver.sleep(600);
  await shoot('difference');
  await (await withText(driver, 'button', 'Scopes')).click();
  await page.press('2');
  await page.settled();
  await shoot('id-map');
  await page.press('3');
  await page.settled();
  await shoot('mask');
  await page.press('4');
  await page.settled();
  await shoot('cut-out');
  await page.press('1');
  await page.press('v');
  await page.settled();
  await shoot('divider');
  await page.press('v');
} finally {
  await driver.quit();
  await application.stop();
}
