/** `node dist/standins/dunlin.mjs open|show|check|edit …`: see README.md. */
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
  },
});
const home = values.home ?? '.',
  data = values.data ?? join(home, 'data'),
  lock = join(home, 'dunlin.lock');

/** Takes the lock, or says who has it. */
function takeLock(): void {
  try {
    writeFileSync(lock, JSON.stringify({ by: 'Dunlin', pid: process.pid }), { flag: 'wx' });
  } catch {
    const by = existsSync(lock) ? readFileSync(lock, 'utf8') : 'nobody';
    console.error(`The data are in use: ${by}`);
    process.exit(1);
  }
}

switch (positionals[0]) {
  case 'open': {
    takeLock();
    const { tracks, crates } = readData(data);
    console.log(`Dunlin is open: ${tracks.length} tracks, ${crates.length} crates`);
    const close = (): void => {
      rmSync(lock, { force: true });
      process.exit(0);
    };
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, close);
    setInterval(() => undefined, 60_000);
    break;
  }
  case 'show': {
    const { tracks, crates } = readData(data);
    console.log(JSON.stringify({ crates, tracks }));
    break;
  }
  case 'check': {
    const { tracks, crates, refused } = readData(data, values.as ?? data);
    console.log(JSON.stringify({ tracks: tracks.length, lists: crates.length, refused }));
    process.exitCode = refused.length > 0 ? 1 : 0;
    break;
  }
  case 'edit': {
    takeLock();
    try {
      makeEdits(data, JSON.parse(values.edits ?? '[]') as Edit[]);
    } finally {
      rmSync(lock, { force: true });
    }
    break;
  }
  default:
    console.error('usage: dunlin open|show|check|edit --home H …');
    process.exitCode = 2;
}
