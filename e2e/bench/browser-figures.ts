/** How long an artist waits, in the running application and Debian's Chromium. */
import type { Change, Variant } from '@zesty-crow/core';
import { By } from 'selenium-webdriver';
import { fileOf, repeated } from '../../core/bench/frames.ts';
import type { Tell } from '../../core/bench/report.ts';
import { apiOf, type Call } from '../harness/api.ts';
import type { Application } from '../harness/application.ts';
import { openBrowser } from '../harness/browser.ts';
import { correctionFigures } from './figures/corrections.ts';
import { maskFigures } from './figures/masks.ts';
import { openingFigures } from './figures/openings.ts';
import { WATCH } from './figures/page-scripts.ts';
import { CHANGES } from './figures/six-changes.ts';
import { sizeOf, type BrowserBench } from './figures/size.ts';
import { Stage } from './figures/stage.ts';
import { wallFigures } from './figures/wall.ts';

async function importShot(call: Call, name: string, bytes: Uint8Array): Promise<string> {
  const { id } = await call<{ id: string }>('POST', '/shots', { name });
  const version = await call<{ id: string }>('POST', `/shots/${id}/versions`);
  await call('PUT', `/versions/${version.id}/files/${name}.exr`, bytes);
  await call('POST', `/versions/${version.id}/read`);
  for (;;) {
    const shot = await call<{ versions: { state: string }[] }>('GET', `/shots/${id}`);
    if (shot.versions[0]?.state === 'ready') break;
    if (shot.versions[0]?.state === 'failed') throw new Error('The shot could not be read.');
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  await call('PUT', `/shots/${id}/changes`, {
    revision: 0,
    label: 'Six changes',
    body: { format: 'zesty-crow/changes', version: 7, headings: [], changes: CHANGES, variants: [] },
  });
  return id;
}

/** Measures all of it in an application that has no shots; each figure is told when it is known. */
export async function browserFigures(
  tell: Tell,
  bench: BrowserBench,
  application: Application,
): Promise<void> {
  const call = apiOf(application);
  const { sizes, only, detail } = bench;
  const { width, height } = sizeOf(bench.picture);
  for (const times of sizes) {
    const id = await importShot(call, `table_${times}`, fileOf(repeated(bench.picture, times), 'zip'));
    // Each size in a browser of its own, so that the first opening is a cold one.
    const driver = await openBrowser(1280, 800);
    try {
      await (
        driver as unknown as { sendDevToolsCommand(name: string, parameters: object): Promise<void> }
      ).sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', { source: WATCH });
      const put = async (changes: Change[], variants: Variant[] = []) => {
        // What the page has not saved yet must not come between.
        if ((await driver.findElements(By.css('.saving'))).length) await stage.saved();
        const { revision } = await call<{ revision: number }>('GET', `/shots/${id}/changes`);
        return call('PUT', `/shots/${id}/changes`, {
          revision,
          label: 'Other changes',
          body: { format: 'zesty-crow/changes', version: 7, headings: [], changes, variants },
        });
      };
      const idle = async () => {
        for (;;) {
          const jobs = await call<{ state: string }[]>('GET', '/jobs');
          if (jobs.every((j) => j.state !== 'waiting' && j.state !== 'running')) return;
          await driver.sleep(500);
        }
      };
      const address = `${application.address}/shots/${id}/correct`;
      const stage = new Stage(bench, driver, tell, address, `${width * times}x${height * times}`, put, idle);
      if (!only) await openingFigures(stage, times);
      if (times !== detail) continue;
      if (!only) await correctionFigures(stage);
      if (only !== 'wall') await maskFigures(stage);
      if (only !== 'masks') await wallFigures(stage);
    } finally {
      await driver.quit();
    }
  }
}
