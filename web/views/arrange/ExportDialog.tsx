/** A list as a playlist file: what it will hold is visible before it is taken away. */
import { useEffect, useState } from 'react';
import type { ExportedList, ExportWish, ListContents } from '@early-set/core/api/types';
import { DEFAULT_LINE } from '@early-set/core/exchange/playlistFiles';
import { complain, perform, several } from '../../data/actions.ts';
import { ApiError, post } from '../../data/api.ts';
import { useRoots } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { saveFile } from '../../ui/saveFile.ts';

const FIRST_WISH: ExportWish = { format: 'm3u8', paths: 'absolute', line: DEFAULT_LINE, rootId: null };

export function ExportDialog({ list, open, onClose }: { list: ListContents; open: boolean; onClose: () => void }) {
  const [wish, setWish] = useRemembered<ExportWish>('export', FIRST_WISH);
  const { data: roots = [] } = useRoots();
  const [preview, setPreview] = useState<ExportedList | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const rootId = roots.some((r) => r.id === wish.rootId) ? wish.rootId : (roots[0]?.id ?? null);
  const asked = JSON.stringify({ ...wish, rootId });
  useEffect(() => {
    if (!open) return undefined;
    let stale = false;
    const timer = setTimeout(() => {
      post<ExportedList>(`/lists/${list.id}/export`, JSON.parse(asked)).then(
        (answer) => {
          if (!stale) {
            setPreview(answer);
            setTrouble(null);
          }
        },
        (error: unknown) => {
          if (!stale) {
            setPreview(null);
            setTrouble(error instanceof ApiError ? error.message : 'The preview could not be made');
          }
        },
      );
    }, 150);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [open, asked, list]);

  const download = (): void => {
    if (!preview) return;
    saveFile(preview.fileName, wish.format === 'm3u8' ? 'audio/x-mpegurl' : 'application/xspf+xml', preview.text);
  };
  const write = (): void => {
    if (rootId === null) {
      complain(new ApiError(0, 'no-root', 'There is no folder to write into yet'));
      return;
    }
    void perform(
      post<{ path: string }>(`/lists/${list.id}/write`, { ...wish, rootId }).then((done) => {
        void perform(Promise.resolve(), `Written: ${done.path}`);
        onClose();
      }),
    );
  };
  const choice = <K extends 'format' | 'paths'>(name: K, options: [ExportWish[K], string][]) => (
    <fieldset className="flex items-center gap-4">
      <legend className="float-left w-[92px] text-dim">{name === 'format' ? 'File' : 'Paths'}</legend>
      {options.map(([value, label]) => (
        <label key={value} className="flex items-center gap-1.5">
          <input
            type="radio"
            name={name}
            checked={wish[name] === value}
            onChange={() => setWish({ ...wish, [name]: value })}
            className="accent-ink"
          />
          {label}
        </label>
      ))}
    </fieldset>
  );
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={`Export ${list.info.name}`}
      note="A new file is made; the tracks and the list stay as they are."
      wide
    >
      <div className="flex flex-col gap-2.5">
        {choice('format', [
          ['m3u8', 'M3U8, played nearly everywhere'],
          ['xspf', 'XSPF, with more about each track'],
        ])}
        {choice('paths', [
          ['absolute', 'whole, for this computer'],
          ['relative', 'relative, to go with the music folder'],
        ])}
        <label className="flex items-center">
          <span className="w-[92px] shrink-0 text-dim">Line text</span>
          <input
            value={wish.line}
            maxLength={4000}
            onChange={(e) => setWish({ ...wish, line: e.target.value })}
            className="figures min-w-0 flex-1 rounded-xs border border-line bg-sheet px-2 py-1 text-small"
            spellCheck={false}
          />
          <Button kind="quiet" onClick={() => setWish({ ...wish, line: DEFAULT_LINE })}>
            As at first
          </Button>
        </label>
        <label className="flex items-center">
          <span className="w-[92px] shrink-0 text-dim">Folder</span>
          <select
            value={rootId ?? ''}
            onChange={(e) => setWish({ ...wish, rootId: Number(e.target.value) })}
            className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1.5 py-1"
          >
            {roots.map((r) => (
              <option key={r.id} value={r.id}>
                {r.path}
              </option>
            ))}
          </select>
        </label>
        {trouble && (
          <p role="alert" className="border-l-[3px] border-flare px-2 py-1">
            {trouble}
          </p>
        )}
        <pre
          aria-label="Preview"
          className="figures h-[190px] overflow-auto border border-line bg-sheet p-2 text-tiny whitespace-pre"
        >
          {preview?.text.slice(0, 6000) ?? ''}
        </pre>
        {preview && preview.missing.length > 0 && (
          <p className="text-flare">
            {several(preview.missing.length, 'track')} in it cannot be found on disk and will not play:{' '}
            {preview.missing.slice(0, 3).join(', ')}
            {preview.missing.length > 3 && ' …'}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={write} disabled={!preview || rootId === null}>
            Write into the folder
          </Button>
          <Button kind="main" onClick={download} disabled={!preview}>
            Download {preview?.fileName ?? ''}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
