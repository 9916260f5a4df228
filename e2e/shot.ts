import { openBrowser, savePicture } from './harness/browser.ts';
import { By } from 'selenium-webdriver';
const base = 'http://127.0.0.1:4700';
const shots = (await (await fetch(`${base}/api/shots`)).json()) as { id: string; name: string }[];
const id = (n: string) => shots.find((s) => s.name === n)!.id;
const driver = await openBrowser();
try {
  for (const step of process.argv.slice(2)) {
    const [verb, ...rest] = step.split('=');
    const arg = rest.join('=');
    if (verb === 'go')
      await driver.get(base + arg.replace('TABLE', id('Honey table')).replace('BEE', id('Bee flight')));
    else if (verb === 'wait') await driver.sleep(Number(arg));
    else if (verb === 'click') {
      const els = await driver.findElements(By.xpath(arg));
      if (!els[0]) console.log('no', arg);
      else await els[0].click();
    } else if (verb === 'at') {
      const [css, x, y] = arg.split('@');
      const el = await driver.findElement(By.css(css!));
      await driver
        .actions()
        .move({ origin: el, x: Number(x), y: Number(y) })
        .click()
        .perform();
    } else if (verb === 'file') {
      const [css, path] = arg.split('@');
      await (await driver.findElement(By.css(css!))).sendKeys(path!);
    } else if (verb === 'js') console.log(await driver.executeScript(`return ${arg}`));
    else if (verb === 'snap') await savePicture(driver, `/tmp/${arg}.png`);
  }
  const logs = await driver
    .manage()
    .logs()
    .get('browser')
    .catch(() => []);
  for (const l of logs) if (l.level.name !== 'INFO') console.log(l.message.slice(0, 300));
} finally {
  await driver.quit();
}
