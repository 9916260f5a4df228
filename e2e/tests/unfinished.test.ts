import { By, type WebElement } from 'selenium-webdriver';
import { emptyPlan, type PassUse, type Plan } from '@zesty-crow/core/plan';
import { smallScene } from '../../core/test/fixtures/small-scene.ts';
import { apiOf, sceneShot, type Call } from '../harness/api.ts';
import type { Application } from '../harness/application.ts';
import { startEmpty } from '../harness/database.ts';
import { clickSoon, openBrowser, see, withText } from '../harness/browser.ts';
import { CorrectPage } from '../harness/correct-page.ts';

let application: Application;
let page: CorrectPage;
let call: Call;

beforeAll(async () => {
  application = await startEmpty();
  call = apiOf(application);
  page = new CorrectPage(await openBrowser());
});
afterAll(async () => {
  await page?.driver.quit();
  await application?.stop();
});

const pass = (id: string, kind: string, values: PassUse['values']): PassUse => ({
  id,
  kind,
  on: true,
  depth: 'float',
  values,
});
const begun: string[] = [];
/** A shot of the bee yard that takes so long to render that one can work on it meanwhile. */
async function yard(name: string, render: Partial<Plan['render']> = {}): Promise<string> {
  const plan = emptyPlan();
  plan.objects = { bee: { number: 7 } };
  plan.passes = [
    pass('objects', 'cryptomatte', { by: 'object', ranks: 4 }),
    pass('puzzle', 'puzzle-matte', {
      set: 1,
      r: { of: 'objects', members: ['bee'] },
      g: { of: 'objects', members: ['wall'] },
    }),
    pass('numbers', 'number-pass', { of: 'objects' }),
  ];
  Object.assign(plan.render, { width: 256, height: 144, samples: 65536 }, render);
  const id = await sceneShot(call, name, await smallScene(), plan);
  begun.push(id);
  return id;
}
interface Growing {
  versionId: string;
  state: string;
  unfinished: string | null;
  snapshot: number;
  sums: number;
  measured: { samples: number }[];
  jobs: { look: number }[];
}
const NONE: Growing = {
  versionId: '',
  state: '',
  unfinished: null,
  snapshot: 0,
  sums: 0,
  measured: [],
  jobs: [],
};
const newest = async (id: string) => (await call<Growing[]>('GET', `/shots/${id}/renders`))[0] ?? NONE;
// One that failed must not keep the others waiting.
afterEach(async () => {
  for (const id of begun.splice(0)) {
    const { versionId, unfinished, state } = await newest(id);
    if (unfinished || state === 'rendering') await call('POST', `/shots/${id}/renders/${versionId}/cancel`);
  }
});

const snapshots = (id: string, count: number) =>
  page.wait(
    async () => (await newest(id)).snapshot >= count && (await newest(id)).state === 'ready',
    `there were not ${count} snapshots`,
    60_000,
  );
const press = async (words: string) =>
  clickSoon(page.driver, () => withText(page.driver, 'button', words) as Promise<WebElement>);
/** Colours of a canvas, most frequent first. */
const coloursOf = (css: string) =>
  page.driver.executeScript<string[]>(
    `const canvas = document.querySelector(arguments[0]);
     const copy = document.createElement('canvas');
     [copy.width, copy.height] = [canvas.width, canvas.height];
     const context = copy.getContext('2d');
     context.drawImage(canvas, 0, 0);
     const { data } = context.getImageData(0, 0, copy.width, copy.height);
     const found = new Map();
     for (let p = 0; p < data.length; p += 4)
       if (data[p + 3] > 0) {
         const key = [data[p], data[p + 1], data[p + 2]].join(' ');
         found.set(key, (found.get(key) ?? 0) + 1);
       }
     return [...found].sort((a, b) => b[1] - a[1]).map(([key]) => key).slice(0, 8);`,
    css,
  );

test('every ID pass of the plan is seen in the scene before anything is rendered', async () => {
  const id = await yard('Planned');
  await page.driver.get(`${application.address}/shots/${id}/prepare`);
  await see(page.driver, '.prepare .scene canvas', 30_000);
  await page.wait(async () => (await page.all('.scene .veil')).length === 0, 'the scene did not load');
  await page.choose('See', 'Puzzle matte');
  await page.wait(async () => {
    const colours = await coloursOf('.scene canvas');
    return ['255 0 0', '0 255 0', '0 0 0'].every((c) => colours.includes(c));
  }, 'the slots are not seen in red and green');
  // What is numbered, and what was forgotten.
  await page.choose('See', 'Number pass');
  await page.wait(async () => {
    const labels = await page.texts('.scene .label');
    return labels.includes('7') && labels.includes('none');
  }, 'the numbers are not told');
  await page.choose('See', 'Scene');
  await page.wait(async () => (await page.all('.scene .label')).length === 0, 'the numbers stayed');
});

test('what grows is looked at, picked from and corrected, and keeps what was made on it to the end', async () => {
  const id = await yard('Growing');
  await page.driver.get(`${application.address}/shots/${id}/render`);
  await press('Render v1');
  await see(page.driver, '.look canvas', 30_000);
  // A pass in place of the picture, then samples first where one clicks.
  await page.choose('See', 'Cryptomatte of objects');
  await page.wait(
    async () =>
      (await coloursOf('.look canvas')).length > 0 && (await page.texts('.sight')).join().includes('Crypto'),
    'no pass is seen',
  );
  const canvas = await see(page.driver, '.look canvas');
  await page.driver.actions().move({ origin: canvas, x: 20, y: 10 }).click().perform();
  await page.says('.line', 'Samples here first');

  await snapshots(id, 1);
  await press('Correct…');
  await page.ready();
  await page.wait(
    async () => (await page.texts('.versions')).join().includes('unfinished'),
    'it is not said to be unfinished',
  );
  const exporting = await withText(page.driver, 'button', 'Export…');
  expect(await exporting.getAttribute('disabled')).not.toBeNull();
  expect(
    await page.driver
      .findElement(By.xpath('//span[.//button[contains(., "Export…")]]'))
      .getAttribute('title'),
  ).toContain('still being rendered');

  // The wall, in the upper left corner.
  await press('New change');
  await page.clickAt(0.06, 0.1);
  await page.settled();
  const picked = await page.picks();
  expect(picked).toHaveLength(1);
  await page.addStep('Add a correction', 'Exposure');
  await page.type('Exposure', -1);
  await page.settled();
  const stops = async () =>
    (await see(page.driver, '.sheet input[aria-label^="Exposure in"]')).getAttribute('value');
  expect(await page.maskAt(0.06, 0.1)).toBeGreaterThan(50);
  const there = (await newest(id)).snapshot;
  await snapshots(id, there + 2);
  await page.ready();
  await page.settled();
  expect(await page.picks()).toEqual(picked);
  expect(Number(await stops())).toBe(-1);
  expect(await page.maskAt(0.06, 0.1)).toBeGreaterThan(50);

  await call('POST', `/shots/${id}/renders/${(await newest(id)).versionId}/keep`);
  await page.wait(async () => (await newest(id)).unfinished === null, 'it did not get finished', 60_000);
  await page.wait(
    async () => (await page.texts('.versions')).join().includes('rendered'),
    'it is still said to be unfinished',
  );
  await page.ready();
  await page.settled();
  expect(await page.picks()).toEqual(picked);
  expect(Number(await stops())).toBe(-1);
  await page.wait(async () => (await exporting.getAttribute('disabled')) === null, 'it cannot be exported');
});

test('a version that is done gets more samples, and is drawn as one with them', async () => {
  const id = await yard('More', { width: 96, height: 54, samples: 4 });
  await page.driver.get(`${application.address}/shots/${id}/render`);
  await press('Render v1');
  await page.wait(async () => (await newest(id)).sums > 0, 'no sums were kept', 60_000);
  const more = await withText(page.driver, 'button', 'Add samples up to 4');
  expect(await more.getAttribute('disabled')).not.toBeNull();
  await page.typeInto(await page.field('Samples'), '16');
  await press('Add samples up to 16');
  await page.wait(async () => (await newest(id)).measured[0]?.samples === 16, 'they were not added', 60_000);
  await page.says('.fold .summary', '16 samples a pixel');
  await (await see(page.driver, '.more .plain-button')).click();
  await page.wait(async () => (await newest(id)).sums === 0, 'the sums were not deleted');
  await page.wait(async () => (await page.all('.more')).length === 0, 'more is still offered');
});

test('what is changed while a young render runs begins it anew by itself', async () => {
  const id = await yard('Anew');
  await page.driver.get(`${application.address}/shots/${id}/render`);
  await press('Render v1');
  await see(page.driver, '.look canvas', 30_000);
  await page.typeInto(await page.field('Bounces'), '1');
  await page.wait(async () => {
    const [render] = await call<{ plan: Plan }[]>('GET', `/shots/${id}/renders`);
    return render!.plan.render.bounces === 1;
  }, 'it was not begun anew');
  await see(page.driver, '.look canvas', 30_000);
  await press('Cancel');
});
