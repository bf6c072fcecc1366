/** Takes a destination off the list; its own data stay. */
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { DestinationLine } from '@early-set/core/api/handover';
import { perform } from '../../data/actions.ts';
import { remove } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

export function RemoveDestination({ destination }: { destination: Pick<DestinationLine, 'id' | 'name' | 'readOnly'> }) {
  const { id, name, readOnly } = destination;
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const removeNow = async (): Promise<void> => {
    if (!(await perform(remove(`/destinations/${id}`), `${name} is removed`))) return;
    setOpen(false);
    void navigate('/handover');
  };
  return (
    <>
      <Button kind="link" className="self-start" onClick={() => setOpen(true)}>
        Remove this {readOnly ? 'bundle' : 'destination'}…
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        title={`Remove ${name}?`}
        note={
          readOnly
            ? 'It is no longer compared. The bundle itself stays, and what was taken over stays here.'
            : 'Its data stay as they are. What was kept to undo earlier syncs with it goes, and so does what both sides last agreed on.'
        }
      >
        <div className="flex justify-end gap-3">
          <Button onClick={() => setOpen(false)}>Cancel</Button>
          <Button kind="main" onClick={() => void removeNow()}>
            Remove
          </Button>
        </div>
      </Dialog>
    </>
  );
}
