/** `node dist/standins/plover.mjs open|show|check|edit …`: see README.md. */
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { readData } from './data.ts';
import { makeEdits, type Edit } from './edits.ts';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    home: { type: 'string' },
    data: { type: 'string' },
    as: { type: 'string' },
    edits: { type: 'string' },
    at: { type: 'string' },
  },
});
const home = values.home ?? '.',
  data = values.data ?? join(home, 'collection'),
  lock = join(home, 'plover.lock');

/** Takes the lock, or says who has it. */
function takeLock(): void {
  try {
    writeFileSync(lock, JSON.stringify({ by: 'Plover', pid: process.pid }), { flag: 'wx' });
  } catch {
    const by = existsSync(lock) ? readFileSync(lock, 'utf8') : 'nobody';
    console.error(`The collection is in use: ${by}`);
    process.exit(1);
  }
}

switch (positionals[0]) {
  case 'open': {
    takeLock();
    const { tracks, lists } = readData(data);
    console.log(`Plover is open: ${tracks.length} tracks, ${lists.length} lists`);
    const close = (): void => {
      rmSync(lock, { force: true });
      process.exit(0);
    };
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, close);
    setInterval(() => undefined, 60_000);
    break;
  }
  case 'show': {
    const { tracks, lists } = readData(data);
    const titles = new Map(tracks.map((t) => [t.location, t.title ?? t.location]));
    const shown = lists.map(({ file, title, locations }) => ({
      file,
      title,
      tracks: locations.map((l) => titles.get(l)),
    }));
    console.log(JSON.stringify({ lists: shown, tracks }));
    break;
  }
  case 'check': {
    const { tracks, lists, refused } = readData(data);
    console.log(JSON.stringify({ tracks: tracks.length, lists: lists.length, refused }));
    process.exitCode = refused.length > 0 ? 1 : 0;
    break;
  }
  case 'edit': {
    takeLock();
    try {
      makeEdits(data, JSON.parse(values.edits ?? '[]') as Edit[], values.at ?? new Date().toISOString());
    } finally {
      rmSync(lock, { force: true });
    }
    break;
  }
  default:
    console.error('usage: plover open|show|check|edit --home H …');
    process.exitCode = 2;
}
