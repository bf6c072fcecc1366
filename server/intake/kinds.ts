/** What a file is by its name, and why it is not taken when it is not music. */

import type { CompanionKind } from '../library/companions.ts';

const AUDIO = new Set([
  'mp3',
  'mp2',
  'flac',
  'ogg',
  'oga',
  'opus',
  'm4a',
  'm4b',
  'aac',
  'mp4',
  'wav',
  'wave',
  'aif',
  'aiff',
  'aifc',
  'wma',
  'ape',
  'wv',
  'mpc',
  'tta',
  'caf',
  'mka',
  'webm',
  'dsf',
  'ac3',
  'amr',
  'au',
]);
/** What is taken for its sound, and kept as a video. */
const VIDEO = new Set(['mkv', 'avi', 'mov', 'm4v', 'mpg', 'mpeg', 'wmv']);
const COVER = /^(cover|folder|front|album)\.(jpe?g|png|webp)$/i;

const GRAPHICS = /\.cdg$/i;
const GRAPHICS_ALONE = 'Karaoke graphics; no music of the same name lies beside them';
const CUE_SHEET = /\.cue$/i;

/** What a file beside music is to it, by its name; null for what is nothing to it. */
export function companionKind(path: string): CompanionKind | null {
  if (GRAPHICS.test(path)) return 'karaoke graphics';
  if (CUE_SHEET.test(path)) return 'cue sheet';
  return kindOf(path).kind === 'cover' ? 'folder picture' : null;
}

const OTHERS: [RegExp, string][] = [
  [/\.(zip|rar|7z|tar|gz)$/i, 'An archive; unpack it first'],
  [/\.(part|crdownload|tmp)$/i, 'An unfinished download'],
  [/\.(m3u8?|pls|xspf|cue)$/i, 'A list, not music'],
  [/\.(jpe?g|png|gif|webp|bmp|pdf)$/i, 'A picture or document, not music'],
  [/\.(txt|nfo|md|log|csv|html?|docx?|url)$/i, 'Text, not music'],
  [GRAPHICS, GRAPHICS_ALONE],
];

/** Is it a video, as its name tells? Others are told by what is in them. */
export const isVideo = (path: string): boolean => VIDEO.has(path.slice(path.lastIndexOf('.') + 1).toLowerCase());

export type FileKind = { kind: 'audio' } | { kind: 'cover' } | { kind: 'other'; reason: string };

/** Sorts a file by its name. */
export function kindOf(path: string): FileKind {
  const name = path.slice(path.lastIndexOf('/') + 1);
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  if (name.includes('.') && (AUDIO.has(ending) || VIDEO.has(ending))) return { kind: 'audio' };
  if (COVER.test(name)) return { kind: 'cover' };
  return { kind: 'other', reason: OTHERS.find(([pattern]) => pattern.test(name))?.[1] ?? 'Not music' };
}
