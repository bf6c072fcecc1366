/** Several lists at once: as one zip, or into a folder of a root; each in the folders of the crates it lies in. */
import { ZipArchive } from 'archiver';
import type { Readable } from 'node:stream';
import type { ExportWish, ListLine } from '@early-set/core/api/types';
import { safeFileName } from '@early-set/core/files/paths';
import type { Database } from '../db/database.ts';
import { noteGiven } from '../library/trackFiles.ts';
import { exportList, exportWorkbook } from './export.ts';
import type { ListWriter } from './listPool.ts';
import { allLists } from './lists.ts';

export type SeveralFormat = ExportWish['format'] | 'xlsx';
export type SeveralWish = Omit<ExportWish, 'format'> & { listIds: string[]; format: SeveralFormat };

/** The crates that a list lies in, from the top, as folders. */
function foldersOf(list: ListLine, lists: readonly ListLine[]): string[] {
  const folders: string[] = [];
  for (let at = list.parentId; at !== null && folders.length < 100;) {
    const parent = lists.find((l) => l.id === at);
    if (!parent) break;
    folders.unshift(safeFileName(parent.name));
    at = parent.parentId;
  }
  return folders;
}

/** A path that no other list has, whatever a file system makes of capitals. */
function freeName(folders: readonly string[], fileName: string, taken: Set<string>): string {
  const [, stem = fileName, ending = ''] = /^(.*?)(\.[^.]*)?$/.exec(fileName) ?? [];
  for (let n = 1; ; n++) {
    const path = [...folders, n === 1 ? fileName : `${stem} (${n})${ending}`].join('/');
    if (taken.has(path.toLowerCase())) continue;
    taken.add(path.toLowerCase());
    return path;
  }
}

/** A zip of lists that is made as it is read. @throws Problem when one is not there, or the template is bad */
export async function zipOfLists(
  database: Database,
  write: ListWriter,
  { listIds, format, ...wish }: SeveralWish,
): Promise<Readable> {
  const lists = await allLists(database);
  const zip = new ZipArchive({ zlib: { level: 6 } });
  const taken = new Set<string>();
  for (const id of listIds) {
    const made =
      format === 'xlsx'
        ? await exportWorkbook(database, write, id, { ...wish, format: 'csv' })
        : await exportList(database, write, id, { ...wish, format });
    const content = 'bytes' in made ? Buffer.from(made.bytes) : Buffer.from(made.text, 'utf8');
    const list = lists.find((l) => l.id === id)!;
    zip.append(content, { name: freeName(foldersOf(list, lists), made.fileName, taken) });
    await noteGiven(database, made.trackIds, `download of ${made.fileName}`, id);
  }
  void zip.finalize();
  return zip;
}
