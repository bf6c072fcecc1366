/** `early-set relink`: finds missing files again without a database. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fingerprintWords } from '@early-set/core/analysis/fingerprint';
import type { FieldValue } from '@early-set/core/fields/values';
import type { Candidate, FileFacts } from '@early-set/core/relink/facts';
import { findAgain } from '@early-set/core/relink/findAgain';
import { readArguments } from './commandLine.ts';
import { reasonOf } from './files/reasons.ts';
import { kindOf } from './intake/kinds.ts';
import { walkFiles } from './intake/walk.ts';
import { fingerprintOf, packetHash, probe } from './media/decode.ts';
import { tagsOf } from './tagCommand.ts';

export const RELINK_HELP = `early-set relink MISSING.jsonl FOLDER… [--jsonl]

Looks in folders, and the folders in them, for files that are no longer where they were. MISSING.jsonl
holds the lines that "early-set measure FILE… --jsonl --fingerprint --hash --tags" printed when they
were there (with "size" in bytes, if it is known); - reads them from standard input. Nothing is
changed. Needs no database.

  --jsonl     one JSON object per missing file (this is the only form, and the default)

Fields of a line:
  file          as it was given
  found         the path of the file that it is now; null where nothing is sure enough
  by            same sound, byte for byte; name and size; sound; name and length; tags and length
  sure          0 to 1
  offsetSeconds by which its sound begins later than it did (negative: earlier)
  candidates    what else could be it: found, by, sure, offsetSeconds
  others        what looks like it and is not: file and why

No file is found twice. The exit code is 0 when all lines could be read, 1 when some could not, 2 when
it was called wrongly.
`;

interface RelinkArguments {
  file: string;
  folders: string[];
}

export function parseRelinkArguments(args: readonly string[]): RelinkArguments | string {
  const read = readArguments(args, { jsonl: { type: 'boolean' } });
  if (typeof read === 'string') return read;
  const [file, ...folders] = read.positionals;
  return file !== undefined && folders.length > 0 ? { file, folders } : 'A file of lines and a folder have to be named';
}

const textOf = (value: unknown): string =>
  Array.isArray(value) ? value.join('; ') : typeof value === 'string' ? value : '';
const numberOf = (value: unknown): number | null =>
  typeof value === 'number' && Number.isFinite(value) ? value : null;
const words = (base64: unknown): Uint32Array | null =>
  typeof base64 === 'string' && base64 ? fingerprintWords(Buffer.from(base64, 'base64')) : null;

/** A line as facts; a sentence where it is none. */
function lostOf(text: string): FileFacts | string {
  let line: Record<string, unknown> | null;
  try {
    line = JSON.parse(text) as Record<string, unknown> | null;
  } catch {
    return 'this is not JSON';
  }
  if (typeof line?.file !== 'string') return 'this names no file';
  const tags = (line.tags ?? {}) as Record<string, FieldValue>;
  return {
    path: line.file,
    size: numberOf(line.size),
    audioHash: typeof line.audioHash === 'string' ? line.audioHash : null,
    durationSeconds: numberOf(line.durationSeconds),
    artist: textOf(tags.artist),
    title: textOf(tags.title),
    version: textOf(tags.version),
    fingerprint: words(line.fingerprint),
  };
}

/** What is known of a file without measuring it; what cannot be read is not known. */
async function factsOf(path: string, size: number): Promise<FileFacts> {
  const nothing = (): null => null;
  let tags: Record<string, string | string[]> = {};
  try {
    tags = tagsOf(path);
  } catch {
    // It may be found all the same.
  }
  const [probed, audioHash, fingerprint] = await Promise.all([
    probe(path).catch(nothing),
    packetHash(path).catch(nothing),
    fingerprintOf(path).catch(nothing),
  ]);
  return {
    path,
    size,
    audioHash,
    durationSeconds: probed?.durationSeconds ?? null,
    artist: textOf(tags.artist),
    title: textOf(tags.title),
    version: textOf(tags.version),
    fingerprint: fingerprint && fingerprint.length > 0 ? fingerprintWords(fingerprint) : null,
  };
}

/** Does it; returns the exit code. */
export async function relinkCommand(
  { file, folders }: RelinkArguments,
  say: (text: string) => void,
  complain: (text: string) => void,
): Promise<number> {
  let texts: string[];
  try {
    texts = readFileSync(file === '-' ? 0 : file, 'utf8')
      .replace(/^\uFEFF/, '')
      .split(/\r?\n/);
  } catch (error) {
    complain(`${file}: ${reasonOf(error)}\n`);
    return 2;
  }
  const lost: FileFacts[] = [];
  let unread = 0;
  for (const [i, text] of texts.entries()) {
    if (!text.trim()) continue;
    const facts = lostOf(text);
    if (typeof facts !== 'string') lost.push(facts);
    else {
      complain(`line ${i + 1}: ${facts}\n`);
      unread++;
    }
  }
  const files: FileFacts[] = [];
  for (const folder of folders)
    try {
      for await (const found of walkFiles(folder, {
        obstacle: ({ path, reason }) => complain(`${join(folder, path)}: ${reason}\n`),
      }))
        if (kindOf(found.path).kind === 'audio') files.push(await factsOf(join(folder, found.path), found.size));
    } catch (error) {
      complain(`${folder}: ${reasonOf(error)}\n`);
      return 2;
    }
  const told = ({ at, by, sure, offsetSeconds }: Candidate): object => ({
    found: files[at]!.path,
    by,
    sure,
    offsetSeconds: Math.round(offsetSeconds * 1000) / 1000,
  });
  for (const [i, { found, candidates, others }] of findAgain(lost, files).entries())
    say(
      `${JSON.stringify({
        file: lost[i]!.path,
        ...(found ? told(found) : { found: null, by: null, sure: 0, offsetSeconds: 0 }),
        candidates: candidates.filter((c) => c.at !== found?.at).map(told),
        others: others.map(({ at, why }) => ({ file: files[at]!.path, why })),
      })}\n`,
    );
  return unread > 0 ? 1 : 0;
}
