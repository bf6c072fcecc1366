/** `early-set duplicates`: compares files with each other without a database. */
import { availableParallelism } from 'node:os';
import { fingerprintWords } from '@early-set/core/analysis/fingerprint';
import { pairsAmong, type Recording } from '@early-set/core/duplicates/among';
import { groupsOf } from '@early-set/core/duplicates/groups';
import { fold } from '@early-set/core/fields/fold';
import { readArguments } from './commandLine.ts';
import { createAnalysisPool, type AnalysisPool } from './media/analysisPool.ts';
import { tagsOf } from './tagCommand.ts';

export const DUPLICATES_HELP = `early-set duplicates FILE… [--jsonl] [--jobs N]

Measures audio files and says which of them are the same recording, which is cut short, and which are
other versions of it, by their sound over the whole length. Nothing is changed. Needs no database.

  --jsonl     one JSON object per group (this is the only form, and the default)
  --jobs N    files measured at the same time (default: one per core)

Fields of a line:
  kind           same bytes, same recording, cut short (one lacks more than 10 s), named apart (one
                 recording, named as two versions), kept apart (nothing would be proposed)
  version        of what is kept apart: edit, another version, same song (by its names only); else null
  files          each with offsetSeconds, by which it has to be moved to lie on the first
  reasons        each two that were compared: first, second, relation, offsetSeconds, and partsAt, where
                 on the first the two part

Files that are alone are in no group. The exit code is 0 when all files could be measured, 1 when some
could not (each is named), 2 when it was called wrongly.
`;

interface DuplicatesArguments {
  files: string[];
  jobs: number;
}

export function parseDuplicatesArguments(args: readonly string[]): DuplicatesArguments | string {
  const read = readArguments(args, { jsonl: { type: 'boolean' }, jobs: { type: 'string' } });
  if (typeof read === 'string') return read;
  const jobs = Number(read.values.jobs ?? availableParallelism());
  if (!Number.isInteger(jobs) || jobs < 1 || jobs > 256) return '--jobs takes a whole number from 1 to 256';
  return read.positionals.length >= 2 ? { files: read.positionals, jobs } : 'At least two files have to be named';
}

interface Measured extends Recording {
  file: string;
  version: string;
}

/** A file as it is compared; a sentence when it cannot be measured. */
async function measured(pool: AnalysisPool, file: string): Promise<Measured | string> {
  const answer = await pool.analyse(file, undefined, true).catch((error: unknown) => ({
    ok: false as const,
    reason: `The analysis failed: ${error instanceof Error ? error.message : String(error)}`,
  }));
  if (!answer.ok) return answer.reason;
  let tags: ReturnType<typeof tagsOf> = {};
  try {
    tags = tagsOf(file);
  } catch {
    // It is compared by its sound all the same.
  }
  const text = (field: string): string => fold([tags[field] ?? ''].flat().join('; '));
  const { result, fingerprint, audioHash } = answer.analysed;
  return {
    file,
    version: text('version'),
    names: text('artist') && text('title') ? `${text('artist')}\n${text('title')}` : '',
    audioHash,
    sound: { waveform: result.waveform, fingerprint: fingerprint && fingerprintWords(fingerprint) },
  };
}

const rounded = (seconds: number): number => Math.round(seconds * 1000) / 1000;

/** Does it; returns the exit code. @param threadFile the bundled analysisThread */
export async function duplicatesCommand(
  { files, jobs }: DuplicatesArguments,
  threadFile: URL,
  say: (text: string) => void,
  complain: (text: string) => void,
): Promise<number> {
  const pool = createAnalysisPool(threadFile, Math.min(jobs, files.length));
  const answers = await Promise.all(files.map((file) => measured(pool, file)));
  await pool.close();
  const recordings: Measured[] = [];
  for (const [i, answer] of answers.entries())
    if (typeof answer === 'string') complain(`${files[i]}: ${answer}\n`);
    else recordings.push(answer);
  const pairs = pairsAmong(recordings);
  const name = (at: number): string => recordings[at]!.file;
  for (const { kind, version, trackIds, offsets } of groupsOf(pairs, (at) => recordings[at]!.version)) {
    const own = pairs.filter((p) => trackIds.includes(p.first) && trackIds.includes(p.second));
    say(
      `${JSON.stringify({
        kind,
        version,
        files: trackIds.map((at, i) => ({ file: name(at), offsetSeconds: rounded(offsets[i]!) })),
        reasons: own.map(({ first, second, relation, offsetSeconds, partsAt }) => ({
          first: name(first),
          second: name(second),
          relation,
          offsetSeconds: rounded(offsetSeconds),
          partsAt: partsAt === null ? null : rounded(partsAt),
        })),
      })}\n`,
    );
  }
  return recordings.length < files.length ? 1 : 0;
}
