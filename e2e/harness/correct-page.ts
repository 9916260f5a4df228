import { By, Key, Origin } from 'selenium-webdriver';
import { clickSoon, see, withText } from './browser.ts';
import { Page } from './page.ts';

/** The Correct stage as a user handles it. Places in the picture are shares of its width and height. */
export class CorrectPage extends Page {
  /** Opens a shot from the wall and waits until its picture is there. */
  async openShot(address: string, name: string): Promise<void> {
    await this.driver.get(address);
    const button = await see(this.driver, `button[aria-label="Open ${name}"]:not([disabled])`, 60_000);
    await button.click();
    await this.ready();
  }

  async ready(): Promise<void> {
    await see(this.driver, '.viewer canvas');
    await this.driver.wait(
      async () => (await this.driver.findElements(By.css('.veil, .stage-picture .reading'))).length === 0,
      60_000,
      'the picture did not load',
    );
    await this.settled();
  }

  /** Waits until all that was asked for is on the screen and everything is saved. */
  settled(): Promise<void> {
    return this.rests(true);
  }

  /**
   * Waits until a view rests: the viewer tells its number. For some frames, so that what the last event led to has been
   * asked for.
   */
  private async rests(saved: boolean): Promise<void> {
    const rests = await this.driver.executeAsyncScript<boolean>(
      `const [saved, done] = arguments;
       const until = performance.now() + 30000;
       let frames = 0;
       const rests = () =>
         document.querySelector('.viewer canvas')?.dataset.rests !== undefined &&
         (!saved || document.querySelector('.saving')?.textContent.includes('All saved'));
       const look = () => {
         frames = rests() ? frames + 1 : 0;
         if (frames > 3) done(true);
         else if (performance.now() > until) done(false);
         else requestAnimationFrame(look);
       };
       look();`,
      saved,
    );
    if (!rests) throw new Error('the picture did not come to rest');
  }

  /** Offsets from the viewer's middle for a place in the fitted picture. */
  private async offset(u: number, v: number, aspect: number): Promise<{ x: number; y: number }> {
    const box = await (await see(this.driver, '.viewer canvas')).getRect();
    const width = Math.min(box.width - 16, (box.height - 16) * aspect);
    // It lies in the middle from left to right, and as high as it goes.
    return { x: Math.round((u - 0.5) * width), y: Math.round(8 + (v * width) / aspect - box.height / 2) };
  }

  async pointAt(u: number, v: number, aspect = 16 / 9): Promise<void> {
    const canvas = await see(this.driver, '.viewer canvas');
    await this.driver
      .actions()
      .move({ origin: canvas, ...(await this.offset(u, v, aspect)) })
      .perform();
    await this.rests(false);
  }

  async clickAt(u: number, v: number, aspect = 16 / 9): Promise<void> {
    await this.pointAt(u, v, aspect);
    await this.driver.actions().click().perform();
    await this.settled();
  }

  async dragAcross(from: [number, number], to: [number, number], aspect = 16 / 9): Promise<void> {
    const canvas = await see(this.driver, '.viewer canvas');
    const [a, b] = [await this.offset(...from, aspect), await this.offset(...to, aspect)];
    await this.driver
      .actions()
      .move({ origin: canvas, ...a })
      .press()
      .move({
        origin: Origin.POINTER,
        x: Math.round((b.x - a.x) / 2),
        y: Math.round((b.y - a.y) / 2),
        duration: 200,
      })
      .move({ origin: canvas, ...b, duration: 200 })
      .release()
      .perform();
    await this.settled();
  }

  /** Drags along several places. */
  async drawAlong(places: [number, number][], aspect = 16 / 9): Promise<void> {
    const origin = await see(this.driver, '.viewer canvas');
    const [first, ...rest] = await Promise.all(places.map(([u, v]) => this.offset(u, v, aspect)));
    let moves = this.driver
      .actions()
      .move({ origin, ...first! })
      .press();
    for (const at of rest) moves = moves.move({ origin, ...at, duration: 120 });
    await moves.release().perform();
    await this.settled();
  }
  /** Opens the list of all that lies at a place, and takes a row of it. */
  async takeFromList(at: [number, number], section: string, row: string): Promise<void> {
    await this.pointAt(...at);
    await this.driver.actions().contextClick().perform();
    await see(this.driver, '.pointer-list');
    await this.driver
      .findElement(
        By.xpath(
          `//*[contains(@class,'pointer-list')]//section[h4[normalize-space()='${section}']]//button[contains(., '${row}')]`,
        ),
      )
      .click();
    await this.settled();
  }
  /** Chooses from the menu of a pick of the open change, or of a change. */
  async menuOf(name: string, command: string): Promise<void> {
    await (await see(this.driver, `button[aria-label="More for ${name}"]`)).click();
    await clickSoon(this.driver, () => withText(this.driver, 'li', command));
    await this.settled();
  }
  /** Coverage of the open mask at a place, in percent. */
  async maskAt(u: number, v: number): Promise<number> {
    await this.pointAt(u, v);
    const text = await (await see(this.driver, '.values dd:last-child')).getText();
    return Number(text.replace('%', ''));
  }

  /** Presses keys with the picture in focus. */
  async press(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
    await this.drawn();
  }
  /** Waits until the page has drawn what the last event led to. */
  private drawn(): Promise<void> {
    return this.driver.executeAsyncScript(
      'requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(arguments[0])));',
    );
  }
  async undo(): Promise<void> {
    await this.driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await this.settled();
  }

  /** Colour on the screen at a place of the fitted picture. */
  async colourAt(u: number, v: number, aspect = 16 / 9): Promise<[number, number, number]> {
    const { x, y } = await this.offset(u, v, aspect);
    return this.driver.executeScript(
      `const c = document.querySelector('.viewer canvas');
       const d = c.getContext('2d').getImageData(Math.round(c.width / 2 + ${x}), Math.round(c.height / 2 + ${y}), 1, 1).data;
       return [d[0], d[1], d[2]];`,
    );
  }

  /** Adds a correction, an edge step or a shape by typing its name into the list that the button opens. */
  async addStep(
    button: 'Add a correction' | 'Refine the edge' | 'Draw a limit',
    name: string,
  ): Promise<void> {
    // Where there is none of it yet, it is added from the line of the mask.
    await clickSoon(this.driver, () =>
      this.driver.findElement(By.xpath(`//button[contains(., '${button}') or @aria-label='${button}']`)),
    );
    const input = await see(this.driver, `input[aria-label="Find: ${button}"]`);
    await input.sendKeys(name, Key.ENTER);
    await this.settled();
  }
  /** Chooses from the menu of a step of the open change. */
  async stepMenu(step: string, command: string): Promise<void> {
    await (await see(this.driver, `.sheet button[aria-label="More for ${step}"]`)).click();
    await clickSoon(this.driver, () => withText(this.driver, 'li', command));
    await this.settled();
  }
  /** Drags a step by its grip to where another one is. */
  async dragStep(step: string, onto: string): Promise<void> {
    const row = (name: string) => see(this.driver, `.sheet li:has(> header .title[aria-label="${name}"])`);
    const [from, to] = [await row(step), await row(onto)];
    await this.driver
      .actions()
      .move({ origin: from.findElement(By.css('.grip')) })
      .press()
      .move({ origin: to, y: -4, duration: 200 })
      .move({ origin: to, duration: 200 })
      .release()
      .perform();
    await this.settled();
  }
  /** Titles and values of the steps of the open change, as they stand in the sheet. */
  async steps(): Promise<string[]> {
    const titles = await this.driver.findElements(By.css('.sheet .title'));
    return Promise.all(titles.map(async (t) => (await t.getAttribute('title')) ?? ''));
  }

  /** Empties a field of the unfolded step that is chosen from a list. */
  async empty(label: string): Promise<void> {
    const select = await this.driver.findElement(
      By.xpath(`//*[@aria-label='${label}']/ancestor::div[contains(@class, 'el-select')][last()]`),
    );
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', select);
    // What stands above may still grow: then the pointer is not over it any more.
    await clickSoon(this.driver, async () => {
      await this.driver.actions().move({ origin: select, x: 1 }).move({ origin: select }).perform();
      return select.findElement(By.css('.el-select__clear'));
    });
    await this.settled();
  }

  /** Chooses how the picture is compared. */
  async compare(way: 'Off' | 'Divider' | 'Side by side' | 'Mask beside'): Promise<void> {
    await (await see(this.driver, 'button[aria-label="Compare"]')).click();
    await clickSoon(this.driver, () => withText(this.driver, 'li', way));
    await this.settled();
  }

  async picks(): Promise<string[]> {
    const names = await this.driver.findElements(By.css('.picks .name'));
    return Promise.all(names.map(async (e) => (await e.getText()).split('\n').join(' ')));
  }

  /** Opens the change at the end of the list. */
  async openLast(): Promise<void> {
    const cards = await this.all('li.card .members');
    await cards.at(-1)!.click();
    await this.settled();
  }
  async openCard(words: string): Promise<void> {
    for (const card of await this.driver.findElements(By.css('li.card')))
      if ((await card.findElement(By.css('textarea')).getAttribute('value')) === words) {
        await card.findElement(By.css('.members')).click();
        return this.settled();
      }
    throw new Error(`no card says "${words}"`);
  }

  /** Types a number into a control of the open change, for example `Exposure`. */
  async type(label: string, value: number): Promise<void> {
    const input = await see(this.driver, `.sheet input[aria-label^="${label} in"]`);
    await input.click();
    await input.sendKeys(Key.chord(Key.CONTROL, 'a'), String(value), Key.ENTER);
    await this.settled();
  }
}
