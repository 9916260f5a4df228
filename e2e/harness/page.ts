import { By, Key, type WebDriver, type WebElement } from 'selenium-webdriver';
import { clickSoon, see } from './browser.ts';

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
  async wait(what: () => Promise<boolean>, why: string, timeout = 20_000): Promise<void> {
    await this.driver.wait(what, timeout, why);
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
  /** Chooses from the list that a field opens, and closes it. */
  async choose(label: string, option: string): Promise<void> {
    // The input itself is only seen while something is typed.
    const field = () => this.driver.findElement(By.css(`[aria-label="${label}"]`));
    const wrapper = By.xpath('ancestor-or-self::div[contains(@class, "el-select__wrapper")]');
    await clickSoon(this.driver, async () => (await field()).findElement(wrapper));
    await clickSoon(this.driver, () =>
      this.driver.findElement(
        By.xpath(
          `//div[contains(@class, "el-popper") and not(contains(@style, "display: none"))]//li[contains(normalize-space(.), ${JSON.stringify(option)})]`,
        ),
      ),
    );
    await (await field()).sendKeys(Key.ESCAPE);
  }
  saved(): Promise<void> {
    return this.wait(
      async () => (await (await see(this.driver, '.saving')).getText()) === 'All saved',
      'the plan was not saved',
    );
  }
}
