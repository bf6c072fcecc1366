/** What the library says and the files do not yet: seen line by line, then written. */
import useSWR from 'swr';
import type { Applied, Selection, WritingDraft } from '@early-set/core/api/types';
import { change, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Trouble } from '../../ui/Empty.tsx';
import { DraftLines } from './DraftLines.tsx';

export function WriteDialog({
  selection,
  onClose,
}: {
  /** Null when closed. */ selection: Selection | null;
  onClose: () => void;
}) {
  return (
    <Dialog
      open={selection !== null}
      onClose={onClose}
      title="Write into the files"
      note="What was edited in the library goes into the files’ tags. The sound stays byte for byte; each file can be undone under Changes."
      wide
    >
      {selection && <Draft selection={selection} onClose={onClose} />}
    </Dialog>
  );
}

function Draft({ selection, onClose }: { selection: Selection; onClose: () => void }) {
  const { data: draft, error } = useSWR<WritingDraft, Error>(
    ['files/draft', JSON.stringify(selection)],
    () => post<WritingDraft>('/files/draft', { selection }),
    { revalidateOnFocus: false },
  );
  if (error) return <Trouble error={error} />;
  if (!draft) return <p className="py-6 text-center text-dim">Comparing library and files…</p>;
  if (draft.tracks === 0) return <p className="py-6 text-center text-dim">All tags are written already.</p>;
  const write = (): void => {
    onClose();
    void change(post<Applied>('/files/write', { selection }));
  };
  return (
    <>
      <DraftLines
        total={draft.tracks}
        lines={draft.lines.map((l) => ({
          ...l,
          fields: l.fields.map((f) => ({
            field: f.field,
            before: (f.before ?? []).join('; '),
            after: f.after.join('; '),
          })),
        }))}
      />
      <div className="mt-3 flex items-center justify-end gap-2">
        <span className="mr-auto text-small text-dim">
          {several(draft.fields, 'field')} in {several(draft.tracks, 'file')}
        </span>
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" onClick={write}>
          Write {several(draft.tracks, 'file')}
        </Button>
      </div>
    </>
  );
}
