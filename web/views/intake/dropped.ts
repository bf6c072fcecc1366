/** Files out of a drop, folders walked through. */
export interface DroppedFile {
  file: File;
  /** Path below what was dropped. */ path: string;
}

const readAll = (reader: FileSystemDirectoryReader): Promise<FileSystemEntry[]> =>
  new Promise((resolve, reject) => {
    const all: FileSystemEntry[] = [];
    const more = (): void =>
      reader.readEntries((batch) => {
        if (batch.length === 0) resolve(all);
        else {
          all.push(...batch);
          more();
        }
      }, reject);
    more();
  });

async function walk(entry: FileSystemEntry, folder: string): Promise<DroppedFile[]> {
  const path = folder ? `${folder}/${entry.name}` : entry.name;
  if (entry.isFile)
    return [
      {
        file: await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject)),
        path,
      },
    ];
  const children = await readAll((entry as FileSystemDirectoryEntry).createReader());
  return (await Promise.all(children.map((c) => walk(c, path)))).flat();
}

/** All files of a drop. */
export async function droppedFiles(transfer: DataTransfer): Promise<DroppedFile[]> {
  const entries = [...transfer.items].map((i) => i.webkitGetAsEntry()).filter((e): e is FileSystemEntry => e !== null);
  if (entries.length === 0) return [...transfer.files].map((file) => ({ file, path: file.name }));
  return (await Promise.all(entries.map((e) => walk(e, '')))).flat();
}
