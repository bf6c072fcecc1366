/** Lists read in whichever format they are. */
import { readCue } from './formats/cue.ts';
import { readJspf } from './formats/jspf.ts';
import { readM3u } from './formats/m3u.ts';
import { readPls } from './formats/pls.ts';
import { readTable } from './formats/table.ts';
import { readText } from './formats/text.ts';
import { readXspf } from './formats/xspf.ts';
import type { ReadList } from './listFile.ts';
import { decodeList } from './text.ts';

const READERS: Record<string, (text: string) => ReadList> = {
  m3u: readM3u,
  m3u8: readM3u,
  pls: readPls,
  xspf: readXspf,
  jspf: readJspf,
  csv: readTable,
  tsv: readTable,
  cue: readCue,
  txt: readText,
};

/** What a text is by how it begins; null when it could be anything. */
function formatOf(text: string): string | null {
  const start = text
    .replace(/^\uFEFF/, '')
    .slice(0, 4000)
    .trimStart();
  if (/^#EXTM3U/i.test(start)) return 'm3u';
  if (/^\[playlist\]/i.test(start)) return 'pls';
  if (/^<(?:\?xml|(?:\w+:)?playlist\b)/i.test(start)) return 'xspf';
  if (/^\{\s*"playlist"/.test(start)) return 'jspf';
  if (/^(?:REM .*\s+)*(?:FILE|PERFORMER|TITLE|CATALOG) /m.test(start) && /^\s*TRACK \d+ AUDIO/im.test(start))
    return 'cue';
  return null;
}

/**
 * Reads a list file. What it is, is told by how it begins, then by its ending, since others name files wrongly.
 * @param ending without its dot
 */
export function readList(content: Uint8Array | string, ending: string): ReadList {
  const text = typeof content === 'string' ? content : decodeList(content);
  const format = formatOf(text) ?? ending.toLowerCase();
  return (READERS[format] ?? readText)(text);
}
