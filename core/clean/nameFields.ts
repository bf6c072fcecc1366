/** What names of files and folders say, field by field. */
import { type KnownNames } from './known.ts';
import { nameParts } from './nameParts.ts';

import { folderOf } from './fileNames.ts';
import type { Meaning } from './nameGroup.ts';

/** What one name says, field by field. Texts get the spelling that the library knows. */
export function fieldsOfName(
  parts: readonly string[],
  pattern: readonly Meaning[],
  known: KnownNames,
): Record<string, string | number> {
  const out: Record<string, string | number> = {};
  parts.forEach((text, i) => {
    switch (pattern[i]) {
      case 'trackNumber': {
        if (/^\d+$/.test(text)) out.trackNumber = Number(text);
        break;
      }
      case 'discAndTrack': {
        const [disc, track] = (/^\d{3}$/.test(text) ? [text[0]!, text.slice(1)] : (text.match(/\d+/g) ?? [])).map(
          Number,
        );
        if (disc && track) {
          out.discNumber = disc;
          out.trackNumber = track;
        } else if (/^\d{1,2}$/.test(text)) out.trackNumber = Number(text); // beside others that have a disc
        break;
      }
      case 'year':
        out.year = Number(text);
        break;
      case 'artist':
      case 'albumArtist':
        out[pattern[i]] = known.spelling(text) ?? text;
        break;
      case 'title':
      case 'album':
      case 'version':
      case 'label':
      case 'catalogueNumber':
        out[pattern[i]] = text;
        break;
      default:
    }
  });
  return out;
}

/** What the folders above a file say: "Artist - Album", or "Artist/Album" when the library knows the artist. */
export function fieldsOfFolder(path: string, known: KnownNames): Record<string, string | number> {
  const names = folderOf(path).split('/').filter(Boolean),
    last = names.at(-1);
  if (last === undefined) return {};
  const parts = nameParts(last, 'strict'),
    texts = parts.filter((p) => p.shape === 'text'),
    year = parts.find((p) => p.shape === 'year');
  const dated: Record<string, number> = year && texts.length ? { year: Number(year.text) } : {};
  const catalogue = parts.find((p) => p.shape === 'catalogue');
  const coded: Record<string, string> = catalogue && texts.length ? { catalogueNumber: catalogue.text } : {};
  if (texts.length >= 2)
    return {
      albumArtist: known.spelling(texts[0]!.text) ?? texts[0]!.text,
      album: texts
        .slice(1)
        .map((p) => p.text)
        .join(' - '),
      ...dated,
      ...coded,
    };
  const above = names.at(-2);
  return texts.length === 1 && above !== undefined && known.has(above)
    ? { albumArtist: known.spelling(above)!, album: texts[0]!.text, ...dated, ...coded }
    : {};
}
