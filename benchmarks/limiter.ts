/**
 * Levelling with a ceiling for true peaks: 60 pieces of the demo (or BENCH_PIECES) and tones after EBU Tech 3341 are
 * brought to −23, −14 and, where it has to limit, −9 LUFS under −1 dBTP, by ours and by ffmpeg's loudnorm (two passes),
 * and what comes out is measured by one meter. The difference is what is left beside the source at its best gain.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { amplitudeOf, level, type LevelSetting, type LevelWish, type Measured } from '@early-set/core/level/level';
import { createLimiter } from '@early-set/core/level/limiter';
import { createLevelMeter } from '@early-set/core/level/meter';
import { percentile, table } from './table.ts';
import { loadTruth } from './truth.ts';

const RATE = 48000;
const PIECES = Number(process.env.BENCH_PIECES ?? 60);
const WISHES: readonly LevelWish[] = [-23, -14, -9].map((lufs) => ({ lufs, ceilingDbtp: -1 }));

type Sound = Float32Array[];

const ffmpeg = (args: readonly string[], input?: Buffer): { stdout: Buffer; stderr: string } => {
  const { stdout, stderr, status } = spawnSync('ffmpeg', ['-nostdin', '-hide_banner', ...args], {
    ...(input ? { input } : {}),
    maxBuffer: 1 << 30,
  });
  if (status !== 0) throw new Error(stderr.toString());
  return { stdout, stderr: stderr.toString() };
};
const RAW = ['-f', 'f32le', '-ar', String(RATE), '-ac', '2'];
const apart = (bytes: Buffer): Sound => {
  const woven = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
  return [0, 1].map((c) => Float32Array.from({ length: woven.length / 2 }, (_, i) => woven[2 * i + c]!));
};
const woven = ([left, right]: Sound): Buffer => {
  const out = new Float32Array(left!.length * 2);
  for (let i = 0; i < left!.length; i++) [out[2 * i], out[2 * i + 1]] = [left![i]!, right![i]!];
  return Buffer.from(out.buffer);
};
const measure = (sound: Sound): Measured => {
  const meter = createLevelMeter(RATE, 2);
  meter.push(sound);
  return meter.finish();
};

function limited(sound: Sound, { gainDb, ceilingDbtp }: LevelSetting): Sound {
  const ceiling = ceilingDbtp === null ? null : amplitudeOf(ceilingDbtp);
  const limiter = createLimiter({ sampleRate: RATE, channels: 2, gain: amplitudeOf(gainDb), ceiling });
  const [first, last] = [limiter.push(sound, sound[0]!.length), limiter.finish()];
  return first.map((samples, c) => {
    const whole = new Float32Array(samples.length + last[c]!.length);
    whole.set(samples);
    whole.set(last[c]!, samples.length);
    return whole;
  });
}

/** In decibels beside the source at the gain that fits best. */
function difference(source: Sound, made: Sound): number {
  let both = 0,
    own = 0;
  const length = Math.min(source[0]!.length, made[0]!.length);
  for (let c = 0; c < 2; c++)
    for (let i = 0; i < length; i++) {
      both += source[c]![i]! * made[c]![i]!;
      own += source[c]![i]! ** 2;
    }
  const gain = both / own;
  let rest = 0;
  for (let c = 0; c < 2; c++) for (let i = 0; i < length; i++) rest += (made[c]![i]! - gain * source[c]![i]!) ** 2;
  return 10 * Math.log10(Math.max(1e-14, rest / (gain * gain * own)));
}

async function ours(source: Sound, wish: LevelWish): Promise<Sound> {
  let last: { setting: LevelSetting; sound: Sound } | null = null;
  const { setting } = await level(measure(source), wish, (tried) => {
    last = { setting: tried, sound: limited(source, tried) };
    return Promise.resolve(measure(last.sound));
  });
  return last!.setting === setting ? last!.sound : limited(source, setting);
}

function theirs(file: string, { lufs, ceilingDbtp }: LevelWish): Sound {
  const wish = `loudnorm=I=${lufs}:TP=${ceilingDbtp}:LRA=20`;
  const { stderr } = ffmpeg([...RAW, '-i', file, '-af', `${wish}:print_format=json`, '-f', 'null', '-']);
  const said = JSON.parse(stderr.slice(stderr.lastIndexOf('{'), stderr.lastIndexOf('}') + 1)) as Record<string, string>;
  const known = `measured_I=${said.input_i}:measured_TP=${said.input_tp}:measured_LRA=${said.input_lra}:measured_thresh=${said.input_thresh}:offset=${said.target_offset}:linear=true`;
  return apart(ffmpeg([...RAW, '-i', file, '-af', `${wish}:${known}`, ...RAW, 'pipe:1']).stdout);
}

/** Tones that rise and fall between −40 and −6 dBFS, after Tech 3341's cases 3 to 5. */
const tones = [
  [-36, -23, -36],
  [-72, -36, -23, -36, -72],
  [-26, -20, -26],
  [-40, -6, -40],
].map((levels, n): [string, Sound] => {
  const samples = Float32Array.from({ length: levels.length * 5 * RATE }, (_, i) => {
    const own = levels[Math.floor(i / (5 * RATE))]!;
    return amplitudeOf(own) * Math.sin((2 * Math.PI * 1000 * i) / RATE);
  });
  return [`tones ${n + 1}`, [samples, samples]];
});

const folder = mkdtempSync(join(tmpdir(), 'early-set-bench-'));
const file = join(folder, 'sound.raw');
const pieces = loadTruth(process.argv[2]!)
  .slice(0, PIECES)
  .map(({ file: path }): [string, () => Sound] => [
    basename(path),
    () => apart(ffmpeg(['-i', path, '-map', '0:a:0', ...RAW, 'pipe:1']).stdout),
  ]);
const sets: [string, [string, () => Sound][]][] = [
  [`${pieces.length} pieces`, pieces],
  [`${tones.length} tones`, tones.map(([name, sound]) => [name, () => sound])],
];
const rows: string[][] = [];
for (const [what, sounds] of sets)
  for (const wish of WISHES) {
    const found = { ours: emptyFound(), loudnorm: emptyFound() };
    for (const [, read] of sounds) {
      const source = read();
      writeFileSync(file, woven(source));
      const ways: [keyof typeof found, () => Promise<Sound>][] = [
        ['ours', () => ours(source, wish)],
        ['loudnorm', () => Promise.resolve(theirs(file, wish))],
      ];
      for (const [way, make] of ways) {
        const begun = performance.now();
        const made = await make();
        const { integratedLufs, truePeakDbtp } = measure(made);
        const of = found[way];
        of.seconds += (performance.now() - begun) / 1000;
        of.off.push(Math.abs((integratedLufs ?? wish.lufs) - wish.lufs));
        of.peaks.push(truePeakDbtp);
        of.differences.push(difference(source, made));
      }
    }
    for (const [way, { off, peaks, differences, seconds }] of Object.entries(found))
      rows.push([
        ...[what, `${wish.lufs} LUFS`, way],
        ...[percentile(off, 0.5), Math.max(...off)].map((v) => v.toFixed(2)),
        `${off.filter((v) => v <= 0.1).length} of ${off.length}`,
        Math.max(...peaks).toFixed(2),
        `${peaks.filter((p) => p <= wish.ceilingDbtp).length} of ${peaks.length}`,
        ...[0.5, 0.95].map((p) => percentile(differences, p).toFixed(0)),
        `${seconds.toFixed(0)} s`,
      ]);
  }
rmSync(folder, { recursive: true });

function emptyFound(): { off: number[]; peaks: number[]; differences: number[]; seconds: number } {
  return { off: [], peaks: [], differences: [], seconds: 0 };
}
table(
  [
    ...['', 'wished', 'by', 'off by, LU, median', 'most', 'within 0.1'],
    ...['highest peak, dBTP', 'under the ceiling', 'difference, dB, median', '95 %', 'time'],
  ],
  rows,
);
