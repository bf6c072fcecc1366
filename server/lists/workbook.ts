/** A list as a workbook for people (XLSX). */
import type { ListedTrack, WriteOptions } from '@early-set/core/exchange/listFile';
import { locationOf } from '@early-set/core/exchange/locations';
import { oneLine } from '@early-set/core/exchange/text';

/** Names of sheets are short and without some characters. */
export const sheetName = (name: string): string =>
  [...name.replace(/[\\/*?:[\]]/g, ' ')].slice(0, 31).join('').trim() || 'List';

export async function writeListWorkbook(tracks: readonly ListedTrack[], options: WriteOptions): Promise<Uint8Array> {
  const { default: exceljs } = await import('exceljs'); // slow to load
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet(sheetName(options.name), { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.columns = [
    { header: 'No.', key: 'number', width: 6 },
    { header: 'Artist', key: 'artist', width: 30 },
    { header: 'Title', key: 'title', width: 40 },
    { header: 'Album', key: 'album', width: 30 },
    { header: 'Seconds', key: 'seconds', width: 10 },
    { header: 'Path', key: 'path', width: 60 },
  ];
  sheet.getRow(1).font = { bold: true };
  for (const [i, track] of tracks.entries())
    sheet.addRow({
      number: i + 1,
      artist: oneLine(track.artist),
      title: oneLine(track.title),
      album: oneLine(track.album),
      seconds: track.durationSeconds === null ? null : Math.round(track.durationSeconds),
      path: locationOf(track, options),
    });
  return new Uint8Array(await book.xlsx.writeBuffer());
}
