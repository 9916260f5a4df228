import { By, until, type WebDriver } from 'selenium-webdriver';

/** Stands in for the browser's file dialog, which no test can operate: `chooseFile` fills what was going to open it. */
export const standInForFileDialog = (driver: WebDriver) =>
  driver.executeScript(`
    if (window.ownFileDialog) return;
    window.ownFileDialog = true;
    const click = HTMLInputElement.prototype.click;
    HTMLInputElement.prototype.click = function () {
      if (this.type !== 'file') return click.call(this);
        this.id = 'file-dialog';
      document.body.append(this);
    };`);

/** Chooses a file in the dialog that is opened now; each can be used once. */
export async function chooseFile(driver: WebDriver, path: string): Promise<void> {
  const input = await driver.wait(until.elementLocated(By.id('file-dialog')), 5000);
  await driver.executeScript("arguments[0].removeAttribute('id')", input);
  await input.sendKeys(path);
}
