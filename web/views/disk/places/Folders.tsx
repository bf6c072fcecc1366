/** What is out of place, as folders before and after, or by album: each count opens its files. */
import { useMemo } from 'react';
import type { OutOfPlaceLine } from '@early-set/core/api/disk';
import { Button } from '../../../ui/Button.tsx';
import { FolderTree } from '../../../ui/FolderTree.tsx';
import { ReadGrid, type ReadColumn } from '../../../ui/grid/ReadGrid.tsx';
import { albumsOf, foldersOn, isOf, type AlbumCount, type Only, type Side } from './only.ts';
import type { Placing } from './usePlacing.ts';

interface Props {
  lines: readonly OutOfPlaceLine[];
  placing: Placing;
  onOpen: (only: Only) => void;
}

const SIDES: readonly [Side, string, string][] = [
  ['now', 'Now', 'Files that would leave each folder.'],
  ['wanted', 'By the rule', 'Files that would come into each folder.'],
];

export function Folders({ lines, placing, onOpen }: Props) {
  const drafted = lines.filter(placing.inDraft);
  return (
    <div className="grid min-h-0 flex-1 grid-cols-2 overflow-y-auto">
      {SIDES.map(([side, title, note]) => (
        <section key={side} aria-label={title} className="border-r border-line p-3.5 last:border-0">
          <h2 className="heading text-[16px]">{title}</h2>
          <p className="mb-2 text-small text-dim">{note}</p>
          <Tree lines={drafted} side={side} onOpen={onOpen} />
        </section>
      ))}
    </div>
  );
}

function Tree({ lines, side, onOpen }: { lines: readonly OutOfPlaceLine[]; side: Side; onOpen: Props['onOpen'] }) {
  const folders = useMemo(() => foldersOn(lines, side), [lines, side]);
  return (
    <FolderTree
      folders={folders}
      chosen={null}
      unfolded={folders.length <= 40}
      onChoose={(_, node) => onOpen({ folder: node.ref, side })}
    />
  );
}

export function Albums({ lines, placing, onOpen }: Props) {
  const albums = albumsOf(lines, placing.inDraft);
  const columns: ReadColumn<AlbumCount>[] = [
    {
      id: 'album',
      label: 'Album',
      width: 220,
      grow: 1,
      value: (a) => a.album,
      cell: (a) => a.album || <span className="text-dim">no album</span>,
    },
    { id: 'files', label: 'Out of place', width: 96, figures: true, value: (a) => a.files },
    { id: 'drafted', label: 'In the draft', width: 90, figures: true, value: (a) => a.drafted },
    {
      id: 'do',
      label: '',
      width: 190,
      value: () => null,
      cell: (a) => (
        <span className="flex gap-2">
          <Button kind="link" aria-label={`Show the files of ${a.album || 'no album'}`} onClick={() => onOpen(a)}>
            Show
          </Button>
          <Button
            kind="link"
            aria-label={`${a.drafted > 0 ? 'Leave' : 'Put'} ${a.album || 'no album'} ${a.drafted > 0 ? 'where it is' : 'into the draft'}`}
            onClick={() =>
              placing.put(
                lines.filter((l) => isOf(l, a)),
                a.drafted === 0,
              )
            }
          >
            {a.drafted > 0 ? 'Leave where it is' : 'Put into the draft'}
          </Button>
        </span>
      ),
    },
  ];
  return (
    <div className="min-h-0 flex-1 overflow-y-auto p-3.5">
      <ReadGrid
        id="place-albums"
        label="Albums with files out of place"
        rows={albums}
        columns={columns}
        idOf={(a) => a.album}
        tallest={600}
        onOpen={onOpen}
      />
    </div>
  );
}
