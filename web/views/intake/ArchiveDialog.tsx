/** What an archive holds, and unpacking it beside itself or into another folder. */
import { useState } from 'react';
import type { ArchiveEntry } from '@early-set/core/api/intake';
import type { FileRef } from '@early-set/core/files/fileRef';
import { folderOf } from '@early-set/core/files/paths';
import type { RootLine } from '@early-set/core/api/types';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useArchive, useRoots } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { bytes } from '../../ui/format.ts';
import { PlaceFields } from '../put/PlaceFields.tsx';
import { ReadGrid, type ReadColumn } from '../../ui/grid/ReadGrid.tsx';

const COLUMNS: ReadColumn<ArchiveEntry>[] = [
  {
    id: 'name',
    label: 'File',
    width: 240,
    grow: 1,
    value: (e) => e.name,
    cell: (e) => <span title={e.name}>{e.name}</span>,
  },
  {
    id: 'why',
    label: 'Unpacked',
    width: 200,
    grow: 0.8,
    value: (e) => e.why ?? '',
    cell: (e) => <span className={e.why ? 'text-sodium-text' : ''}>{e.why ?? 'yes'}</span>,
  },
  { id: 'size', label: 'Size', width: 84, figures: true, value: (e) => e.size, cell: (e) => bytes(e.size) },
];

interface Props {
  root: RootLine;
  /** Of the archive, below the folder; null while none is looked into. */
  path: string | null;
  onClose: () => void;
}

export function ArchiveDialog({ root, path, onClose }: Props) {
  const { data, error } = useArchive(root.id, path);
  const { data: roots = [] } = useRoots();
  const [into, setInto] = useState<{ of: string | null; ref: FileRef } | null>(null);
  const name = path?.split('/').at(-1) ?? '';
  const beside: FileRef = { rootId: root.id, path: folderOf(path ?? '').replace(/\/$/, '') };
  // What was chosen was for another archive.
  const place = into?.of === path ? into.ref : beside;
  const choose = (ref: FileRef): void => setInto({ of: path, ref });
  const unpack = (): void => {
    void perform(post(`/roots/${root.id}/archive`, { path, into: place }), `Unpacking ${name}`).then(
      (begun) => begun && onClose(),
    );
  };
  return (
    <Dialog
      open={path !== null}
      onClose={onClose}
      title={name}
      wide
      note={
        data && !data.trouble
          ? `${several(data.files, 'file')}, ${bytes(data.bytes)}, into a folder “${data.into.split('/').at(-1)}”. The archive stays as it is.`
          : undefined
      }
    >
      {error && (
        <p role="alert" className="text-flare">
          {error.message}
        </p>
      )}
      {data?.trouble && (
        <p role="alert" className="text-flare">
          Nothing can be unpacked: {data.trouble.toLowerCase()}.
        </p>
      )}
      {data && data.entries.length > 0 && (
        <div className="border border-line">
          <ReadGrid
            id="archive"
            label={`Files in ${name}`}
            rows={data.entries}
            columns={COLUMNS}
            idOf={(e) => e.name}
            tallest={320}
          />
        </div>
      )}
      {data && !data.trouble && (
        <div className="mt-3 flex flex-col gap-2">
          <PlaceFields
            roots={roots.filter((r) => !r.awaySince && r.purpose === 'library')}
            rootId={place.rootId}
            onRoot={(rootId) => choose({ rootId, path: rootId === root.id ? beside.path : '' })}
            path={place.path}
            onPath={(text) => choose({ ...place, path: text })}
          />
        </div>
      )}
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" disabled={!data || data.trouble !== null} onClick={unpack}>
          Unpack {data && !data.trouble ? several(data.files, 'file') : ''}
        </Button>
      </div>
    </Dialog>
  );
}
