/** Several lists as files: in one zip, or written into a folder of the library. */
import { useState } from 'react';
import type { ListLine } from '@early-set/core/api/types';
import { DEFAULT_LINE } from '@early-set/core/exchange/line';
import { LIST_FORMATS, LIST_FORMAT_IDS, type ListFormatId } from '@early-set/core/exchange/listFile';
import { complain, perform, several } from '../../data/actions.ts';
import { askFile, post } from '../../data/api.ts';
import { useRoots } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { FORMATS, XLSX_WORDS } from '../../ui/listFormats.ts';
import { saveBlob } from '../../ui/saveFile.ts';

interface Props {
  lists: readonly ListLine[] | null;
  onClose: () => void;
}

export function ExportSeveralDialog({ lists, onClose }: Props) {
  return (
    <Dialog
      open={lists !== null}
      onClose={onClose}
      title={lists ? `Export ${several(lists.length, 'list')}` : ''}
      note="A file for each list; nothing that is there is overwritten."
    >
      {lists && <ExportForm lists={lists} onClose={onClose} />}
    </Dialog>
  );
}

const SELECT = 'min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1.5 py-1';

function ExportForm({ lists, onClose }: { lists: readonly ListLine[]; onClose: () => void }) {
  const { data: roots = [] } = useRoots();
  const [format, setFormat] = useRemembered<ListFormatId | 'xlsx'>('export-several', 'm3u8');
  const [relative, setRelative] = useRemembered<boolean>('export-several-relative', false);
  const [chosenRoot, setRoot] = useState<number | null>(null);
  const [working, setWorking] = useState(false);
  const rootId = chosenRoot ?? roots[0]?.id ?? null;
  const wish = { paths: relative ? 'relative' : 'absolute', line: DEFAULT_LINE, rootId };
  const zip = async (): Promise<void> => {
    setWorking(true);
    try {
      saveBlob('Lists.zip', await askFile('/lists/zip', { ...wish, format, listIds: lists.map((l) => l.id) }));
      onClose();
    } catch (error) {
      complain(error);
    }
    setWorking(false);
  };
  const write = async (): Promise<void> => {
    setWorking(true);
    let written = 0;
    try {
      for (const { id } of lists) {
        await post(`/lists/${id}/write`, { ...wish, format });
        written++;
      }
      onClose();
    } catch (error) {
      complain(error);
    }
    if (written > 0) void perform(Promise.resolve(), `${several(written, 'list')} written`);
    setWorking(false);
  };
  return (
    <form
      className="flex flex-col gap-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        void zip();
      }}
    >
      <label className="flex items-center">
        <span className="w-[72px] shrink-0 text-dim">Files</span>
        <select value={format} onChange={(e) => setFormat(e.target.value as ListFormatId | 'xlsx')} className={SELECT}>
          {LIST_FORMAT_IDS.map((id) => (
            <option key={id} value={id}>
              {LIST_FORMATS[id].label}, {FORMATS[id].words}
            </option>
          ))}
          <option value="xlsx">XLSX, {XLSX_WORDS}</option>
        </select>
      </label>
      <label className="flex items-center gap-1.5 pl-[72px]">
        <input
          type="checkbox"
          checked={relative}
          onChange={(e) => setRelative(e.target.checked)}
          className="accent-ink"
        />
        relative paths, to go with the music folder
      </label>
      <label className="flex items-center">
        <span className="w-[72px] shrink-0 text-dim">Folder</span>
        <select value={rootId ?? ''} onChange={(e) => setRoot(Number(e.target.value))} className={SELECT}>
          {roots.map((r) => (
            <option key={r.id} value={r.id}>
              {r.path}
            </option>
          ))}
        </select>
      </label>
      <p className="text-small text-dim">In a zip, lists lie in folders called after their crates.</p>
      <div className="flex justify-end gap-2">
        <Button onClick={() => void write()} disabled={working || rootId === null || format === 'xlsx'}>
          Write into the folder
        </Button>
        <Button kind="main" type="submit" disabled={working}>
          {working ? 'Working…' : 'Download zip'}
        </Button>
      </div>
    </form>
  );
}
