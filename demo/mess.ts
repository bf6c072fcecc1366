/** What lies around a real collection besides good tracks. */
import { copyFile, mkdir, readFile, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { runFfmpeg } from './encode.ts';
import { drawCover } from './scenario/pictures.ts';
import { seeded } from './synth/random.ts';

async function put(root: string, path: string, content: string | Uint8Array): Promise<void> {
  const target = join(root, path);
  await mkdir(dirname(target), { recursive: true });
  await writeFile(target, content);
}

/** Files that are not music, or not any more. Needs no track to be there. */
export async function makeMess(root: string): Promise<void> {
  const random = seeded(98);
  const bytes = (n: number): Uint8Array => Uint8Array.from({ length: n }, () => Math.floor(random() * 256));
  await put(
    root,
    'Radio/running order tuesday.txt',
    'Tuesday breakfast\n07:00 tide times\n07:04 Ada Thole - Winter Coat\n',
  );
  await put(root, 'Inbox/empty download.mp3', '');
  await put(root, 'Inbox/broken_transfer.flac', bytes(20000));
  await put(root, 'Inbox/slipway flyer.mp3', await drawCover(12, 200));
  await put(root, 'Inbox/spring pack.zip', Buffer.concat([Buffer.from('PK\u0003\u0004', 'latin1'), bytes(4000)]));
  await put(root, 'Inbox/spring pack.part', bytes(3000));
  await put(root, 'Radio/Playlist/folder.jpg', await drawCover(77));
  await put(
    root,
    'Old drive/Moved 2019/old crate.m3u',
    '#EXTM3U\r\nD:\\Musik\\Soul\\Tar Barrel - Odd Harbour.mp3\r\nD:\\Musik\\Soul\\Gone Since - Odd Harbour.mp3\r\n',
  );
  await put(root, 'Radio/Karaoke/Harbour Sing-Along.cdg', bytes(7200));
}

/** Files made from tracks that are there: other bit rates, re-encodings, a cut-off copy, a karaoke pair, loops. */
export async function makeDoubles(root: string, staging: string): Promise<void> {
  const from = (path: string): string => join(root, path);
  const convert = async (source: string, target: string, args: string[]): Promise<void> => {
    const ending = target.slice(target.lastIndexOf('.'));
    await runFfmpeg([
      '-i',
      from(source),
      '-map',
      '0:a',
      '-map_metadata',
      '0',
      '-fflags',
      '+bitexact',
      ...args,
      `${staging}${ending}`,
    ]);
    await mkdir(dirname(from(target)), { recursive: true });
    await copyFile(`${staging}${ending}`, from(target));
  };
  await convert('Crates/House/Odette Kassar - Slack Water (Boathouse Mix).flac', 'Old drive/Slack Water.mp3', [
    '-c:a',
    'libmp3lame',
    '-b:a',
    '128k',
  ]);
  await convert('Crates/House/Keel Nine - Oilskin Lamps (Extended).mp3', 'Old drive/oilskin lamps copy.mp3', [
    '-c:a',
    'libmp3lame',
    '-b:a',
    '192k',
  ]);
  // A lossless file made from a lossy one.
  await convert('Old drive/Slack Water.mp3', 'Old drive/Slack Water (lossless).flac', [
    '-c:a',
    'flac',
    '-sample_fmt',
    's16',
  ]);
  await convert('Radio/Playlist/Mabel Orr - Three Hulls.mp3', 'Radio/Karaoke/Harbour Sing-Along.mp3', [
    '-c:a',
    'libmp3lame',
    '-b:a',
    '160k',
  ]);
  for (const [i, start] of [12, 20, 28].entries()) {
    await convert('Crates/Techno/Marrow & Pine - Dragline.mp3', `Loops and samples/dragline loop ${i + 1}.wav`, [
      '-ss',
      String(start),
      '-t',
      '3.6',
      '-c:a',
      'pcm_s16le',
      '-map_metadata',
      '-1',
    ]);
  }
  const whole = await readFile(from('Crates/House/Keel Nine - Parallel Rule.mp3'));
  await put(root, 'Inbox/Keel Nine - Parallel Rule (cut off).mp3', whole.subarray(0, Math.floor(whole.length * 0.3)));
}
