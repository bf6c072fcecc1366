/** Runs a script as a worker of a browser that has just been started, and returns its first message. */
import { chromium } from '@playwright/test';
import { readFileSync } from 'node:fs';

export async function inFreshBrowser<T>(script: URL): Promise<T> {
  const code = readFileSync(script, 'utf8');
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    const page = await browser.newPage();
    return await page.evaluate(
      (text) =>
        new Promise<T>((done, failed) => {
          const worker = new Worker(URL.createObjectURL(new Blob([text], { type: 'text/javascript' })));
          worker.onmessage = ({ data }) => done(data as T);
          worker.onerror = (e) => failed(new Error(e.message));
          worker.postMessage(null);
        }),
      code,
    );
  } finally {
    await browser.close();
  }
}
