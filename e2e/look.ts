/**
 * npm run look -- STEP...: looks at a running application (ADDRESS, by default that of npm start) while building it, in a
 * window of SIZE, by default 1280x800.
 * Steps are done in order: go=PATH (with the name of a shot in braces for its id), wait=MS, click=XPATH,
 * at=CSS@X@Y (a click, from the middle of an element), menu=CSS@X@Y (with the other button), over=CSS@X@Y (only moves
 * there), drag=CSS@X,Y@X,Y…, press=KEYS, type=CSS@TEXT, file=CSS@PATH, js=EXPRESSION (printed),
 * snap=FILE (a PNG of the window).
 */
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { openBrowser, savePicture } from './harness/browser.ts';

const base = process.env['ADDRESS'] ?? 'http://127.0.0.1:4600';
const shots = (await (await fetch(`${base}/api/shots`)).json()) as { id: string; name: string }[];

const VERBS: Record<string, (driver: WebDriver, arg: string, more: string[]) => Promise<unknown>> = {
  go: (d, path) =>
    d.get(base + path.replace(/\{(.+?)\}/, (_, name) => shots.find((s) => s.name === name)?.id ?? '')),
  wait: (d, ms) => d.sleep(Number(ms)),
  click: (d, path) => d.findElement(By.xpath(path)).click(),
  async at(d, css, [x, y]) {
    const origin = await d.findElement(By.css(css));
    await d
      .actions()
      .move({ origin, x: Number(x), y: Number(y) })
      .click()
      .perform();
  },
  async drag(d, css, places) {
    const origin = await d.findElement(By.css(css));
    const [first, ...rest] = places.map((p) => p.split(',').map(Number));
    let moves = d.actions().move({ origin, x: first![0]!, y: first![1]! }).press();
    for (const [x, y] of rest) moves = moves.move({ origin, x: x!, y: y!, duration: 120 });
    await moves.release().perform();
  },
  async menu(d, css, [x, y]) {
    const origin = await d.findElement(By.css(css));
    await d
      .actions()
      .move({ origin, x: Number(x), y: Number(y) })
      .contextClick()
      .perform();
  },
  async over(d, css, [x, y]) {
    const origin = await d.findElement(By.css(css));
    await d
      .actions()
      .move({ origin, x: Number(x), y: Number(y) })
      .perform();
  },
  press: (d, keys) =>
    d
      .actions()
      .sendKeys(...keys)
      .perform(),
  async type(d, css, [text]) {
    const element = await d.findElement(By.css(css));
    await element.click();
    await element.sendKeys(Key.chord(Key.CONTROL, 'a'), text!, Key.ENTER);
  },
  file: (d, css, [path]) => d.findElement(By.css(css)).sendKeys(path!),
  js: async (d, expression) => console.log(await d.executeScript(`return ${expression}`)),
  snap: (d, file) => savePicture(d, file),
};

const [width, height] = (process.env['SIZE'] ?? '1280x800').split('x').map(Number);
const driver = await openBrowser(width, height);
try {
  for (const step of process.argv.slice(2)) {
    const [, verb, rest] = /^(\w+)=(.*)$/s.exec(step) ?? [];
    const act = VERBS[verb ?? ''];
    if (!act) throw new Error(`${step} is no step.`);
    // An address or an expression may hold the sign that parts the others.
    const [arg, ...more] = ['at', 'menu', 'over', 'drag', 'type', 'file'].includes(verb!)
      ? rest!.split('@')
      : [rest!];
    await act(driver, arg!, more).catch((error: Error) => console.log(`${step}: ${error.message}`));
  }
  for (const entry of await driver.manage().logs().get('browser'))
    if (entry.level.name !== 'INFO') console.log(entry.message);
} finally {
  await driver.quit();
}
