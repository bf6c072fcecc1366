/** Conditions for the tracks of a place. */
import { useState } from 'react';
import { EVERYTHING, type Condition } from '@early-set/core/conditions/condition';
import { several } from '../../data/actions.ts';
import { useMatching } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Builder } from '../filling/Builder.tsx';
import { newRow, toCondition, toGroup } from '../filling/parts.ts';

interface Props {
  open: boolean;
  name: string;
  from: Condition | null;
  onClose: () => void;
  onSave: (from: Condition) => void;
}

export function FromDialog(props: Props) {
  return (
    <Dialog open={props.open} onClose={props.onClose} title={`Tracks for ${props.name}`} wide>
      {props.open && <FromForm {...props} />}
    </Dialog>
  );
}

function FromForm({ from, onClose, onSave }: Props) {
  const [group, setGroup] = useState(() => (from ? toGroup(from) : { mode: 'all' as const, parts: [newRow()] }));
  const where = toCondition(group) ?? EVERYTHING;
  const { data } = useMatching(where, null);
  return (
    <div className="flex flex-col gap-3">
      <Builder group={group} onChange={setGroup} own={null} />
      <div className="flex items-center justify-end gap-2">
        <span className="mr-auto text-dim">{data ? several(data.total, 'track') : ''}</span>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          kind="main"
          onClick={() => {
            onSave(where);
            onClose();
          }}
        >
          Save
        </Button>
      </div>
    </div>
  );
}
