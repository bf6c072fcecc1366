/** Lists written in any of the formats that are text. */
import { writeCue } from './formats/cue.ts';
import { writeHtml } from './formats/html.ts';
import { writeJspf } from './formats/jspf.ts';
import { writeM3u8 } from './formats/m3u.ts';
import { writePls } from './formats/pls.ts';
import { writeTable } from './formats/table.ts';
import { writeText } from './formats/text.ts';
import { writeXspf } from './formats/xspf.ts';
import type { ListedTrack, ListFormatId, WriteOptions } from './listFile.ts';

const WRITERS: Record<ListFormatId, (tracks: readonly ListedTrack[], options: WriteOptions) => string> = {
  m3u8: writeM3u8,
  xspf: writeXspf,
  pls: writePls,
  jspf: writeJspf,
  csv: (tracks, options) => writeTable(tracks, options, ','),
  tsv: (tracks, options) => writeTable(tracks, options, '\t'),
  cue: writeCue,
  txt: writeText,
  html: writeHtml,
};

/** Writes a list as text. @throws TemplateError for a bad line template. */
export const writeList = (tracks: readonly ListedTrack[], format: ListFormatId, options: WriteOptions): string =>
  WRITERS[format](tracks, options);
