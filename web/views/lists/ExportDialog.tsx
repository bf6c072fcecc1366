/** A list as a playlist file: what it will hold is visible before it is taken away. */
import Joi from 'joi';
import { useEffect, useState } from 'react';
import { useWatch } from 'react-hook-form';
import { toast } from 'sonner';
import type { ExportedList, ExportWish, ListContents } from '@early-set/core/api/types';
import { exportShape } from '@early-set/core/api/wishes';
import { DEFAULT_LINE } from '@early-set/core/exchange/line';
import { LIST_FORMATS, LIST_FORMAT_IDS, type ListFormatId } from '@early-set/core/exchange/listFile';
import { complain, perform, several } from '../../data/actions.ts';
import { ApiError, askFile, post } from '../../data/api.ts';
import { useRoots } from '../../data/hooks.ts';
import { remembered, write as remember } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { useForm } from '../../ui/form/useForm.ts';
import { FORMATS, XLSX_WORDS } from '../../ui/listFormats.ts';
import { saveBlob, saveFile } from '../../ui/saveFile.ts';

const FIRST_WISH: ExportWish = { format: 'm3u8', paths: 'absolute', line: DEFAULT_LINE, rootId: null };
const SCHEMA = Joi.object<ExportWish>(exportShape);
const KEPT = 'export';
/** What a list says and a format has no place for. */
const lackedBy = (format: ListFormatId): string =>
  LIST_FORMATS.xspf.holds
    .filter((what) => !(LIST_FORMATS[format].holds as readonly string[]).includes(what))
    .join(', ');
const PREVIEW_MS = 150,
  PREVIEW_LENGTH = 6000;

/** The file that would be made, and why it cannot be; asked anew when the wish has rested for a moment. */
function usePreview(list: ListContents, open: boolean, wish: ExportWish) {
  const [preview, setPreview] = useState<ExportedList | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const asked = JSON.stringify(wish);
  useEffect(() => {
    if (!open) return undefined;
    let stale = false;
    const tell = (answer: ExportedList | null, why: string | null): void => {
      if (stale) return;
      setPreview(answer);
      setTrouble(why);
    };
    const timer = setTimeout(() => {
      post<ExportedList>(`/lists/${list.id}/export`, JSON.parse(asked)).then(
        (answer) => tell(answer, null),
        (error: unknown) => tell(null, error instanceof ApiError ? error.message : 'The preview could not be made'),
      );
    }, PREVIEW_MS);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [open, asked, list]);
  return { preview, trouble };
}

export function ExportDialog({ list, open, onClose }: { list: ListContents; open: boolean; onClose: () => void }) {
  const { data: roots = [] } = useRoots();
  const { control, register, setValue, handleSubmit } = useForm<ExportWish>(SCHEMA, {
    ...FIRST_WISH,
    ...remembered<Partial<ExportWish>>(KEPT, {}),
  });
  const said = useWatch({ control }) as ExportWish;
  const rootId = roots.some((r) => r.id === said.rootId) ? said.rootId : (roots[0]?.id ?? null);
  const wish = { ...said, rootId };
  const { preview, trouble } = usePreview(list, open, wish);
  useEffect(() => remember(KEPT, said), [said]);

  const download = (): void => {
    if (!preview) return;
    saveFile(preview.fileName, FORMATS[wish.format].mime, preview.text);
  };
  const copy = async (): Promise<void> => {
    if (!preview) return;
    await navigator.clipboard.writeText(preview.text);
    toast('Copied', { duration: 3000 });
  };
  const workbook = (): void =>
    void perform(
      askFile(`/lists/${list.id}/workbook`, wish).then((blob) => {
        saveBlob(`${preview?.fileName.replace(/\.[^.]+$/, '') ?? 'List'}.xlsx`, blob);
      }),
    );
  const write = (): void => {
    if (rootId === null) {
      complain(new ApiError(0, 'no-root', 'There is no folder to write into yet'));
      return;
    }
    void perform(
      post<{ path: string }>(`/lists/${list.id}/write`, wish).then((done) => {
        void perform(Promise.resolve(), `Written: ${done.path}`);
        onClose();
      }),
    );
  };
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={`Export ${list.info.name}`}
      note="A new file is made; the tracks and the list stay as they are."
      wide
    >
      <form className="flex flex-col gap-2.5" onSubmit={(e) => void handleSubmit(download)(e)}>
        <label className="flex items-center">
          <span className="w-[92px] shrink-0 text-dim">File</span>
          <select {...register('format')} className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1.5 py-1">
            {LIST_FORMAT_IDS.map((id) => (
              <option key={id} value={id}>
                {LIST_FORMATS[id].label}, {FORMATS[id].words}
              </option>
            ))}
          </select>
        </label>
        <fieldset className="flex items-center gap-4">
          <legend className="float-left w-[92px] text-dim">Paths</legend>
          {[
            ['absolute', 'absolute, for this computer'],
            ['relative', 'relative, to go with the music folder'],
          ].map(([value, words]) => (
            <label key={value} className="flex items-center gap-1.5">
              <input type="radio" value={value} {...register('paths')} className="accent-ink" />
              {words}
            </label>
          ))}
        </fieldset>
        <label className="flex items-center">
          <span className="w-[92px] shrink-0 text-dim">Line text</span>
          <input
            {...register('line')}
            className="figures min-w-0 flex-1 rounded-xs border border-line bg-sheet px-2 py-1 text-small"
            spellCheck={false}
          />
          <Button kind="quiet" onClick={() => setValue('line', DEFAULT_LINE)}>
            Reset
          </Button>
        </label>
        <label className="flex items-center">
          <span className="w-[92px] shrink-0 text-dim">Folder</span>
          <select
            value={rootId ?? ''}
            onChange={(e) => setValue('rootId', Number(e.target.value))}
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
          {preview?.text.slice(0, PREVIEW_LENGTH) ?? ''}
        </pre>
        {lackedBy(wish.format) && (
          <p className="text-small text-dim">
            {LIST_FORMATS[wish.format].label} has no place for: {lackedBy(wish.format)}.
          </p>
        )}
        {preview && preview.missing.length > 0 && (
          <p className="text-flare">
            {several(preview.missing.length, 'track')} in it cannot be found on disk and will not play:{' '}
            {preview.missing.slice(0, 3).join(', ')}
            {preview.missing.length > 3 && ' …'}
          </p>
        )}
        <div className="flex justify-end gap-2">
          <Button kind="quiet" onClick={() => void copy()} disabled={!preview}>
            Copy as text
          </Button>
          <Button kind="quiet" onClick={workbook} disabled={!preview} title={`A new file, ${XLSX_WORDS}`}>
            Spreadsheet (XLSX)
          </Button>
          <span className="flex-1" />
          <Button onClick={write} disabled={!preview || rootId === null}>
            Write into the folder
          </Button>
          <Button kind="main" type="submit" disabled={!preview}>
            Download {preview?.fileName ?? ''}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
