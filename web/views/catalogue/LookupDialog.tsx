/** Starting a look-up: which tracks, by what, and whether everything or only some fields. */
import { useState } from 'react';
import type { LookupWish } from '@early-set/core/api/catalogue';
import { perform } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useSettings } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { ScopePicker } from '../clean/ScopePicker.tsx';
import { FIRST_SCOPE, SCOPE, scopeSelection, type Scope } from '../clean/scope.ts';

type What = 'everything' | 'gaps' | 'clear';
const WHATS: [What, string, string][] = [
  [
    'everything',
    'Everything the catalogue knows',
    'Title, artist, album, numbers, year, genre, label and more; which of it is taken is chosen field by field afterwards.',
  ],
  ['gaps', 'Only fill year and genre where they are missing', 'What is there stays.'],
  ['clear', 'Write year and genre anew', 'What is there is replaced by what the catalogue says; locked values stay.'],
];

export function LookupDialog({
  open,
  onClose,
  onStarted,
}: {
  open: boolean;
  onClose: () => void;
  onStarted: (id: number) => void;
}) {
  const [scope, setScope] = useRemembered<Scope>(SCOPE, FIRST_SCOPE);
  const [how, setHow] = useState<LookupWish['how']>('fields');
  const [what, setWhat] = useState<What>('everything');
  const [tearApart, setTearApart] = useState(false);
  const { data: settings } = useSettings();
  const selection = scopeSelection(scope, settings?.gapRules);
  const start = async (): Promise<void> => {
    const wish: LookupWish = {
      selection,
      how,
      tearApart,
      fill: what === 'everything' ? null : { fields: ['year', 'genre'], clear: what === 'clear' },
    };
    const made = await perform(post<{ id: number }>('/lookups', wish));
    if (made) {
      onClose();
      onStarted(made.id);
    }
  };
  const radio = <T extends string>(
    name: string,
    value: T,
    now: T,
    set: (v: T) => void,
    label: string,
    note: string,
  ) => (
    <label key={value} className="flex items-start gap-2 py-1">
      <input type="radio" name={name} checked={now === value} onChange={() => set(value)} className="mt-1 accent-ink" />
      <span>
        <span className="font-semibold">{label}</span>
        <span className="block text-small text-dim">{note}</span>
      </span>
    </label>
  );
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Look up in the catalogue"
      note="Nothing is changed by looking. What is found can be compared, corrected and then taken."
    >
      <div className="flex items-center gap-2 py-1">
        <span className="text-dim">Which tracks</span>
        <ScopePicker scope={scope} onChange={setScope} />
      </div>
      <fieldset className="mt-2 border-t border-hair pt-2">
        <legend className="sr-only">By what</legend>
        {radio('how', 'fields', how, setHow, 'By tags and file names', 'Album by album; single tracks one by one.')}
        {radio(
          'how',
          'sound',
          how,
          setHow,
          'By sound',
          'For tracks whose tags say nothing. They have to be measured already.',
        )}
      </fieldset>
      <fieldset className="mt-2 border-t border-hair pt-2">
        <legend className="sr-only">What is wanted</legend>
        {WHATS.map(([id, label, note]) => radio('what', id, what, setWhat, label, note))}
      </fieldset>
      <label className="mt-2 flex items-start gap-2 border-t border-hair pt-2">
        <input
          type="checkbox"
          checked={tearApart}
          onChange={(e) => setTearApart(e.target.checked)}
          className="mt-1 accent-ink"
        />
        <span>
          <span className="font-semibold">Take every track by itself</span>
          <span className="block text-small text-dim">Albums are not kept together then.</span>
        </span>
      </label>
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button kind="main" onClick={() => void start()}>
          Look up
        </Button>
      </div>
    </Dialog>
  );
}
