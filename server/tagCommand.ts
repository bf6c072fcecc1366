/** `early-set tag`: shows and changes the tags of files without a database. */
import { readFileSync } from 'node:fs';
import { fieldsIn, openTags, pictureIn, TAG_FIELDS, type Picture, type TagEdits } from '@early-set/core/tags/edit';
import { readArguments } from './commandLine.ts';
import { reasonOf } from './files/reasons.ts';
import { withSource, type Written } from './files/tagFile.ts';
import { takeBack, writeTagsKept } from './files/tagUndo.ts';

export const TAG_HELP = `early-set tag FILE… --show [--json]
early-set tag FILE… [--set FIELD=VALUE]… [--remove FIELD]… [--picture IMAGE] [--remove picture] [--new-file]
    [--dry-run] [--json]
early-set tag FILE… --undo [--new-file] [--dry-run] [--json]

Shows or changes the tags of files; the sound stays as it is, byte for byte, and so does every
tag that was not named. Needs no database.

  --show          what the tags hold (the default when nothing is to change)
  --set F=V       a new value; several values by repeating (--set artist=A --set artist=B)
  --remove F      takes a field out
  --picture FILE  a JPEG or PNG as front cover
  --id3 3|4       version of ID3v2 for files that have none yet (default 4); others keep theirs
  --undo          restores, byte for byte, what the latest change replaced; again: the one before
  --new-file      where a file has other names (hard links) and the tag does not fit in place: writes a
                  new file under this name; the others keep the old one
  --dry-run       says what would be done, and does nothing
  --json          one JSON object per line

Fields: ${TAG_FIELDS.map((f) => f.id)
  .join(', ')
  .replace(/(.{60,80}?), /g, '$1,\n        ')}

The exit code is 0 when every file was done, 1 when some could not be, 2 when it was called wrongly.
`;

interface TagArguments {
  files: string[];
  edits: TagEdits;
  undo: boolean;
  show: boolean;
  json: boolean;
  dryRun: boolean;
  part: boolean;
  newId3Version: 3 | 4;
}

/** Reads the arguments; a sentence when they make no sense. */
export function parseTagArguments(args: readonly string[]): TagArguments | string {
  const read = readArguments(args, {
    show: { type: 'boolean', default: false },
    json: { type: 'boolean', default: false },
    undo: { type: 'boolean', default: false },
    'new-file': { type: 'boolean', default: false },
    'dry-run': { type: 'boolean', default: false },
    set: { type: 'string', multiple: true },
    remove: { type: 'string', multiple: true },
    picture: { type: 'string' },
    id3: { type: 'string', default: '4' },
  });
  if (typeof read === 'string') return read;
  const { show, json, undo, id3 } = read.values;
  const edits = editsOf(read.tokens.flatMap((t) => (t.kind === 'option' ? [[t.name, t.value ?? '']] : [])));
  if (typeof edits === 'string') return edits;
  if (id3 !== '3' && id3 !== '4') return '--id3 takes 3 or 4';
  if (read.positionals.length === 0) return 'No file was named';
  const nothing = Object.keys(edits.fields).length === 0 && edits.picture === undefined;
  if (undo && !nothing) return '--undo goes without --set, --remove and --picture';
  return {
    files: read.positionals,
    edits,
    undo,
    show: show || (nothing && !undo),
    json,
    dryRun: read.values['dry-run'],
    part: read.values['new-file'],
    newId3Version: id3 === '3' ? 3 : 4,
  };
}

/** What the options say in their order, as the later ones count. */
function editsOf(options: readonly string[][]): TagEdits | string {
  const fields: Record<string, string[]> = {};
  let picture: Picture | null | undefined;
  const known = (id: string): boolean => TAG_FIELDS.some((f) => f.id === id);
  for (const [name, value] of options as [string, string][]) {
    if (name === 'set') {
      const [, id, text] = /^([^=]+)=([\s\S]*)$/.exec(value) ?? [];
      if (id === undefined || text === undefined) return '--set takes FIELD=VALUE';
      if (!known(id)) return `There is no field "${id}" in tags`;
      (fields[id] ??= []).push(text);
    } else if (name === 'remove') {
      if (value === 'picture') picture = null;
      else if (known(value)) fields[value] = [];
      else return `There is no field "${value}" in tags`;
    } else if (name === 'picture') {
      const read = readPicture(value);
      if (typeof read === 'string') return read;
      picture = read;
    }
  }
  return { fields, ...(picture === undefined ? {} : { picture }) };
}

function readPicture(path: string): Picture | string {
  let data: Uint8Array;
  try {
    data = readFileSync(path);
  } catch {
    return `The picture ${path} cannot be read`;
  }
  if (data[0] === 0xff && data[1] === 0xd8) return { mime: 'image/jpeg', data };
  if (data[0] === 0x89 && data[1] === 0x50) return { mime: 'image/png', data };
  return `The picture ${path} is neither JPEG nor PNG`;
}

/**
 * Does it; returns the exit code.
 * @param undoFolder where what takes changes back is kept
 */
export function tagCommand(
  { files, edits, undo, show, json, dryRun, part, newId3Version }: TagArguments,
  undoFolder: string,
  say: (text: string) => void,
): number {
  const changes = Object.keys(edits.fields).length > 0 || edits.picture !== undefined;
  let failed = 0;
  for (const file of files) {
    try {
      const written = undo
        ? takeBack(undoFolder, file, { dryRun, part })
        : changes
          ? writeTagsKept(undoFolder, file, edits, { newId3Version, dryRun, part })
          : null;
      say(
        json
          ? `${JSON.stringify({ file, ok: true, ...(written ? { ...written, dryRun } : {}), ...(show ? shown(file) : {}) })}\n`
          : inWords(file, written, show, dryRun),
      );
    } catch (error) {
      failed++;
      const reason = reasonOf(error);
      say(json ? `${JSON.stringify({ file, ok: false, error: reason })}\n` : `${file}: ${reason}\n`);
    }
  }
  return failed ? 1 : 0;
}

/** What the tags of a file say, by field; several values as a list. */
export const tagsOf = (file: string): Record<string, string | string[]> => shown(file).fields;

function shown(file: string): {
  container: string;
  tags: string[];
  fields: Record<string, string | string[]>;
  picture: { mime: string; bytes: number } | null;
} {
  return withSource(file, (source) => {
    const container = openTags(source);
    const picture = pictureIn(container);
    return {
      container: container.label,
      tags: container.sets.map((s) => s.label),
      fields: Object.fromEntries(
        Object.entries(fieldsIn(container)).map(([id, texts]) => [id, texts.length === 1 ? texts[0]! : texts]),
      ),
      picture: picture && { mime: picture.mime, bytes: picture.data.length },
    };
  });
}

function inWords(file: string, written: Written | null, show: boolean, dryRun: boolean): string {
  const lines: string[] = [];
  if (written)
    lines.push(
      `${file}: ${!written.changed ? 'nothing to change' : dryRun ? `would be ${written.inPlace ? 'changed in place' : 'written anew'}` : written.inPlace ? 'changed in place' : 'written anew'}`,
    );
  if (show) {
    const { container, tags, fields, picture } = shown(file);
    lines.push(`${file}: ${container}, ${tags.join(', ')}`);
    for (const [id, text] of Object.entries(fields))
      lines.push(`  ${id.padEnd(16)} ${Array.isArray(text) ? text.join('; ') : text}`);
    if (picture) lines.push(`  ${'picture'.padEnd(16)} ${picture.mime}, ${picture.bytes} bytes`);
  }
  return `${lines.join('\n')}\n`;
}
