import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  Builder,
  By,
  error as webdriverError,
  until,
  type WebDriver,
  type WebElement,
} from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

/** Debian's Chromium without a window. */
export async function openBrowser(width = 1280, height = 800): Promise<WebDriver> {
  const downloads = mkdtempSync(join(tmpdir(), 'zesty-crow-downloads-'));
  const options = new chrome.Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(
    '--headless=new',
    '--no-sandbox',
    // Pages are drawn without a graphics card, and so are scenes.
    '--disable-gpu',
    '--enable-unsafe-swiftshader',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--disable-dev-shm-usage',
    '--hide-scrollbars',
    '--force-device-scale-factor=1',
    `--window-size=${width},${height}`,
    `--user-data-dir=${mkdtempSync(join(tmpdir(), 'zesty-crow-browser-'))}`,
  );
  options.setUserPreferences({
    'download.default_directory': downloads,
    // Its own first page takes longer to load than ours: 4 means that the pages named here are opened instead.
    'session.restore_on_startup': 4,
    'session.startup_urls': ['about:blank'],
  });
  const driver = (await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
    .build()) as WebDriver;
  await driver.manage().setTimeouts({ script: 60_000 });
  await setSize(driver, width, height);
  return driver;
}

/** Gives the page exactly this size; the window's own counts its frame. */
export const setSize = (driver: WebDriver, width: number, height: number): Promise<void> =>
  (driver as unknown as chrome.Driver).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false,
  });

/** What a question about the page answers; false where the page drew itself anew meanwhile, so that it is asked again. */
export async function unlessDrawnAnew<T>(what: () => Promise<T>): Promise<T | false> {
  try {
    return await what();
  } catch (error) {
    if (error instanceof webdriverError.StaleElementReferenceError) return false;
    throw error;
  }
}

/** Waits for an element to be there and seen. */
export async function see(driver: WebDriver, css: string, timeout = 20_000): Promise<WebElement> {
  const seen = () =>
    unlessDrawnAnew(async () => {
      const [element] = await driver.findElements(By.css(css));
      return element && (await element.isDisplayed()) ? element : false;
    });
  return (await driver.wait(seen, timeout, `${css} did not appear, or is hidden`)) as WebElement;
}

/** A button, link or card by its words. */
export const withText = (driver: WebDriver, tag: string, text: string): Promise<WebElement> =>
  driver.wait(
    until.elementLocated(By.xpath(`//${tag}[contains(normalize-space(.), ${JSON.stringify(text)})]`)),
    20_000,
    `no ${tag} says "${text}"`,
  );

/** Clicks what is still on its way into the page once it rests: menus and dialogs come in with a short motion, and what moves is missed. */
export async function clickSoon(driver: WebDriver, find: () => Promise<WebElement>): Promise<void> {
  let last: unknown;
  const clicked = async () => {
    try {
      const element = await find();
      const place = async () => JSON.stringify(await element.getRect());
      const before = await place();
      await driver.sleep(50);
      if ((await place()) !== before) throw new Error('What is to be clicked does not rest.');
      await element.click();
      return true;
    } catch (error) {
      last = error;
      return false;
    }
  };
  await driver.wait(clicked, 10_000).catch(() => {
    throw last;
  });
}

export async function savePicture(driver: WebDriver, path: string): Promise<void> {
  writeFileSync(path, Buffer.from(await driver.takeScreenshot(), 'base64'));
}
