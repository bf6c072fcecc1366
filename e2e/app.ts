/** Starting, killing and asking the real application, on data folders of its own. */
import { expect, type Page, type Request } from '@playwright/test';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  chmodSync,
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ListLine, Overview } from '@early-set/core/api/types';

const ROOT = join(import.meta.dirname, '..');
/** How many tracks of the demo the tests make: those with house between 118 and 126 are among the first. */
const DEMO_TRACKS = 30;

export interface App {
  address: string;
  folder: string;
  music: string;
  process: ChildProcess;
  /** JSON of an API address. */
  get: <T>(path: string) => Promise<T>;
  post: <T>(path: string, body?: object) => Promise<T>;
  /** Ctrl-C, and wait until it has gone. */
  stop: () => Promise<void>;
  /** As a power cut would: nothing is told to stop. */
  kill: () => Promise<void>;
}

/**
 * Starts on a data folder; resolves when the address is printed.
 * @param within what it is started by, as "ip netns exec" with a name
 */
export async function startApp(
  folder: string,
  args: string[] = [],
  env: Record<string, string> = {},
  within: readonly string[] = [],
): Promise<App> {
  const [program, ...words] = [...within, process.execPath, join(ROOT, 'scripts/start.mjs'), ...args];
  const child = spawn(program!, words, {
    cwd: ROOT,
    env: { ...process.env, EARLY_SET_DATA: folder, EARLY_SET_UNSAFE_FSYNC_OFF: '1', EARLY_SET_LOG: 'silent', ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  const address = await new Promise<string>((resolve, reject) => {
    const hear = (chunk: Buffer): void => {
      said += chunk.toString();
      const found = /Early Set is at (http:\S+)/.exec(said);
      if (found) resolve(found[1]!);
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    child.once('exit', (code) => reject(new Error(`It ended with ${code}: ${said}`)));
  });
  // A test that fails half-way stops nothing itself; its worker ends then, and nothing may be left running.
  const stopWithTests = (): void => void child.kill('SIGINT');
  process.once('exit', stopWithTests);
  const ended = new Promise<void>((resolve) => {
    child.once('exit', () => {
      process.off('exit', stopWithTests);
      resolve();
    });
  });
  const ask = async <T>(path: string, init?: RequestInit): Promise<T> => {
    const response = await fetch(`${address}/api${path}`, init);
    if (!response.ok) throw new Error(`${path}: ${response.status} ${await response.text()}`);
    return (await response.json()) as T;
  };
  return {
    address,
    folder,
    music: join(folder, 'demo/music'),
    process: child,
    get: ask,
    post: (path, body = {}) =>
      ask(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    stop: async () => {
      child.kill('SIGINT');
      await ended;
    },
    kill: async () => {
      child.kill('SIGKILL');
      await ended;
    },
  };
}

/** A folder for one test; removed by its returned function. */
export function freshFolder(name: string): { folder: string; remove: () => void } {
  const folder = mkdtempSync(join(tmpdir(), `early-set-${name}-`));
  chmodSync(folder, 0o755); // the database's own user must get in when the tests run as root
  return { folder, remove: () => rmSync(folder, { recursive: true, force: true }) };
}

const SHORT_DEMO = join(ROOT, 'data-test/short-demo');
/** The demo's music, made before all tests. */
export const demoMusic = (): string => SHORT_DEMO;

export function makeDemoMusic(): void {
  mkdirSync(SHORT_DEMO, { recursive: true });
  const made = spawnSync(
    process.execPath,
    [join(ROOT, 'dist/demo/make.mjs'), SHORT_DEMO, '--only', String(DEMO_TRACKS)],
    { encoding: 'utf8' },
  );
  if (made.status !== 0) throw new Error(made.stderr);
}

/** Puts the demo's music into a data folder, so that the demo starts with it there. */
export function withDemo(folder: string): void {
  cpSync(demoMusic(), join(folder, 'demo'), { recursive: true });
}

/** Where the desk of a worker's test stands: always the same place, as the library knows its files by their paths. */
const DESK = join(tmpdir(), `early-set-desk-${process.env.TEST_PARALLEL_INDEX ?? '0'}`);

const run = (command: string, ...args: string[]): void => {
  const done = spawnSync(command, args, { encoding: 'utf8' });
  if (done.status !== 0) throw new Error(`${command} ${args.join(' ')}: ${done.stderr}`);
};

/** Copies a folder with owners and times, as the database wants it. */
function copyWhole(from: string, to: string): void {
  rmSync(to, { recursive: true, force: true });
  run('cp', '-a', from, to);
}

const demoOn = async (folder: string, tracks: number, env: Record<string, string> = {}): Promise<App> => {
  const app = await startApp(folder, ['--demo', `--only=${DEMO_TRACKS}`], env);
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.tracks >= tracks && o.measured === o.tracks,
  );
  return app;
};

/** The demo's first tracks, taken in and measured by this very build; made by the first test that needs them. */
async function measuredDesk(): Promise<string> {
  const build = createHash('sha256')
    .update(readFileSync(join(ROOT, 'dist/.server')))
    .update(readFileSync(join(ROOT, 'dist/.web')))
    .digest('hex')
    .slice(0, 12);
  const kept = `${DESK}-${build}`;
  if (existsSync(kept)) return kept;
  for (const name of readdirSync(tmpdir()))
    if (join(tmpdir(), name).startsWith(DESK)) rmSync(join(tmpdir(), name), { recursive: true, force: true });
  mkdirSync(DESK, { mode: 0o755 });
  withDemo(DESK);
  await (await demoOn(DESK, DEMO_TRACKS)).stop();
  copyWhole(DESK, `${kept}-unfinished`);
  renameSync(`${kept}-unfinished`, kept);
  return kept;
}

/**
 * The application on a folder of its own with the demo's first tracks, all measured; ended and removed by `end`.
 * @param prepare puts more files into the demo's music before the start; returns how many
 */
export async function startDemo(
  prepare: (music: string) => number = () => 0,
  env: Record<string, string> = {},
): Promise<{ app: App; end: () => Promise<void> }> {
  copyWhole(await measuredDesk(), DESK);
  const app = await demoOn(DESK, DEMO_TRACKS + prepare(join(DESK, 'demo/music')), env);
  return {
    app,
    end: async () => {
      await app.stop();
      rmSync(DESK, { recursive: true, force: true });
    },
  };
}

/** Waits until an answer is as wanted; a test that waits in vain says what the last one was. */
export async function settled<T>(ask: () => Promise<T>, wanted: (answer: T) => boolean, timeout = 150_000): Promise<T> {
  let last: T | undefined;
  await expect(async () => {
    last = await ask();
    expect(wanted(last), `the last answer was ${JSON.stringify(last)}`).toBe(true);
  }).toPass({ timeout, intervals: [150] });
  return last!;
}

/**
 * Keeps an eye on the page's sound, so that a test which waits for it in vain can say how it stood.
 * Returns what asks for it.
 */
export async function watchSound(page: Page): Promise<() => Promise<string>> {
  await page.addInitScript(() => {
    const made: { audio: HTMLAudioElement[]; context: AudioContext[] } = { audio: [], context: [] };
    Object.assign(window, { madeForTest: made });
    window.Audio = class extends Audio {
      constructor(src?: string) {
        super(src);
        made.audio.push(this);
      }
    };
    window.AudioContext = class extends AudioContext {
      constructor(options?: AudioContextOptions) {
        super(options);
        made.context.push(this);
      }
    };
  });
  return () =>
    page.evaluate(() => {
      const made = (window as unknown as { madeForTest: { audio: HTMLAudioElement[]; context: AudioContext[] } })
        .madeForTest;
      return JSON.stringify({
        visible: document.visibilityState,
        contexts: made.context.map((c) => [c.state, c.currentTime, c.sampleRate]),
        elements: made.audio.map((a) => ({
          at: a.currentTime,
          paused: a.paused,
          seeking: a.seeking,
          ready: a.readyState,
          network: a.networkState,
          error: a.error?.message,
          buffered: Array.from({ length: a.buffered.length }, (_, i) => [a.buffered.start(i), a.buffered.end(i)]),
        })),
      });
    });
}

/** So long nothing is asked for when a page has come to rest. */
const REST_MS = 200;

/** Follows what a page asks for. Returns what waits until it has all its answers, and asks for nothing more. */
export function watchRequests(page: Page): () => Promise<void> {
  const open = new Set<Request>();
  let last = Date.now();
  const ended = (request: Request): void => {
    if (open.delete(request)) last = Date.now();
  };
  page.on('request', (request) => {
    // Sound goes on as long as it is played, and events as long as the page is open.
    if (request.resourceType() === 'media' || request.url().endsWith('/api/events')) return;
    open.add(request);
    last = Date.now();
  });
  // What the page before had asked for is told neither as answered nor as called off.
  page.on('framenavigated', (frame) => {
    if (frame === page.mainFrame()) open.clear();
  });
  page.on('requestfinished', ended);
  page.on('requestfailed', ended);
  return async () => {
    last = Date.now();
    const waitedFor = (): string[] =>
      Date.now() - last > REST_MS ? [...open].map((request) => request.url()) : ['what comes next'];
    await expect.poll(waitedFor, { intervals: [50] }).toEqual([]);
  };
}

/** Fails the test when the page complained. */
export function watchErrors(page: Page): string[] {
  const errors: string[] = [];
  page.on('pageerror', (e) => errors.push(e.message));
  page.on('console', (m) => {
    if (m.type() === 'error') errors.push(`${m.text()} ${m.location().url}`);
  });
  return errors;
}

/** A program to hand over to, with nothing in it yet. */
export async function addPlover(app: App): Promise<void> {
  const folder = join(app.folder, 'demo/programs/plover');
  if (existsSync(folder)) return;
  mkdirSync(join(folder, 'collection/lists'), { recursive: true });
  writeFileSync(join(folder, 'collection/tracks.jsonl'), '');
  await app.post('/destinations', { folder });
}

/** An empty stick, or a playout system, that lists go to by their names; its id. */
export async function addStick(app: App, names: readonly string[], player = 'oystercatcher'): Promise<number> {
  const folder = join(app.folder, player === 'oystercatcher' ? 'demo/sticks/Boat stick' : `demo/playout/${player}`);
  const there = (await app.get<{ id: number; folder: string }[]>('/sticks')).find((s) => s.folder === folder);
  if (there) return there.id;
  mkdirSync(folder, { recursive: true });
  const all = await app.get<ListLine[]>('/lists');
  const lists = all.filter((l) => l.kind === 'playlist' && names.includes(l.name)).map((l) => l.id);
  const wish = { folder, player, settings: { lists } };
  return (await app.post<{ id: number }>('/sticks', wish)).id;
}
