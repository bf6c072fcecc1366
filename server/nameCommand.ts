/** `early-set name`: where files would lie and what they would be called by a naming rule, without a database. */
import { existsSync } from 'node:fs';
import { relative, resolve, sep } from 'node:path';
import { nameTrouble, type FileRef } from '@early-set/core/files/fileRef';
import { namer, RuleError, type Wanted } from '@early-set/core/naming/naming';
import { planNames } from '@early-set/core/files/plan';
import {
  DEFAULT_NAME_OPTIONS,
  MAX_NAME_BYTES,
  MIN_NAME_BYTES,
  type NameOptions,
} from '@early-set/core/naming/safeNames';
import { readArguments } from './commandLine.ts';
import { reasonOf } from './files/reasons.ts';
import { tagsOf } from './tagCommand.ts';

export const NAME_HELP = `early-set name FILE… --rule TEMPLATE --dry-run [--into FOLDER] [--this-drive] [--plain-letters]
               [--articles-behind] [--max-bytes N]

Says where files would lie and what they would be called by a naming rule, from what their tags say.
Nothing is moved: that is done on the Disk page, where it can be undone. Needs no database.

  --rule T           a Liquid template of folders and name, without the ending, such as
                     "{{ artist }}/{{ album }}/{{ trackNumber | pad: 2 }} {{ title }}"
  --into FOLDER      the folder that the paths begin in (default: the current one)
  --this-drive       names that this computer's drives take (default: such as every drive takes)
  --plain-letters    without accents
  --articles-behind  "The Net Loft" becomes "Net Loft, The"
  --max-bytes N      of one name, its ending included (${MIN_NAME_BYTES} to ${MAX_NAME_BYTES}, default ${DEFAULT_NAME_OPTIONS.maxBytes})
  --dry-run          has to be there
  --jsonl            one JSON object per line (this is the only form, and the default)

Fields of a line:
  file      as it was given
  ok        false when nothing can be said of it; then "error" says why
  wanted    its path below the folder
  right     true when it lies there already
  numbered  true when another has or wants the name too
  taken     true when something lies there that was not named
  refused   what FAT and exFAT would refuse, as a sentence; null when they take it

The exit code is 0 when all could be named, 1 when some could not, 2 when it was called wrongly.
`;

interface NameArguments {
  files: string[];
  rule: string;
  into: string;
  options: NameOptions;
}

export function parseNameArguments(args: readonly string[]): NameArguments | string {
  const read = readArguments(args, {
    rule: { type: 'string' },
    into: { type: 'string', default: '.' },
    'this-drive': { type: 'boolean', default: false },
    'plain-letters': { type: 'boolean', default: false },
    'articles-behind': { type: 'boolean', default: false },
    'max-bytes': { type: 'string', default: String(DEFAULT_NAME_OPTIONS.maxBytes) },
    'dry-run': { type: 'boolean', default: false },
    jsonl: { type: 'boolean' },
  });
  if (typeof read === 'string') return read;
  const { values, positionals: files } = read;
  if (!values.rule) return 'A rule has to be given';
  if (!values['dry-run']) return 'Files are moved on the Disk page only; give --dry-run';
  if (files.length === 0) return 'No file was named';
  const maxBytes = Number(values['max-bytes']);
  if (!Number.isInteger(maxBytes) || maxBytes < MIN_NAME_BYTES || maxBytes > MAX_NAME_BYTES)
    return `--max-bytes takes a whole number from ${MIN_NAME_BYTES} to ${MAX_NAME_BYTES}`;
  const options: NameOptions = {
    drives: values['this-drive'] ? 'this drive' : 'any drive',
    accents: values['plain-letters'] ? 'plain letters' : 'keep',
    articlesBehind: values['articles-behind'],
    maxBytes,
  };
  return { files, rule: values.rule, into: values.into, options };
}

/** Files in the folder have its number, others one of their own. */
const INSIDE = 1,
  OUTSIDE = 2;

export function nameCommand(
  { files, rule, into, options }: NameArguments,
  say: (text: string) => void,
  complain: (text: string) => void,
): number {
  const line = (value: object): void => say(`${JSON.stringify(value)}\n`);
  const top = resolve(into);
  const refOf = (file: string): FileRef => {
    const path = relative(top, resolve(file)).split(sep).join('/');
    return path.startsWith('../') || path === '..'
      ? { rootId: OUTSIDE, path: resolve(file) }
      : { rootId: INSIDE, path };
  };
  let nameOf: ReturnType<typeof namer>;
  try {
    nameOf = namer({ rules: [{ id: 'rule', name: rule, where: null, on: true, template: rule }], options });
  } catch (error) {
    complain(`${(error as RuleError).message}\n`);
    return 2;
  }
  const wanted = files.map((file): Wanted => {
    try {
      return nameOf({ path: refOf(file).path, values: tagsOf(file), root: '', lists: [] });
    } catch (error) {
      return { trouble: error instanceof RuleError ? error.message : reasonOf(error) };
    }
  });
  const named = files.flatMap((file, i) => {
    const want = wanted[i]!;
    return 'path' in want ? [{ i, ref: refOf(file), wanted: { rootId: INSIDE, path: want.path } }] : [];
  });
  const plan = planNames(named);
  const moves = new Map(plan.moves.map((move) => [named[move.at]!.i, move]));
  const troubles = new Map(plan.troubles.map(({ at, why }) => [named[at]!.i, why]));
  const leaving = new Set(plan.moves.map(({ at }) => resolve(files[named[at]!.i]!)));
  let failed = false;
  files.forEach((file, i) => {
    const want = wanted[i]!;
    const error = 'trouble' in want ? want.trouble : troubles.get(i);
    if (error !== undefined) {
      failed = true;
      line({ file, ok: false, error });
      return;
    }
    const move = moves.get(i);
    const path = move?.to.path ?? refOf(file).path;
    const there = resolve(top, path);
    line({
      file,
      ok: true,
      wanted: path,
      right: move === undefined,
      numbered: move?.numbered ?? false,
      taken: move !== undefined && existsSync(there) && !leaving.has(there),
      refused: nameTrouble(path, 'vfat'),
    });
  });
  return failed ? 1 : 0;
}
