import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { WebDriver } from 'selenium-webdriver';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

interface Violation {
  id: string;
  help: string;
  nodes: { target: string[]; html: string; any: { message: string }[] }[];
}

/** What axe finds on the page that not everyone can read or use (WCAG 2, A and AA), a line each. */
export async function faults(driver: WebDriver): Promise<string[]> {
  // Through the browser's own tools, which no policy of the page holds back.
  await driver.executeScript(AXE);
  // Colours on their way from one to another are not what is looked at.
  await driver.executeScript(
    `window.still = document.createElement('style');
     still.textContent = '* { transition: none !important; animation: none !important; }';
     document.head.append(still);`,
  );
  await driver.sleep(300);
  const found = await driver.executeAsyncScript<Violation[]>(
    `const done = arguments[arguments.length - 1];
     axe.run(document, { runOnly: ['wcag2a', 'wcag2aa'] })
       .then((r) => done(r.violations), (e) => done([{ id: String(e), help: '', nodes: [{ target: [], html: '', any: [] }] }]))
       .finally(() => still.remove());`,
  );
  return found.flatMap((v) =>
    v.nodes.map(
      (n) => `${v.id}: ${n.target.join(' ')} ${n.html.slice(0, 200)} (${n.any[0]?.message ?? v.help})`,
    ),
  );
}
