/**
 * "Sounds re-encoded": lossless pieces of the benchmark, as they are and made again from lossy copies of themselves.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { createAnalysisPool } from '../server/media/analysisPool.ts';
import { makePieces } from './makePieces.ts';
import { BENCH_PLAN } from './pieces/plan.ts';
import { percent, table } from './table.ts';
import { ffmpeg } from '../server/testing/ffmpeg.ts';

const LOSSY: [name: string, ending: string, args: string[]][] = [
  ['MP3 128', 'mp3', ['-b:a', '128k']],
  ['MP3 192', 'mp3', ['-b:a', '192k']],
  ['MP3 320', 'mp3', ['-b:a', '320k']],
  ['AAC 128', 'm4a', ['-b:a', '128k']],
  ['AAC 192', 'm4a', ['-b:a', '192k']],
  ['Vorbis q3', 'ogg', ['-c:a', 'libvorbis', '-q:a', '3']],
  ['Vorbis q6', 'ogg', ['-c:a', 'libvorbis', '-q:a', '6']],
  ['Opus 128', 'opus', ['-c:a', 'libopus', '-b:a', '128k']],
];

const folder = mkdtempSync(join(tmpdir(), 'early-set-sound-'));
const pool = createAnalysisPool(pathToFileURL(process.env.BENCH_THREAD!), 1);
const said = new Map<string, boolean[]>();
const judge = async (kind: string, file: string): Promise<void> => {
  const answer = await pool.analyse(file);
  if (answer.ok && answer.analysed.result.sound.soundsReencoded !== null)
    said.set(kind, [...(said.get(kind) ?? []), answer.analysed.result.sound.soundsReencoded]);
};
try {
  const lossless = (await makePieces(process.env.BENCH_CACHE!, BENCH_PLAN)).filter((p) => p.file.endsWith('.flac'));
  for (const [i, piece] of lossless.entries()) {
    const own = join(folder, 'own.flac'),
      back = join(folder, 'back.flac');
    ffmpeg('-t', '40', '-i', piece.file, own);
    await judge('never lossy', own);
    for (const k of [i, i + 3, i + 5]) {
      const [name, ending, args] = LOSSY[k % LOSSY.length]!;
      ffmpeg('-i', own, ...args, join(folder, `lossy.${ending}`));
      ffmpeg('-i', join(folder, `lossy.${ending}`), '-ar', '44100', '-sample_fmt', 's16', back);
      await judge(name, back);
    }
  }
} finally {
  await pool.close();
  rmSync(folder, { recursive: true, force: true });
}
console.log('FLAC files said to sound re-encoded, by what they were made from\n');
const rows = [...said].map(([kind, answers]) => [
  kind,
  answers.length,
  percent(answers.filter(Boolean).length, answers.length),
]);
const lossy = [...said].filter(([kind]) => kind !== 'never lossy').flatMap(([, answers]) => answers);
table(
  ['made from', 'files', 'said so'],
  [...rows, ['all lossy', lossy.length, percent(lossy.filter(Boolean).length, lossy.length)]],
);
