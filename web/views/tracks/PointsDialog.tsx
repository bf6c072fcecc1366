/** Playout points of chosen tracks written into their WAV files: how many, and what is left out. */
import useSWR from 'swr';
import type { PointsDraft } from '@early-set/core/api/stick';
import type { Applied, Selection } from '@early-set/core/api/types';
import { change, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Trouble } from '../../ui/Empty.tsx';

interface Props {
  /** Null: closed. */
  selection: Selection | null;
  onClose: () => void;
}

export function PointsDialog({ selection, onClose }: Props) {
  return (
    <Dialog
      open={selection !== null}
      onClose={onClose}
      title="Write playout points into WAV files"
      note="Start, intro, segue and end, with playout ID, title and artist, as a cart chunk (AES46). The sound stays byte for byte; it can be undone."
    >
      {selection && <Draft selection={selection} onClose={onClose} />}
    </Dialog>
  );
}

function Draft({ selection, onClose }: { selection: Selection; onClose: () => void }) {
  const { data: draft, error } = useSWR<PointsDraft, Error>(
    ['playout-points/draft', JSON.stringify(selection)],
    () => post<PointsDraft>('/playout-points/draft', { selection }),
    { revalidateOnFocus: false },
  );
  if (error) return <Trouble error={error} />;
  if (!draft) return <p className="py-6 text-center text-dim">Looking at the tracks…</p>;
  const { files, others, lacking, reasons } = draft;
  const write = (): void => {
    onClose();
    void change(post<Applied>('/playout-points/write', { selection }));
  };
  return (
    <>
      <ul aria-label="What is written" className="text-small">
        <Line figure={files} words={files === 1 ? 'WAV file gets them' : 'WAV files get them'} />
        {lacking > 0 && (
          <Line figure={lacking} words={lacking === 1 ? 'WAV file is left out' : 'WAV files are left out'} />
        )}
        {reasons.map(({ reason, tracks }) => (
          <Line key={reason} figure={tracks} words={reason} inner />
        ))}
        {others > 0 && (
          <Line figure={others} words={`${others === 1 ? 'file is' : 'files are'} no WAV, or not there: left out`} />
        )}
      </ul>
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" onClick={write} disabled={files === 0}>
          Write {several(files, 'file')}
        </Button>
      </div>
    </>
  );
}

const Line = ({ figure, words, inner = false }: { figure: number; words: string; inner?: boolean }) => (
  <li className={`flex gap-3 border-b border-hair py-1.5 ${inner ? 'text-dim' : ''}`}>
    <span className="figures w-[64px] text-right font-semibold">{figure.toLocaleString('en-GB')}</span>
    <span className="min-w-0 flex-1">{words}</span>
  </li>
);
