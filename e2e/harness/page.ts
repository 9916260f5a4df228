import { By, Key, type WebDriver, type WebElement } from 'selenium-webdriver';
import { clickSoon, see, unlessDrawnAnew } from './browser.ts';

/** What tests do on any page. */
export class Page {
  constructor(readonly driver: WebDriver) {}

  all(css: string): Promise<WebElement[]> {
    return this.driver.findElements(By.css(css));
  }
  /** In one step, because the page may draw itself anew between two. */
  texts(css: string): Promise<string[]> {
    return this.driver.executeScript<string[]>(
      'return [...document.querySelectorAll(arguments[0])].map((e) => e.innerText.trim())',
      css,
    );
  }
  /** What the page has drawn anew between two questions has not come yet. */
  async wait(what: () => Promise<boolean>, why: string, timeout = 20_000): Promise<void> {
    await this.driver.wait(() => unlessDrawnAnew(what), timeout, why);
  }
  /** Waits until something that matches says this. */
  says(css: string, text: string, timeout = 20_000): Promise<void> {
    return this.wait(
      async () => (await this.texts(css)).join(' ').includes(text),
      `${css} does not say "${text}"`,
      timeout,
    );
  }
  field(label: string): Promise<WebElement> {
    return see(this.driver, `input[aria-label="${label}"], [aria-label="${label}"] input`);
  }
  /** Replaces what a field holds. */
  async typeInto(element: WebElement, text: string): Promise<void> {
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', element);
    await element.click();
    await element.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
  }
  /** Clicks what frames a control: the input itself may have no size of its own. */
  private clickFrame(label: string, frame: string): Promise<void> {
    const around = By.xpath(`ancestor-or-self::div[contains(@class, "${frame}")]`);
    return clickSoon(this.driver, async () =>
      (await this.driver.findElement(By.css(`[aria-label="${label}"]`))).findElement(around),
    );
  }
  private openList(label: string): Promise<void> {
    return this.clickFrame(label, 'el-select__wrapper');
  }
  turn(label: string): Promise<void> {
    return this.clickFrame(label, 'el-switch');
  }
  /** Types something that is not in the list of a field into it. */
  async typeChoice(label: string, text: string): Promise<void> {
    await this.openList(label);
    await this.driver.switchTo().activeElement().sendKeys(text, Key.ENTER, Key.ESCAPE);
  }
  /** Chooses from the list that a field opens, and closes it. */
  async choose(label: string, option: string): Promise<void> {
    await this.openList(label);
    await clickSoon(this.driver, () =>
      this.driver.findElement(
        By.xpath(
          `//div[contains(@class, "el-popper") and not(contains(@style, "display: none"))]//li[contains(normalize-space(.), ${JSON.stringify(option)})]`,
        ),
      ),
    );
    await this.driver.switchTo().activeElement().sendKeys(Key.ESCAPE);
  }
  saved(): Promise<void> {
    return this.wait(
      async () => (await (await see(this.driver, '.saving')).getText()) === 'All saved',
      'the plan was not saved',
    );
  }
}
