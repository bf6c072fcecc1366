/** Chosen tracks' files moved or copied into a folder: what that means, and what it would do. */
import { useState } from 'react';
import type { PutLook } from '@early-set/core/api/disk';
import type { Applied, Selection } from '@early-set/core/api/types';
import type { FileRef } from '@early-set/core/files/fileRef';
import type { PutNames, PutWish } from '@early-set/core/files/put';
import { change, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { usePutLook, useRoots } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { bytes } from '../../ui/format.ts';
import { INPUT } from '../../ui/form/fields.tsx';
import { Segmented } from '../../ui/Segmented.tsx';
import { NamesField, PlaceFields } from './PlaceFields.tsx';

interface Props {
  /** Null: closed. */
  selection: Selection | null;
  /** Whose files they are: "5 tracks", "the playlist Late". */
  whose: string;
  /** The folder that is put as a whole; null where it is files. */
  folder?: FileRef | null;
  onClose: () => void;
}

export function PutDialog({ selection, whose, folder = null, onClose }: Props) {
  return (
    <Dialog
      open={selection !== null}
      onClose={onClose}
      title={folder ? 'Move, rename or copy a folder' : 'Move or copy files'}
      note={`The files of ${whose}. Nothing is overwritten, and it can be undone.`}
    >
      {selection && <PutForm selection={selection} folder={folder} onClose={onClose} />}
    </Dialog>
  );
}

const MEANING: Record<PutWish['mode'], string> = {
  move: 'The files lie there afterwards. Lists, cues and history follow.',
  copy: 'The tracks keep their files; copies are made beside them, which are no tracks of their own.',
};
const VERB: Record<PutWish['mode'], string> = { move: 'Move', copy: 'Copy' };

interface FormProps {
  selection: Selection;
  folder: FileRef | null;
  onClose: () => void;
}

function PutForm({ selection, folder, onClose }: FormProps) {
  const { data: roots = [] } = useRoots();
  const [mode, setMode] = useState<PutWish['mode']>('move');
  const [taken, setTaken] = useState<PutWish['taken']>('keep both');
  const [names, setNames] = useState<PutNames>(folder ? 'with folders' : 'own');
  const [rootId, setRootId] = useState<number | null>(folder?.rootId ?? null);
  const [path, setPath] = useState(folder?.path ?? '');
  const [busy, setBusy] = useState(false);
  const there = roots.filter((r) => !r.awaySince);
  const into = rootId ?? there[0]?.id ?? null;
  const below = folder?.path ?? '';
  const wish = into === null ? null : { selection, mode, taken, names, below, into: { rootId: into, path } };
  const { data: look, error } = usePutLook(wish);
  const tooLarge = look?.free !== null && look !== undefined && look.bytes > look.free;
  const put = async (): Promise<void> => {
    setBusy(true);
    const done = await change(
      post<Applied>('/disk/put', wish!),
      `${several(look!.files, 'file')} ${mode === 'move' ? 'moved' : 'copied'}`,
    ).finally(() => setBusy(false));
    if (done) onClose();
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (look && look.files > 0 && !tooLarge) void put();
      }}
    >
      <div>
        <Segmented
          label="Move or copy"
          value={mode}
          onChoose={setMode}
          choices={[
            ['move', 'Move'],
            ['copy', 'Copy'],
          ]}
        />
        <p className="mt-1 text-small text-dim">{MEANING[mode]}</p>
      </div>
      <PlaceFields
        roots={there}
        rootId={into}
        onRoot={setRootId}
        path={path}
        onPath={setPath}
        {...(folder ? { pathLabel: 'Its new path' } : {})}
      />
      {!folder && <NamesField names={names} onNames={setNames} />}
      <label className="flex items-center gap-2">
        <span className="w-[110px] shrink-0">Where a name is taken</span>
        <select
          value={taken}
          onChange={(e) => setTaken(e.target.value as PutWish['taken'])}
          aria-label="Where a name is taken"
          className={INPUT}
        >
          <option value="keep both">keep both, with a number</option>
          <option value="skip">leave the file where it is</option>
        </select>
      </label>
      <p role="status" className={`min-h-[34px] ${error || tooLarge ? 'text-flare' : 'text-dim'}`}>
        {error ? error.message : look ? lookWords(look, mode, tooLarge) : 'Looking…'}
      </p>
      {look && look.given.length > 0 && (
        <p className="text-small text-sodium-text" title={look.given.map((g) => g.name).join('\n')}>
          {givenWords(look.given)}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button
          type="submit"
          kind="main"
          disabled={busy || !look || look.files === 0 || tooLarge || error !== undefined}
        >
          {VERB[mode]} {several(look?.files ?? 0, 'file')}
        </Button>
      </div>
    </form>
  );
}

function givenWords(given: PutLook['given']): string {
  const named = given.slice(0, 2).map((g) => g.name);
  const more = given.length - named.length;
  return `Exported before, and still naming the old places: ${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}.`;
}

function lookWords(
  { files, numbered, skipped, right, unnamed, bytes: size, free }: PutLook,
  mode: string,
  tooLarge: boolean,
): string {
  if (tooLarge) return `There is not enough space: ${bytes(size)} are needed, ${bytes(free!)} are free.`;
  const parts = [
    `${several(files, 'file')} to ${mode}`,
    size > 0 && `${bytes(size)} to write`,
    size > 0 && free !== null && `${bytes(free)} free`,
    numbered > 0 && `${several(numbered, 'name')} taken there, numbered`,
    skipped > 0 && `${several(skipped, 'file')} left, since the name is taken`,
    right > 0 && `${several(right, 'file')} there already`,
    unnamed > 0 && `${several(unnamed, 'file')} left, since no rule names ${unnamed === 1 ? 'it' : 'them'}`,
  ];
  return `${parts.filter(Boolean).join('; ')}.`;
}
