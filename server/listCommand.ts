/** `early-set list`: turns a list file of one format into one of another without a database. */
import { readFileSync, writeSync } from 'node:fs';
import { basename, dirname, extname, resolve } from 'node:path';
import { DEFAULT_LINE, TemplateError } from '@early-set/core/exchange/line';
import {
  LIST_FORMATS,
  LIST_FORMAT_IDS,
  lossesOf,
  type ListedEntry,
  type ListedTrack,
  type ListFormatId,
  type ReadList,
} from '@early-set/core/exchange/listFile';
import { isAbsolute, isWebAddress, mapped } from '@early-set/core/exchange/locations';
import { readList } from '@early-set/core/exchange/readList';
import { writeList } from '@early-set/core/exchange/writeList';
import { nameOf } from '@early-set/core/files/paths';
import { readArguments } from './commandLine.ts';
import { reasonOf } from './files/reasons.ts';
import { writeListWorkbook } from './lists/workbook.ts';

const TARGETS = [...LIST_FORMAT_IDS, 'xlsx'] as const;
type Target = (typeof TARGETS)[number];
const WORKBOOK = { label: 'XLSX', holds: LIST_FORMATS.csv.holds };

export const LIST_HELP = `early-set list FILE --to FORMAT [--paths relative|absolute] [--map FROM TO]… [--line TEMPLATE]

Reads a list (M3U, M3U8, PLS, XSPF, JSPF, CSV, TSV, CUE sheet, or lines of text "artist - title") and
prints it in another format. What FILE is, is told by what is in it. Needs no database.

  --to FORMAT    ${TARGETS.join(', ')}
  --paths HOW    absolute (the default) or relative to the folder of FILE
  --map FROM TO  paths that begin with FROM begin with TO instead; may be repeated, the first that fits counts
  --line TEXT    Liquid template of the text of a line, with title, artist, album, path, number

Relative paths in FILE are taken from its folder. On standard error: each line that could not be used, and
what FORMAT has no place for. The exit code is 0 when everything was used, 1 when some lines were not,
2 when it was called wrongly or FILE cannot be read.
`;

interface ListArguments {
  file: string;
  to: Target;
  paths: 'absolute' | 'relative';
  maps: [from: string, to: string][];
  line: string;
}

/** `--map FROM TO` has two values, which the parser does not know. */
function takeMaps(args: readonly string[]): { maps: [string, string][]; rest: string[] } | string {
  const maps: [string, string][] = [],
    rest: string[] = [];
  for (let i = 0; i < args.length; i++) {
    if (args[i] !== '--map') rest.push(args[i]!);
    else {
      const [from, to] = [args[++i], args[++i]];
      if (!from || to === undefined) return '--map takes FROM and TO';
      maps.push([from, to]);
    }
  }
  return { maps, rest };
}

export function parseListArguments(args: readonly string[]): ListArguments | string {
  const taken = takeMaps(args);
  if (typeof taken === 'string') return taken;
  const read = readArguments(taken.rest, {
    to: { type: 'string' },
    paths: { type: 'string', default: 'absolute' },
    line: { type: 'string', default: DEFAULT_LINE },
  });
  if (typeof read === 'string') return read;
  const { to, paths, line } = read.values;
  if (!to) return `--to takes one of ${TARGETS.join(', ')}`;
  if (!(TARGETS as readonly string[]).includes(to)) return `There is no format "${to}"`;
  if (paths !== 'absolute' && paths !== 'relative') return '--paths takes absolute or relative';
  if (read.positionals.length !== 1) return 'One file has to be named';
  return { file: read.positionals[0]!, to: to as Target, paths, maps: taken.maps, line };
}

/** An entry as it is written; without a path it has none to be written, without a title it is called as its file. */
function trackOf(entry: ListedEntry, number: number, folder: string, maps: ListArguments['maps']): ListedTrack {
  const { location } = entry;
  const whole =
    location === null || isAbsolute(location) || isWebAddress(location) ? (location ?? '') : resolve(folder, location);
  const path = isWebAddress(whole) ? whole : mapped(whole, maps);
  return {
    path,
    durationSeconds: entry.seconds,
    title: entry.title ?? nameOf(path),
    artist: entry.artist ?? '',
    album: entry.album ?? '',
    fields: { number },
  };
}

/** Formats that are nothing without a path. */
const needsPath = (to: Target): boolean => ['m3u8', 'pls', 'cue'].includes(to);

/** Does it; returns the exit code. */
export async function listCommand(
  { file, to, paths, maps, line }: ListArguments,
  complain: (text: string) => void,
  say: (content: string | Uint8Array) => void = (content) => {
    const bytes = Buffer.from(content as Uint8Array);
    for (let at = 0; at < bytes.length;) at += writeSync(1, bytes, at);
  },
): Promise<number> {
  let list: ReadList;
  try {
    list = readList(readFileSync(file), extname(file).slice(1));
  } catch (error) {
    complain(`${file}: ${reasonOf(error)}\n`);
    return 2;
  }
  const problems = [...list.problems];
  const usable = list.entries.filter((e) => {
    if (e.location !== null || !needsPath(to)) return true;
    problems.push({ line: null, reason: `"${[e.artist, e.title].filter(Boolean).join(' - ')}" has no path` });
    return false;
  });
  for (const { line: at, reason } of problems) complain(`${file}${at === null ? '' : `, line ${at}`}: ${reason}\n`);
  const format = to === 'xlsx' ? WORKBOOK : LIST_FORMATS[to];
  for (const loss of lossesOf(usable, list.name, format)) complain(`${loss}\n`);
  const folder = resolve(dirname(file));
  const tracks = usable.map((entry, i) => trackOf(entry, i + 1, folder, maps));
  const options = { paths, folder, name: list.name ?? basename(file, extname(file)), line };
  try {
    say(to === 'xlsx' ? await writeListWorkbook(tracks, options) : writeList(tracks, to as ListFormatId, options));
  } catch (error) {
    if (!(error instanceof TemplateError)) throw error;
    complain(`${error.message}\n`);
    return 2;
  }
  return problems.length > 0 ? 1 : 0;
}
