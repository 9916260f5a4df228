/** npm run screenshots: one picture of each main view, made from the demo data. */
import { mkdirSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { startApplication } from './harness/application.ts';
import { openBrowser, savePicture, see, withText } from './harness/browser.ts';
import { CorrectPage } from './harness/correct-page.ts';

const folder = fileURLToPath(new URL('../docs/screenshots/', import.meta.url));
mkdirSync(folder, { recursive: true });
const application = await startApplication(mkdtempSync(join(tmpdir(), 'zesty-crow-pictures-')));
const driver = await openBrowser();
try {
  const page = new CorrectPage(driver);
  const shoot = (name: string) => savePicture(driver, `${folder}${name}.png`);
  await page.openShot(application.address, 'Honey table');
  await driver.get(application.address);
  await see(driver, 'button[aria-label="Open Honey table"] img');
  await driver.sleep(600);
  await shoot('shots');

  await page.openShot(application.address, 'Honey table');
  await page.pointAt(0.72, 0.62);
  await shoot('correct');
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
  await (await withText(driver, 'button', 'Export…')).click();
  await see(driver, '.el-dialog');
  await driver.sleep(500);
  await shoot('export');
} finally {
  await driver.quit();
  await application.stop();
}
