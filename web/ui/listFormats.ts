/** Formats of lists in words. */
import type { ListFormatId } from '@early-set/core/exchange/listFile';

export const FORMATS: Record<ListFormatId, { mime: string; words: string }> = {
  m3u8: { mime: 'audio/x-mpegurl', words: 'played nearly everywhere' },
  xspf: { mime: 'application/xspf+xml', words: 'with more about each track' },
  pls: { mime: 'audio/x-scpls', words: 'for older players' },
  jspf: { mime: 'application/json', words: 'XSPF as JSON' },
  csv: { mime: 'text/csv', words: 'a row per track, commas between' },
  tsv: { mime: 'text/tab-separated-values', words: 'a row per track, tabs between' },
  cue: { mime: 'application/x-cue', words: 'a file per track' },
  txt: { mime: 'text/plain', words: 'a line per track' },
  html: { mime: 'text/html', words: 'a page to print or send' },
};
export const XLSX_WORDS = 'a row per track';
