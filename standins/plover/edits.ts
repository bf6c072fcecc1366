/** What a person does in Plover. */
import { readData, removeList, writeList, writeTracks, type Playlist, type Track } from './data.ts';

export type Edit =
  | { op: 'play'; id: string; times: number; at: string }
  | { op: 'rate'; id: string; stars: number }
  | { op: 'key'; id: string; key: string }
  | { op: 'comment'; id: string; text: string }
  | { op: 'cue'; id: string; index: number; at: number; name?: string }
  | { op: 'list'; title: string; folder?: string; ids: string[] }
  | { op: 'order'; title: string; ids: string[] }
  | { op: 'remove'; title: string };

/** Makes edits one after the other; `at` stands as the time of each change. @throws for what is not there */
export function makeEdits(data: string, edits: readonly Edit[], at: string): void {
  const { tracks, lists } = readData(data);
  const track = (id: string): Track => {
    const found = tracks.find((t) => t.id === id || t.title === id);
    if (!found) throw new RangeError(`There is no track ${id}`);
    return found;
  };
  const list = (title: string): Playlist => {
    const found = lists.find((l) => l.title === title);
    if (!found) throw new RangeError(`There is no list ${title}`);
    return found;
  };
  const locations = (ids: readonly string[]): string[] => ids.map((id) => track(id).location);
  const change = (id: string, field: string, values: Partial<Track>): void => {
    const own = track(id);
    Object.assign(own, values, { changed: { ...own.changed, [field]: at } });
  };
  for (const edit of edits) {
    switch (edit.op) {
      case 'play':
        change(edit.id, 'timesUsed', { played: (track(edit.id).played ?? 0) + edit.times, lastPlayed: edit.at });
        break;
      case 'rate':
        change(edit.id, 'rating', { stars: edit.stars });
        break;
      case 'key':
        change(edit.id, 'key', { key: edit.key });
        break;
      case 'comment':
        change(edit.id, 'comment', { comment: edit.text });
        break;
      case 'cue': {
        const cues = [...(track(edit.id).cues ?? [])];
        cues[edit.index] = { ...cues[edit.index], at: edit.at, ...(edit.name ? { name: edit.name } : {}) };
        change(edit.id, 'cues', { cues });
        break;
      }
      case 'list': {
        const file = `${edit.folder ? `${edit.folder}/` : ''}${edit.title}.xspf`;
        const made = { file, title: edit.title, identifier: `urn:plover:own:${file}`, locations: locations(edit.ids) };
        lists.push(made);
        writeList(data, made);
        break;
      }
      case 'order': {
        const own = list(edit.title);
        own.locations = locations(edit.ids);
        writeList(data, own);
        break;
      }
      case 'remove':
        removeList(data, list(edit.title).file);
        break;
    }
  }
  writeTracks(data, tracks);
}
