/** Adding the chosen tracks to a crate or playlist: type a name, choose, or make a new one. */
import { Command as Cmdk } from 'cmdk';
import { useState } from 'react';
import type { Applied, Selection } from '@early-set/core/api/types';
import { fold, searchWords } from '@early-set/core/fields/fold';
import { change, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useLists } from '../../../data/hooks.ts';
import { filledByHand, pathOf } from '../../../data/listTree.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { Dialog } from '../../../ui/Dialog.tsx';

export interface Adding {
  selection: Selection;
  count: number;
  sort: string | null;
  descending: boolean;
}

const NO_RECENT: string[] = [];

/** A new list comes behind every list whose name fits. */
const NEW_SCORE = 0.01;

/** How well a list fits what is typed: 0 where name and path lack a word, most where the name begins with it. */
function likeness(name: string, path: string, typed: string): number {
  const folded = fold(name),
    within = `${fold(path)}\n${folded}`,
    words = searchWords(typed);
  if (!words.every((w) => within.includes(w))) return 0;
  return folded.startsWith(fold(typed.trim())) ? 1 : 0.5;
}

export function AddToList({ adding, onClose }: { adding: Adding | null; onClose: () => void }) {
  const { data: lists = [] } = useLists();
  const [name, setName] = useState('');
  const [replacing, setReplacing] = useState(false);
  const [recent, setRecent] = useRemembered<string[]>('recent-lists', NO_RECENT);
  const open = filledByHand(lists);
  const ordered = [...open].sort((a, b) => (recent.indexOf(a.id) + 1 || 99) - (recent.indexOf(b.id) + 1 || 99));
  const typed = name.trim();
  const close = (): void => {
    setName('');
    setReplacing(false);
    onClose();
  };
  const body = adding && { selection: adding.selection, sort: adding.sort, descending: adding.descending };
  const addTo = (id: string): void => {
    setRecent([id, ...recent.filter((r) => r !== id)].slice(0, 8));
    close();
    void change(post<Applied>(`/lists/${id}/${replacing ? 'replace' : 'entries'}`, body));
  };
  const make = (kind: 'crate' | 'playlist'): void => {
    close();
    void change(
      post<Applied & { listId: string }>('/lists', {
        kind,
        name: typed,
        ...body,
      }),
    ).then((made) => {
      if (made) setRecent([made.listId, ...recent].slice(0, 8));
    });
  };
  const item = 'flex cursor-default items-center gap-3 px-2 py-1.5 data-[selected=true]:bg-chosen';
  return (
    <Dialog open={adding !== null} onClose={close} title={adding ? `Add ${several(adding.count, 'track')} to` : ''}>
      <Cmdk
        label="Crates and playlists"
        filter={(_, search, [listName, path = ''] = []) =>
          listName === undefined ? NEW_SCORE : likeness(listName, path, search)
        }
      >
        <Cmdk.Input
          value={name}
          onValueChange={setName}
          placeholder="Name of a list, there or new"
          className="mb-2 w-full rounded-xs border border-line bg-sheet px-2.5 py-1.5"
        />
        <label className="mb-2 flex items-center gap-1.5 text-small">
          <input
            type="checkbox"
            checked={replacing}
            onChange={(e) => setReplacing(e.target.checked)}
            className="accent-ink"
          />
          Replace what is in the list
        </label>
        <Cmdk.List className="max-h-[46vh] overflow-auto">
          {ordered.map((l) => (
            <Cmdk.Item
              key={l.id}
              value={l.id}
              keywords={[l.name, pathOf(l, lists)]}
              onSelect={() => addTo(l.id)}
              className={item}
            >
              <ListName name={l.name} path={pathOf(l, lists)} />
              <span className="text-tiny text-dim">{l.kind}</span>
              <span className="figures w-[64px] text-right text-small text-dim">
                {replacing && l.tracks > 0 ? `${l.tracks} go` : l.tracks}
              </span>
            </Cmdk.Item>
          ))}
          <Cmdk.Item
            forceMount
            value="new playlist"
            onSelect={() => make('playlist')}
            className={`${item} border-t border-hair text-buoy-text`}
          >
            New playlist{typed ? <b className="truncate">“{typed}”</b> : ', named after what it holds'}
          </Cmdk.Item>
          <Cmdk.Item forceMount value="new crate" onSelect={() => make('crate')} className={`${item} text-buoy-text`}>
            New crate{typed ? <b className="truncate">“{typed}”</b> : ', named after what it holds'}
          </Cmdk.Item>
        </Cmdk.List>
      </Cmdk>
    </Dialog>
  );
}

/** The name, and before it the crates that it lies in. */
export function ListName({ name, path }: { name: string; path: string }) {
  return (
    <span className="min-w-0 flex-1 truncate" title={path ? `${path} / ${name}` : name}>
      {path && <span className="text-dim">{path} / </span>}
      {name}
    </span>
  );
}
