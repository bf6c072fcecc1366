/** Exports in a thread of their own: what takes too long is ended, and nobody else waits. */
import { afterAll, expect, test } from '@jest/globals';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { ListedTrack } from '@early-set/core/exchange/listFile';
import { createListPool } from './listPool.ts';

const pool = createListPool(pathToFileURL(join(process.cwd(), 'dist/server/listThread.mjs')));
afterAll(() => pool.close());

const track = (n: number): ListedTrack => ({
  path: `/music/${n}.flac`,
  durationSeconds: 200,
  title: `Lamp ${n}`,
  artist: 'Keel Nine',
  album: '',
  fields: { number: n },
});
const tracks = Array.from({ length: 20_000 }, (_, n) => track(n + 1));
const options = { paths: 'absolute', folder: '/', name: 'Long', line: '{{ number }} {{ title }}' } as const;
const SLOW = '{% for a in (1..9000) %}{{ a | times: 3 | divided_by: 7 }}{% endfor %}';

test('text and workbooks come back as they are', async () => {
  const write = pool.export();
  expect(await write({ tracks: tracks.slice(0, 2), format: 'txt', options })).toBe('1 Lamp 1\n2 Lamp 2\n');
  const book = await write({ tracks: tracks.slice(0, 2), format: 'xlsx', options });
  expect(Buffer.from(book.slice(0, 2)).toString()).toBe('PK');
});

test('the time of a whole export ends; others turn meanwhile; the next export has time of its own', async () => {
  let turns = 0;
  const turning = setInterval(() => turns++, 10);
  const write = pool.export(700);
  await expect(write({ tracks, format: 'txt', options: { ...options, line: SLOW } })).rejects.toMatchObject({
    code: 'too-slow',
  });
  clearInterval(turning);
  expect(turns).toBeGreaterThan(10);
  await expect(write({ tracks: tracks.slice(0, 1), format: 'txt', options })).rejects.toMatchObject({
    code: 'too-slow',
  });
  expect(await pool.export()({ tracks: tracks.slice(0, 1), format: 'txt', options })).toBe('1 Lamp 1\n');
});

test('a template that cannot be used is refused with its sentence', async () => {
  const wish = {
    tracks: tracks.slice(0, 1),
    format: 'txt' as const,
    options: { ...options, line: '{{ x | nosuch }}' },
  };
  await expect(pool.export()(wish)).rejects.toMatchObject({ code: 'bad-template' });
  await expect(pool.export()({ tracks, format: 'txt', options: { ...options, line: SLOW } })).rejects.toMatchObject({
    message: /takes too long for so many/,
  });
});
