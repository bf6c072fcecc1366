/** The command line: the same engine without a database. */
import { availableParallelism } from 'node:os';
import { beatsOf } from '@early-set/core/analysis/engine';
import { readArguments } from './commandLine.ts';
import type * as Commands from './commands.ts';
import { createAnalysisPool } from './media/analysisPool.ts';
import type { ThreadAnswer } from './media/analysisThread.ts';
import { packetHash } from './media/decode.ts';

/** What measures is called so on the page too; the second is its former name. */
const MEASURE = ['measure', 'analyse'];
const HELP = `early-set measure FILE… [--jsonl] [--beats] [--fingerprint] [--tags] [--hash] [--jobs N]

Measures audio files and prints one JSON line for each, in the order given. Needs no database.

  --jsonl     one JSON object per line (this is the only form, and the default)
  --beats     adds "beats": the times of all beats in seconds
  --fingerprint  adds "fingerprint": chromaprint words of the first two minutes, base64
  --tags      adds "tags": what the tags say, by field, such as title and artist
  --hash      adds "audioHash": SHA-256 of the packets of sound, whatever the tags say
  --jobs N    files measured at the same time (default: one per core)
  --help      this text

Fields of a line:
  file                 the path as given
  ok                   false when the file cannot be measured; then "error" says why
  durationSeconds      length of the decoded sound
  container, codec, bitrate (bit/s or null), sampleRate (Hz), channels
  bpm                  tempo, null where there is no beat
  tempoConfidence      0 to 1
  tempoSteady          true: one tempo from start to end; false: it drifts
  tempoSegments        where the tempo changes for good: start in seconds and BPM of each stretch, else empty
  beatsPerBar          2 in 6/8, else 3 or 4
  firstDownbeatSeconds first beat of the first bar
  key                  such as "A minor", null where nothing is pitched
  keyConfidence        0 to 1
  tuningCents          deviation from A = 440 Hz
  lufs                 integrated loudness, EBU R 128
  loudnessRangeLu      loudness range, EBU Tech 3342
  truePeakDbtp         true peak, ITU-R BS.1770
  energy               0 (still) to 100 (full)
  audibleStartSeconds, audibleEndSeconds
  introEndSeconds      where the full band enters, null without an intro
  outroStartSeconds    null without an outro
  segueSeconds         where the next track may come in
  ending               "fade", or "hard" for a cold end
  longestSilence       start and length in seconds of the longest silence inside, null under half a second
  sections             label, start and end in seconds, level from 0 to 1 beside the fullest
  bandwidthHz          where the spectrum ends
  soundsReencoded      true when it looks as if it had been through a lossy encoder before
  clippedRuns          stretches of flat tops
  mono, phaseCorrelation, dcOffset
  remarks              what is not as it should be, in sentences
  engine               version of the analysis

The exit code is 0 when the run itself worked, also when some files could not be measured;
2 when it was called wrongly.
`;

const rounded = (value: number | null, digits: number): number | null =>
  value === null || !Number.isFinite(value) ? null : Number(value.toFixed(digits));

/** One file's answer as the printed object. */
function lineOf(file: string, answer: ThreadAnswer, { beats }: Arguments): Record<string, unknown> {
  if (!answer.ok) return { file, ok: false, error: answer.reason };
  const { probed, result } = answer.analysed;
  const { tempo, key, loudness, edges, sound } = result;
  return {
    file,
    ok: true,
    durationSeconds: rounded(result.durationSeconds, 3),
    container: probed.container,
    codec: probed.codec,
    bitrate: probed.bitrate,
    sampleRate: probed.sampleRate,
    channels: probed.channels,
    bpm: rounded(tempo.bpm, 3),
    tempoConfidence: rounded(tempo.confidence, 3),
    tempoSteady: tempo.steady,
    tempoSegments: tempo.segments.map((s) => ({ startSeconds: rounded(s.startSeconds, 3), bpm: rounded(s.bpm, 3) })),
    beatsPerBar: tempo.beatsPerBar,
    ...(beats ? { beats: beatsOf(result).map((t) => rounded(t, 4)) } : {}),
    firstDownbeatSeconds: rounded(tempo.firstDownbeatSeconds, 4),
    key: key.key,
    keyConfidence: rounded(key.confidence, 3),
    tuningCents: rounded(key.tuningCents, 1),
    lufs: rounded(loudness.integratedLufs, 2),
    loudnessRangeLu: rounded(loudness.rangeLu, 2),
    truePeakDbtp: rounded(loudness.truePeakDbtp, 2),
    energy: result.energy.energy,
    audibleStartSeconds: rounded(edges.audibleStartSeconds, 2),
    audibleEndSeconds: rounded(edges.audibleEndSeconds, 2),
    introEndSeconds: rounded(edges.introEndSeconds, 2),
    outroStartSeconds: rounded(edges.outroStartSeconds, 2),
    segueSeconds: rounded(edges.segueSeconds, 2),
    ending: edges.ending,
    longestSilence: edges.longestSilence && {
      startSeconds: rounded(edges.longestSilence.startSeconds, 2),
      seconds: rounded(edges.longestSilence.seconds, 2),
    },
    sections: result.sections.map((s) => ({
      label: s.label,
      startSeconds: rounded(s.startSeconds, 2),
      endSeconds: rounded(s.endSeconds, 2),
      level: s.level,
    })),
    bandwidthHz: sound.bandwidthHz,
    soundsReencoded: sound.soundsReencoded,
    clippedRuns: sound.clippedRuns,
    mono: sound.mono,
    phaseCorrelation: sound.phaseCorrelation,
    dcOffset: sound.dcOffset,
    remarks: sound.remarks,
    ...(answer.analysed.fingerprint
      ? { fingerprint: Buffer.from(answer.analysed.fingerprint).toString('base64') }
      : {}),
    engine: result.engine,
  };
}

/** What was asked for besides measuring. Tags that cannot be read are none. */
async function besides(file: string, { ok }: ThreadAnswer, { tags, hash }: Arguments): Promise<object> {
  if (!ok) return {};
  const read = async (): Promise<object> => {
    const { tagsOf } = await commands();
    try {
      return tagsOf(file);
    } catch {
      return {};
    }
  };
  return { ...(tags ? { tags: await read() } : {}), ...(hash ? { audioHash: await packetHash(file) } : {}) };
}

interface Arguments {
  files: string[];
  beats: boolean;
  fingerprint: boolean;
  tags: boolean;
  hash: boolean;
  jobs: number;
}

function parse(args: string[]): Arguments | string {
  const read = readArguments(args, {
    jsonl: { type: 'boolean' },
    beats: { type: 'boolean', default: false },
    fingerprint: { type: 'boolean', default: false },
    tags: { type: 'boolean', default: false },
    hash: { type: 'boolean', default: false },
    jobs: { type: 'string' },
  });
  if (typeof read === 'string') return read;
  const jobs = Number(read.values.jobs ?? availableParallelism());
  if (!Number.isInteger(jobs) || jobs < 1 || jobs > 256) return '--jobs takes a whole number from 1 to 256';
  const { beats, fingerprint, tags, hash } = read.values;
  return read.positionals.length
    ? { files: read.positionals, beats, fingerprint, tags, hash, jobs }
    : 'No file was named';
}

/** What does more than measuring needs more: it is read only when it is asked for. */
const commands = (): Promise<typeof Commands> =>
  import(new URL('./commands.mjs', import.meta.url).href) as Promise<typeof Commands>;

/** Runs the command line; returns the exit code. */
export async function main(args: string[]): Promise<number> {
  const [command, ...rest] = args;
  if (!command || args.includes('--help') || command === 'help') {
    const { COMMANDS } = await commands();
    const helps = Object.fromEntries(Object.entries(COMMANDS).map(([name, { help }]) => [name, help]));
    process.stdout.write(helps[command ?? ''] ?? [HELP, ...Object.values(helps)].join('\n'));
    return command ? 0 : 2;
  }
  if (!MEASURE.includes(command)) {
    const { COMMANDS } = await commands();
    const own = Object.hasOwn(COMMANDS, command) ? COMMANDS[command] : undefined;
    const answer = own ? own.run(rest) : null;
    if (answer !== null && typeof answer !== 'string') return answer;
    const wrong = answer ?? `There is no command ${command}`;
    process.stderr.write(`${wrong}. See: early-set ${own ? `${command} ` : ''}--help\n`);
    return 2;
  }
  const parsed = parse(rest);
  if (typeof parsed === 'string') {
    process.stderr.write(`${parsed}. See: early-set --help\n`);
    return 2;
  }
  const pool = createAnalysisPool(
    new URL('./analysisThread.mjs', import.meta.url),
    Math.min(parsed.jobs, parsed.files.length),
  );
  try {
    // Started in order with a bounded lead, printed in order.
    const lead = parsed.jobs * 2;
    const started: Promise<ThreadAnswer>[] = [];
    const begin = (i: number): void => {
      const file = parsed.files[i];
      if (file === undefined) return;
      started[i] = pool.analyse(file, undefined, parsed.fingerprint).catch((error: unknown) => ({
        ok: false,
        reason: `The analysis failed: ${error instanceof Error ? error.message : String(error)}`,
      }));
    };
    for (let i = 0; i < lead; i++) begin(i);
    for (const [i, file] of parsed.files.entries()) {
      const answer = await started[i]!;
      delete started[i];
      begin(i + lead);
      await print(`${JSON.stringify({ ...lineOf(file, answer, parsed), ...(await besides(file, answer, parsed)) })}\n`);
    }
    return 0;
  } finally {
    await pool.close();
  }
}

/** Writes, waiting while the reader is behind. A reader that left ends the run quietly. */
function print(text: string): Promise<void> {
  return new Promise((resolve, reject) => {
    process.stdout.write(text, (error) => {
      if (!error) resolve();
      else if ((error as NodeJS.ErrnoException).code === 'EPIPE') process.exit(0);
      else reject(error);
    });
  });
}
