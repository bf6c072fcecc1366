/** The sheet in a browser: jumps of its scroll bar, a scroll through all of it, and the memory the page then holds. */
import { chromium, type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';

export interface Seen {
  /** ms from the scroll bar's coming to rest to rows without a blank one. */
  jumps: number[];
  /** Memory that the page's process holds of its own after all was scrolled through, in MB. */
  memory: number;
}

const JUMPS = 25;

/** Jumps to a place and waits for rows; in ms. */
const jump = (page: Page, share: number): Promise<number> =>
  page.locator('#sheet').evaluate(async (node, to) => {
    const began = performance.now();
    node.scrollTop = to * (node.scrollHeight - node.clientHeight);
    const frame = (): Promise<unknown> => new Promise((done) => requestAnimationFrame(done));
    const blank = (): boolean => {
      const box = node.getBoundingClientRect();
      const rows = [...node.querySelectorAll('[data-track], [data-blank]')].filter((row) => {
        const { top, bottom } = row.getBoundingClientRect();
        return bottom > box.top && top < box.bottom;
      });
      return rows.length === 0 || rows.some((row) => row.hasAttribute('data-blank'));
    };
    do await frame();
    while (blank());
    return performance.now() - began;
  }, share);

/** What a process holds that no other shares, in MB. */
function ownMemory(pid: number): number {
  const kilobytes = readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8').matchAll(/^Private_\w+:\s+(\d+)/gm);
  return [...kilobytes].reduce((sum, [, n]) => sum + Number(n), 0) / 1024;
}

export async function lookedAt(address: string): Promise<Seen> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const whole = page.waitForResponse(/\/tracks\/along/);
    await page.goto(`${address}/tracks?sort=title:asc`);
    await (await whole).finished();
    const jumps: number[] = [];
    for (let i = 1; i <= JUMPS; i++) jumps.push(await jump(page, (i * 0.618034) % 1));
    for (let i = 0; i <= 400; i++) await jump(page, i / 400);
    const session = await browser.newBrowserCDPSession();
    const { processInfo } = (await session.send('SystemInfo.getProcessInfo')) as {
      processInfo: { type: string; id: number }[];
    };
    const memory = processInfo.filter((p) => p.type === 'renderer').map((p) => ownMemory(p.id));
    return { jumps, memory: Math.max(...memory) };
  } finally {
    await browser.close();
  }
}
