/** Everything that was found for sure, seen line by line before it is taken. */
import useSWR from 'swr';
import type { Lookup, TakeDraft, TakePolicies } from '@early-set/core/api/catalogue';
import { several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Trouble } from '../../ui/Empty.tsx';
import { textOf } from '../../ui/format.ts';
import { DraftLines } from '../changes/DraftLines.tsx';

interface Props {
  lookup: Lookup;
  policies: TakePolicies;
  open: boolean;
  onClose: () => void;
  onTake: () => void;
}

export function TakeAll({ lookup, policies, open, onClose, onTake }: Props) {
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Apply all that was found"
      note="By the choice per field on the right. What needs a look, and what you locked, stays as it is."
      wide
    >
      {open && <Draft lookup={lookup} policies={policies} onClose={onClose} onTake={onTake} />}
    </Dialog>
  );
}

function Draft({ lookup, policies, onClose, onTake }: Omit<Props, 'open'>) {
  const { data: draft, error } = useSWR<TakeDraft, Error>(
    ['take', lookup.id, JSON.stringify(policies)],
    () => post<TakeDraft>(`/lookups/${lookup.id}/draft`, { groups: null, policies }),
    { revalidateOnFocus: false },
  );
  if (error) return <Trouble error={error} />;
  if (!draft) return <p className="py-6 text-center text-dim">Comparing…</p>;
  if (draft.tracks === 0) return <p className="py-6 text-center text-dim">The tracks say all of it already.</p>;
  return (
    <>
      <DraftLines
        total={draft.tracks}
        lines={draft.lines.map((l) => ({
          ...l,
          fields: l.fields.map((f) => ({
            field: f.field,
            before: textOf(f.field, f.before),
            after: textOf(f.field, f.after),
          })),
        }))}
      />
      <div className="mt-3 flex items-center gap-2">
        <span className="mr-auto text-small text-dim">
          {several(draft.fields, 'field')} on {several(draft.tracks, 'track')}, {several(draft.groups, 'release')}
        </span>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          kind="main"
          onClick={() => {
            onClose();
            onTake();
          }}
        >
          Apply to {several(draft.tracks, 'track')}
        </Button>
      </div>
    </>
  );
}
