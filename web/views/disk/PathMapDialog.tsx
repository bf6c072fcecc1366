/**
 * Everything that lay below one folder lies below another: said, or learned from one file, and tried out while typing.
 */
import { useState } from 'react';
import useSWR from 'swr';
import type { FoundLine, MapTried, NotFoundLine } from '@early-set/core/api/disk';
import { mapFromExample, mapFromExamples } from '@early-set/core/relink/pathMap';
import { folderOf } from '@early-set/core/files/paths';
import { several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useRoots } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

interface Props {
  open: boolean;
  /** All that is not found. */
  lines: readonly NotFoundLine[];
  /** One of them: its folder is where the map begins. */
  example: NotFoundLine | undefined;
  onClose: () => void;
  onFound: (lines: readonly FoundLine[]) => void;
}

export function PathMapDialog(props: Props) {
  return (
    <Dialog
      open={props.open}
      onClose={props.onClose}
      title="Path map"
      note="Everything that lay below the old folder is looked for below the new one, by path. Paths may be written as on Windows, macOS or Linux."
    >
      {props.open && <MapForm {...props} />}
    </Dialog>
  );
}

interface Typed {
  /** null: the folder of the example. */
  from: string | null;
  to: string;
  /** Where the example lies now, and where the second one does. */
  one: string;
  two: string;
  /** The two have no map in common. */
  apart?: boolean;
}
const BOX = 'h-[28px] min-w-0 flex-1 rounded-xs border border-line bg-sheet px-2';

function MapForm({ lines, example, onClose, onFound }: Props) {
  const { data: roots } = useRoots();
  const root = roots?.find((r) => r.id === example?.rootId)?.path ?? '';
  const old = example ? `${root}/${example.path}` : '';
  const [typed, setTyped] = useState<Typed>({ from: null, to: '', one: '', two: '' });
  /** One from another folder: what both have in common is the map. */
  const second = lines.find((l) => l.rootId === example?.rootId && folderOf(l.path) !== folderOf(example.path));
  const from = typed.from ?? old.slice(0, old.lastIndexOf('/'));
  const { data } = useSWR<MapTried, Error>(
    from.trim() && typed.to.trim() ? ['path-map', from, typed.to] : null,
    () => post<MapTried>('/disk/path-map', { from, to: typed.to }),
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  const found = data?.lines.filter((l) => l.found).length ?? 0,
    others = data?.lines.filter((l) => l.others.length > 0).length ?? 0;
  const learn = (change: Partial<Typed>): void => {
    const { one, two } = { ...typed, ...change };
    const pair = [old, one] as const;
    const map = two.trim() && second ? mapFromExamples(pair, [`${root}/${second.path}`, two]) : mapFromExample(...pair);
    setTyped({ ...typed, ...map, one, two, apart: map === null && two.trim() !== '' });
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (!data || found === 0) return;
        onFound(data.lines);
        onClose();
      }}
    >
      <label className="flex items-center gap-2">
        <span className="w-[110px]">Old folder</span>
        <input value={from} onChange={(e) => setTyped({ ...typed, from: e.target.value })} className={BOX} />
      </label>
      <label className="flex items-center gap-2">
        <span className="w-[110px]">New folder</span>
        <input
          value={typed.to}
          onChange={(e) => setTyped({ ...typed, to: e.target.value })}
          placeholder={root}
          className={BOX}
        />
      </label>
      {example && (
        <label className="flex items-center gap-2">
          <span className="w-[110px]">Or from one file</span>
          <input
            value={typed.one}
            onChange={(e) => learn({ one: e.target.value })}
            placeholder={`where ${example.path.split('/').at(-1)} lies now`}
            className={BOX}
          />
        </label>
      )}
      {example && second && typed.one.trim() !== '' && (
        <label className="flex items-center gap-2">
          <span className="w-[110px]">And from another</span>
          <input
            value={typed.two}
            onChange={(e) => learn({ two: e.target.value })}
            placeholder={`where ${second.path.split('/').at(-1)} lies now`}
            className={BOX}
          />
        </label>
      )}
      {typed.apart && (
        <p role="alert" className="text-sodium-text">
          No one map leads both files there.
        </p>
      )}
      <p aria-live="polite" className="text-dim">
        {data
          ? `${found.toLocaleString('en-GB')} of ${several(data.below, 'file')} would be found` +
            (others > 0 ? `; ${several(others, 'is another recording', 'are other recordings')}` : '')
          : 'Say where the files lie now to see how many would be found.'}
      </p>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main" disabled={found === 0}>
          Use this path map
        </Button>
      </div>
    </form>
  );
}
