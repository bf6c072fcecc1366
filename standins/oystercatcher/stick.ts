/** A stick as Oystercatcher sees it: what it shows, in its order, and what it refuses. */
import { readdirSync, readFileSync } from 'node:fs';
import { join, posix } from 'node:path';
import { soundOf, type Sound } from './sound.ts';

const MOST_FILES = 255,
  MOST_NAME = 64,
  MOST_PIXELS = 500;
const FORBIDDEN = /[\\/:*?"<>|]/;
const OTHER_SOUND = /\.(?:flac|wav|aif|aiff|ogg|oga|opus|wma|ape|wv|mp2|alac)$/i;

export interface Folder {
  /** '' is the stick itself. */
  folder: string;
  shows: { file: string; text: string }[];
  picture: boolean;
}
export interface List {
  file: string;
  entries: { file: string; text: string }[];
}
export interface Stick {
  folders: Folder[];
  lists: List[];
  /** As sentences, each with the file it is about. */
  refused: string[];
}

const sorted = (names: string[]): string[] =>
  names.sort((a, b) => (a.toUpperCase() < b.toUpperCase() ? -1 : a.toUpperCase() > b.toUpperCase() ? 1 : 0));
const textOf = (file: string, { title, artist }: Sound): string =>
  title ? (artist ? `${artist} - ${title}` : title) : posix.basename(file);

export function readStick(home: string): Stick {
  const stick: Stick = { folders: [], lists: [], refused: [] };
  const sounds = new Map<string, { file: string; sound: Sound }>();
  const lists: string[] = [];
  walk(home, '', stick, sounds, lists);
  for (const file of lists) stick.lists.push(readList(home, file, stick, sounds));
  return stick;
}

function walk(
  home: string,
  folder: string,
  stick: Stick,
  sounds: Map<string, { file: string; sound: Sound }>,
  lists: string[],
): void {
  const within = (name: string): string => (folder === '' ? name : `${folder}/${name}`);
  const entries = readdirSync(join(home, folder), { withFileTypes: true }).filter((e) => !e.name.startsWith('.'));
  const names = new Map<string, string>();
  const named = entries.filter(({ name }) => {
    const other = names.get(name.toUpperCase());
    const why =
      [...name].length > MOST_NAME
        ? `its name has ${[...name].length} characters`
        : FORBIDDEN.test(name) || /[. ]$/.test(name)
          ? 'its name cannot be on such a stick'
          : other !== undefined
            ? `${other} has the same name`
            : null;
    names.set(name.toUpperCase(), name);
    if (why) stick.refused.push(`${within(name)}: ${why}`);
    return why === null;
  });
  const files = sorted(named.filter((e) => e.isFile()).map((e) => e.name));
  for (const name of files.slice(MOST_FILES)) stick.refused.push(`${within(name)}: it is behind the 255th file`);
  const shown: Folder = { folder, shows: [], picture: false };
  for (const name of files.slice(0, MOST_FILES)) {
    const file = within(name);
    if (/\.m3u8?$/i.test(name)) {
      if (/\.m3u$/i.test(name)) stick.refused.push(`${file}: only .m3u8 lists are read`);
      else lists.push(file);
    } else if (name.toLowerCase() === 'folder.jpg') {
      const why = pictureTrouble(readFileSync(join(home, file)));
      if (why) stick.refused.push(`${file}: ${why}`);
      shown.picture = why === null;
    } else if (/\.(?:mp3|m4a)$/i.test(name) || OTHER_SOUND.test(name)) {
      const sound = soundOf(join(home, file));
      if (typeof sound === 'string') stick.refused.push(`${file}: ${sound}`);
      else {
        sounds.set(file.toUpperCase(), { file, sound });
        shown.shows.push({ file, text: textOf(file, sound) });
      }
    }
  }
  if (shown.shows.length > 0) stick.folders.push(shown);
  for (const name of sorted(named.filter((e) => e.isDirectory()).map((e) => e.name)))
    walk(home, within(name), stick, sounds, lists);
}

function readList(
  home: string,
  file: string,
  stick: Stick,
  sounds: ReadonlyMap<string, { file: string; sound: Sound }>,
): List {
  const bytes = readFileSync(join(home, file));
  const text = bytes.toString('utf8').replace(/^\uFEFF/, '');
  if (!Buffer.from(text).equals(bytes.subarray(bytes.length - Buffer.byteLength(text))))
    stick.refused.push(`${file}: it is not UTF-8`);
  const list: List = { file, entries: [] };
  let line: string | null = null;
  for (const row of text.split(/\r?\n/)) {
    const said = /^#EXTINF:[^,]*,(.*)$/.exec(row);
    if (said) line = said[1]!.trim();
    if (row === '' || row.startsWith('#')) continue;
    const at = posix.join(posix.dirname(file), row);
    const found = row.includes('\\') ? undefined : sounds.get(at.toUpperCase());
    if (!found) stick.refused.push(`${file}: ${row} is not there`);
    else list.entries.push({ file: found.file, text: line || textOf(found.file, found.sound) });
    line = null;
  }
  return list;
}

/** Walks the markers of a JPEG to the one that says how large it is. */
function pictureTrouble(b: Buffer): string | null {
  if (b[0] !== 0xff || b[1] !== 0xd8) return 'it is no JPEG';
  for (let at = 2; at + 9 < b.length && b[at] === 0xff;) {
    const marker = b[at + 1]!;
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)) {
      if (marker > 0xc0) return 'its JPEG is not baseline';
      const [height, width] = [b.readUInt16BE(at + 5), b.readUInt16BE(at + 7)];
      return Math.max(height, width) > MOST_PIXELS ? `it has ${width} × ${height} pixels` : null;
    }
    at += 2 + b.readUInt16BE(at + 2);
  }
  return 'its JPEG cannot be read';
}
