/** Makes what the pool offers: its music, a short piece of each, and the two files that say what there is. */
import { existsSync } from 'node:fs';
import { mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { runFfmpeg } from './encode.ts';
import type { Truth } from './produce.ts';
import type { PlannedTrack } from './scenario/plan.ts';
import { POOL, POOL_LISTS } from './scenario/pool.ts';

/** So long is what can be listened to, and from where in a track it is. */
const PREVIEW = { from: 15, seconds: 20 };

/** Makes what is not there yet. @param produce makes a track below the folder */
export async function makePool(
  folder: string,
  produce: (plan: PlannedTrack, name: string) => Promise<Truth>,
): Promise<void> {
  if (existsSync(join(folder, 'tracks.jsonl'))) return;
  await mkdir(join(folder, 'previews'), { recursive: true });
  const lines = await Promise.all(
    POOL.map(async (plan) => {
      const { id, added, path } = plan;
      const { lengthSeconds } = await produce(plan, `pool-${id}`);
      const preview = `${id}.mp3`,
        cut = join(folder, 'previews', preview);
      const { from, seconds } = PREVIEW;
      await runFfmpeg([
        ...['-ss', String(from), '-t', String(seconds), '-i', join(folder, path), '-map_metadata', '-1', '-vn'],
        ...['-c:a', 'libmp3lame', '-b:a', '96k', '-f', 'mp3', `${cut}.new`],
      ]);
      await rename(`${cut}.new`, cut);
      const { version, genre, year, bpm, key, metadata } = plan;
      return {
        // As the tags say it, with all marks.
        ...{ id, title: metadata.title, version: version || null, label: null, genre, year },
        artists: metadata.artist ? metadata.artist.split('; ') : [],
        ...{
          bpm: Math.round(bpm),
          key,
          seconds: Math.round(lengthSeconds),
          added,
          file: path.split('/').at(-1),
          preview,
        },
      };
    }),
  );
  const whole = async (name: string, all: readonly object[]): Promise<void> => {
    await writeFile(join(folder, `${name}.new`), all.map((line) => `${JSON.stringify(line)}\n`).join(''));
    await rename(join(folder, `${name}.new`), join(folder, name));
  };
  await whole('lists.jsonl', POOL_LISTS);
  await whole('tracks.jsonl', lines);
}
