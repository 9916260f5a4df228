import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { emptyPlan, type Plan } from '@zesty-crow/core/plan';
import { smallScene } from '../../core/test/fixtures/small-scene.ts';
import { faults } from '../harness/axe.ts';
import { apiOf, sceneShot, type Call } from '../harness/api.ts';
import type { Application } from '../harness/application.ts';
import { startEmpty } from '../harness/database.ts';
import { clickSoon, openBrowser, see, withText } from '../harness/browser.ts';
import { Page } from '../harness/page.ts';

let application: Application;
let page: Page;
let call: Call;
let id: string;
const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-plan-'));

beforeAll(async () => {
  application = await startEmpty();
  call = apiOf(application);
  page = new Page(await openBrowser());
  id = await sceneShot(call, 'Bee yard', await smallScene());
  await page.driver.get(`${application.address}/shots/${id}/prepare`);
  await see(page.driver, '.row');
});
afterAll(async () => {
  await page?.driver.quit();
  await application?.stop();
});

const plan = async () => (await call<{ body: Plan }>('GET', `/shots/${id}/plan`)).body;
const button = (label: string) => see(page.driver, `button[aria-label="${label}"]`);
async function addPass(group: string, label: string): Promise<void> {
  await (await button(`Add to ${group}`)).click();
  const item = By.xpath(
    `//div[contains(@class, "el-popper") and not(contains(@style, "display: none"))]//li[normalize-space(.) = ${JSON.stringify(label)}]`,
  );
  await clickSoon(page.driver, () => page.driver.findElement(item));
}
const titles = () => page.texts('.pass .title');

test('a puzzle matte says what is missing until a slot is filled, by a list or by a rule', async () => {
  await addPass('ID passes', 'Puzzle matte');
  await page.says('.pass .fault', 'll three slots are empty');
  await page.choose('Red: by what', 'objects');
  await page.choose('Red: members', 'jars');
  await page.choose('Green: by what', 'materials');
  await page.typeChoice('Green: members', 'f*');
  await page.wait(
    async () => (await titles())[0] === 'Puzzle matte 1: jars, f*',
    'the title does not say what it shows',
  );
  expect(await page.all('.pass .fault')).toHaveLength(0);
  expect(await faults(page.driver)).toEqual([]);
  await page.saved();
  expect((await plan()).passes[0]!.values).toMatchObject({
    r: { of: 'objects', members: ['jars'] },
    g: { of: 'materials', members: ['f*'] },
  });
  await page.choose('Blue: by what', 'object number');
  await page.says('.pass .fault', 'lue: nothing in the scene has');
  await page.choose('Blue: by what', 'nothing');
  await page.wait(async () => (await page.all('.pass .fault')).length === 0, 'the fault stayed');
});

test('fields show what they belong to; IDs are always floats, data may be halves', async () => {
  await addPass('ID passes', 'Cryptomatte');
  await page.says('.pass .foot', 'Always 32-bit float');
  expect(await page.all('[aria-label="Level of groups"]')).toHaveLength(0);
  await page.choose('Tells apart', 'groups');
  await see(page.driver, '[aria-label="Level of groups"]');
  await addPass('Data passes', 'Depth');
  await page.typeInto(await page.field('Far'), '12');
  await (await withText(page.driver, 'label', 'float, 32 bit')).click();
  await page.saved();
  const [, crypto, depth] = (await plan()).passes;
  expect(crypto!.values['by']).toBe('group');
  expect(depth).toMatchObject({ depth: 'float', values: { far: 12 } });
});

test('a pass is left out, taken in again and removed, and every step is undone', async () => {
  const before = await titles();
  const title = before.find((t) => t === 'Depth')!;
  await page.turn(`Render ${title}`);
  await see(page.driver, '.pass.off');
  await (await button(`Remove ${title}`)).click();
  await page.wait(async () => !(await titles()).includes(title), 'it was not removed');
  await (await button('Undo')).click();
  await see(page.driver, '.pass.off');
  await (await button('Undo')).click();
  await page.wait(async () => (await page.all('.pass.off')).length === 0, 'it is still left out');
  expect(await titles()).toEqual(before);
});

test('a rule numbers what has no number of its own, and materials are numbered apart', async () => {
  await (await withText(page.driver, 'button', 'Number rules')).click();
  await (await withText(page.driver, 'button', 'New rule')).click();
  expect(await faults(page.driver)).toEqual([]);
  await page.typeInto(await page.field('Pattern'), 'jars/*');
  await page.typeInto(await page.field('Number'), '40');
  await page.saved();
  await (await see(page.driver, '.row[title^="jars "]')).click();
  await (await see(page.driver, '.el-tree-node__expand-icon:not(.is-leaf)')).click();
  const lid = await see(page.driver, 'input[aria-label="Number of jars/lid"]');
  await page.wait(async () => Number(await lid.getAttribute('placeholder')) >= 40, 'the rule gave no number');
  await (await withText(page.driver, 'button', 'Materials')).click();
  const fur = await see(page.driver, 'input[aria-label="Number of fur"]');
  expect(await faults(page.driver)).toEqual([]);
  await page.typeInto(fur, '40');
  await page.saved();
  expect((await plan()).materials['fur']).toEqual({ number: 40 });
  // A material may have the number of an object: they are counted apart.
  expect(await fur.getAttribute('class')).not.toContain('clash');
  await page.typeInto(await see(page.driver, 'input[aria-label="Number of glass"]'), '40');
  await page.wait(async () => (await page.all('input.clash')).length === 2, 'the clash is not shown');
});

test('a plan is loaded from a file; what is none is refused, and nothing is lost', async () => {
  const choose = async (name: string, text: string) => {
    writeFileSync(join(folder, name), text);
    await (await page.driver.findElement(By.css('.files input[type=file]'))).sendKeys(join(folder, name));
  };
  const before = await titles();
  await choose('notes.json', '{"honey": true}');
  await page.says('.el-message', 'notes.json is no ID plan');
  await choose('broken.json', '{');
  await page.says('body', 'broken.json is no ID plan');
  expect(await titles()).toEqual(before);
  const other: Plan = {
    ...emptyPlan(),
    passes: [{ id: 'n', kind: 'normals', on: true, depth: 'half', values: {} }],
  };
  await choose('other.plan.json', JSON.stringify(other));
  await page.wait(async () => (await titles()).join() === 'Normals', 'the plan was not loaded');
  await page.saved();
  expect(await plan()).toEqual(other);
  await (await button('Undo')).click();
  await page.wait(async () => (await titles()).join() === before.join(), 'the plan before is gone');
});
