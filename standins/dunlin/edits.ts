/** What a person does in Dunlin. */
import { readData, writeCrates, writeTracks, type Crate, type Row } from './data.ts';

export type Edit =
  | { op: 'play'; id: string; times: number }
  | { op: 'rate'; id: string; rating: number }
  | { op: 'key'; id: string; key: string }
  | { op: 'comment'; id: string; text: string }
  | { op: 'cover'; id: string; file: string }
  | { op: 'crate'; name: string; parent?: string; ids: string[] }
  | { op: 'fill'; name: string; ids: string[] }
  | { op: 'remove'; name: string };

/** Makes edits one after the other. Tracks are named by path or title. @throws for what is not there */
export function makeEdits(data: string, edits: readonly Edit[]): void {
  const { columns, tracks, crates } = readData(data);
  const track = (id: string): Row => {
    const found = tracks.find((t) => t.path === id || t.title === id);
    if (!found) throw new RangeError(`There is no track ${id}`);
    return found;
  };
  const crate = (name: string): Crate => {
    const found = crates.find((c) => c.name === name);
    if (!found) throw new RangeError(`There is no crate ${name}`);
    return found;
  };
  const paths = (ids: readonly string[]): string[] => ids.map((id) => track(id).path!);
  for (const edit of edits) {
    switch (edit.op) {
      case 'play':
        track(edit.id).plays = String(Number(track(edit.id).plays || 0) + edit.times);
        break;
      case 'rate':
        track(edit.id).rating = String(edit.rating);
        break;
      case 'key':
        track(edit.id).key = edit.key;
        break;
      case 'comment':
        track(edit.id).comment = edit.text;
        break;
      case 'cover':
        track(edit.id).cover = edit.file;
        if (!columns.includes('cover')) columns.push('cover');
        break;
      case 'crate':
        crates.push({
          id: `own${crates.length + 1}`,
          parent: edit.parent === undefined ? null : crate(edit.parent).id,
          name: edit.name,
          tracks: paths(edit.ids),
        });
        break;
      case 'fill':
        crate(edit.name).tracks = paths(edit.ids);
        break;
      case 'remove':
        crates.splice(crates.indexOf(crate(edit.name)), 1);
        break;
    }
  }
  writeTracks(data, columns, tracks);
  writeCrates(data, crates);
}
