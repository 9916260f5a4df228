import { Key } from 'selenium-webdriver';
import { emptyPlan, type Plan } from '@zesty-crow/core/plan';
import { smallScene } from '../../core/test/fixtures/small-scene.ts';
import { apiOf, sceneShot, type Call } from '../harness/api.ts';
import type { Application } from '../harness/application.ts';
import { startEmpty } from '../harness/database.ts';
import { clickSoon, openBrowser, see, withText } from '../harness/browser.ts';
import { Page } from '../harness/page.ts';

let application: Application;
let page: Page;
let call: Call;

beforeAll(async () => {
  application = await startEmpty();
  call = apiOf(application);
  page = new Page(await openBrowser());
});
afterAll(async () => {
  await page?.driver.quit();
  await application?.stop();
});

/** A shot of the bee yard with a plan; its stage is opened. */
async function open(name: string, render: Partial<Plan['render']>, stage = 'render'): Promise<string> {
  const plan = emptyPlan();
  plan.passes = [
    { id: 'a', kind: 'cryptomatte', on: true, depth: 'float', values: { by: 'object', ranks: 4 } },
  ];
  Object.assign(plan.render, { width: 96, height: 60, samples: 16 }, render);
  const id = await sceneShot(call, name, await smallScene(), plan);
  await page.driver.get(`${application.address}/shots/${id}/${stage}`);
  return id;
}
interface Found {
  number: number;
  state: string;
  unfinished: string | null;
  request: { what: string };
  measured: { samples: number }[];
}
const renders = (id: string) => call<Found[]>('GET', `/shots/${id}/renders`);
const start = async (words: string) => {
  const button = await withText(page.driver, 'button', words);
  await page.wait(async () => (await button.getAttribute('disabled')) === null, `${words} cannot be clicked`);
  await button.click();
};
/** Waits until the newest version is done. */
const finished = (id: string, number: number) =>
  page.wait(
    async () =>
      (await renders(id)).some(
        (r) => r.number === number && r.state === 'ready' && !r.unfinished && r.measured.length > 0,
      ),
    `v${number} did not get ready`,
    90_000,
  );

test('a long render is looked at, then stopped and kept; another is cancelled and leaves nothing', async () => {
  const id = await open('Long', { width: 256, height: 160, samples: 65536 });
  await page.says('.room', 'Nothing has been rendered yet');
  await start('Render v1');
  await see(page.driver, '.room .look canvas', 60_000);
  await page.says('.line', 'samples a pixel');
  await page.says('.line', 'left');
  await start('Stop and keep');
  await finished(id, 1);
  expect((await renders(id))[0]!.measured[0]!.samples).toBeLessThan(65536);
  await page.says('.fold .summary', 'v1: ');

  await start('Render v2');
  await page.says('.version', 'rendering');
  await start('Cancel');
  await page.wait(async () => (await page.all('.version')).length === 1, 'the cancelled version stayed');
  expect((await renders(id)).map((r) => r.number)).toEqual([1]);
  await page.says('.start', 'Render v2');
});

test('IDs join a version, a cut-out is a version of its own, a new look lies over one', async () => {
  const id = await open('Requests', {});
  await start('Render v1');
  await finished(id, 1);

  await page.choose('What to render', 'Only ID and data passes');
  await page.says('.left', 'join a version');
  await start('Render the passes');
  const files = async () => {
    const { versions } = await call<{ versions: { files: { role: string }[] }[] }>('GET', `/shots/${id}`);
    return versions[0]!.files.filter((f) => f.role === 'picture').length;
  };
  await page.wait(async () => (await files()) === 2, 'the IDs did not join v1', 60_000);

  await page.choose('What to render', 'Only some members');
  await page.says('.fault', 'Say which members.');
  await page.choose('Members to render', 'bee');
  await page.choose('Catches shadow and reflection', 'wall');
  await page.says('.left', 'layers of their own');
  await page.says('.start', 'At most');
  await start('Render v2');
  await finished(id, 2);

  await page.choose('What to render', 'New look for some members');
  await page.choose('Members to render', 'jars');
  await page.says('.fault', 'Give them a new look.');
  await page.typeInto(await page.field('New roughness'), '0.9');
  await start('Render v3');
  await finished(id, 3);
  expect((await renders(id)).map((r) => r.request.what)).toEqual(['patch', 'cut-out', 'all']);
  expect(await page.texts('.version')).toEqual(['v3 new look', 'v2 some members', 'v1 picture and passes']);
});

test('a shot without a scene says where one is chosen, in both stages', async () => {
  const { id } = await call<{ id: string }>('POST', '/shots', { name: 'Bare' });
  await page.driver.get(`${application.address}/shots/${id}/render`);
  await page.says('.fault', 'Choose one in Prepare');
  await (await withText(page.driver, 'a', 'Prepare')).click();
  await page.says('.prepare', 'No scene yet');
  expect(await (await withText(page.driver, 'button', 'Render…')).getAttribute('disabled')).not.toBeNull();
});

test('a scene that is damaged says why, and another one can be chosen at once', async () => {
  const { id } = await call<{ id: string }>('POST', '/shots', { name: 'Damaged' });
  const cycle = {
    asset: { version: '2.0' },
    scenes: [{ nodes: [0] }],
    nodes: [
      { name: 'hive', children: [1] },
      { name: 'roof', children: [0] },
    ],
  };
  await call('PUT', `/shots/${id}/scene/hive.gltf`, new TextEncoder().encode(JSON.stringify(cycle)));
  await call('POST', `/shots/${id}/scene/read`);
  await page.driver.get(`${application.address}/shots/${id}/prepare`);
  await page.says('.prepare', 'below itself in the hierarchy');
  await call('PUT', `/shots/${id}/scene/bee_yard.glb`, await smallScene());
  await call('POST', `/shots/${id}/scene/read`);
  await see(page.driver, '.prepare .scene canvas', 30_000);
});

test('names are text, never markup; how a thing is seen is set for several at once', async () => {
  const id = await open('Names', {}, 'prepare');
  await see(page.driver, '.row');
  const plan = async () => (await call<{ body: Plan }>('GET', `/shots/${id}/plan`)).body;
  const name = '<img src=x onerror=document.title="broken">';
  const row = (path: string) => see(page.driver, `.row[title^="${path} "]`);
  await (await row('bee')).click();
  await (await withText(page.driver, 'button', 'Rename')).click();
  await page.typeInto(await page.field('New name'), name);
  await page.saved();
  await page.says('.row .name', '<img src=x');
  expect(await page.driver.getTitle()).not.toBe('broken');
  expect((await plan()).objects['bee']!.name).toBe(name);

  // From the bee up to the jars; the group stands for all that is in it.
  const actions = page.driver.actions();
  await actions
    .keyDown(Key.SHIFT)
    .click(await row('jars'))
    .keyUp(Key.SHIFT)
    .perform();
  await page.says('.selection', '3 selected');
  await (await withText(page.driver, 'button', 'Seen by')).click();
  const box = (label: string) => withText(page.driver, 'label', label);
  await clickSoon(page.driver, () => box('shadow casting'));
  await page.saved();
  const hidden = Object.entries((await plan()).objects).filter(([, o]) => o.hidden?.includes('shadows'));
  expect(hidden.map(([path]) => path).sort()).toEqual(['bee', 'jars/glass', 'jars/lid', 'wall']);
  await clickSoon(page.driver, () => box('reflections'));
  await page.saved();
  expect((await plan()).objects['wall']!.hidden).toEqual(['shadows', 'reflections']);
  await page.choose('Not seen in the reflections of', 'jars/glass');
  await page.saved();
  expect((await plan()).objects['jars/lid']!.notSeenIn).toEqual(['jars/glass']);
});
