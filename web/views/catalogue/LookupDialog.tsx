/** Starting a look-up: which tracks, by what, and whether everything or only some fields. */
import Joi from 'joi';
import type { LookupWish } from '@early-set/core/api/catalogue';
import { perform } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useSettings } from '../../data/hooks.ts';
import { useHanded } from '../../data/handed.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import { FormEnd, RadioLines } from '../../ui/form/fields.tsx';
import { useForm } from '../../ui/form/useForm.ts';
import { ScopePicker } from '../clean/ScopePicker.tsx';
import { FIRST_SCOPE, SCOPE, scopeSelection, type Scope } from '../clean/scope.ts';

interface Values {
  how: LookupWish['how'];
  what: 'everything' | 'gaps' | 'clear';
  tearApart: boolean;
}
const VALUES = Joi.object<Values>({
  how: Joi.valid('fields', 'sound').required(),
  what: Joi.valid('everything', 'gaps', 'clear').required(),
  tearApart: Joi.boolean().required(),
});
const HOWS = [
  { value: 'fields', label: 'By tags and file names', note: 'Album by album; single tracks one by one.' },
  {
    value: 'sound',
    label: 'By sound',
    note: 'For tracks whose tags say nothing. They have to be measured already.',
  },
];
const WHATS = [
  {
    value: 'everything',
    label: 'Everything the catalogue knows',
    note: 'Title, artist, album, numbers, year, genre, label and more; what is applied you choose for each field afterwards.',
  },
  { value: 'gaps', label: 'Only fill year and genre where they are missing', note: 'What is there stays.' },
  {
    value: 'clear',
    label: 'Write year and genre anew',
    note: 'What is there is replaced by what the catalogue says; locked values stay.',
  },
];

interface Props {
  open: boolean;
  onClose: () => void;
  onStarted: (id: number) => void;
}

export function LookupDialog({ open, onClose, onStarted }: Props) {
  const [scope, setScope] = useHanded<Scope>(SCOPE, FIRST_SCOPE);
  const { control, handleSubmit, register, formState } = useForm<Values>(VALUES, {
    how: 'fields',
    what: 'everything',
    tearApart: false,
  });
  const { data: settings } = useSettings();
  const start = async ({ how, what, tearApart }: Values): Promise<void> => {
    const wish: LookupWish = {
      selection: scopeSelection(scope, settings?.gapRules),
      how,
      tearApart,
      fill: what === 'everything' ? null : { fields: ['year', 'genre'], clear: what === 'clear' },
    };
    const made = await perform(post<{ id: number }>('/lookups', wish));
    if (!made) return;
    onClose();
    onStarted(made.id);
  };
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Look up in the catalogue"
      note="Nothing is changed by looking. What is found can be compared, corrected and then taken."
    >
      <form onSubmit={(e) => void handleSubmit(start)(e)}>
        <div className="flex items-center gap-2 py-1">
          <span className="text-dim">Which tracks</span>
          <ScopePicker scope={scope} onChange={setScope} />
        </div>
        <fieldset className="mt-2 border-t border-hair pt-2">
          <legend className="sr-only">By what</legend>
          <RadioLines control={control} name="how" choices={HOWS} />
        </fieldset>
        <fieldset className="mt-2 border-t border-hair pt-2">
          <legend className="sr-only">What is wanted</legend>
          <RadioLines control={control} name="what" choices={WHATS} />
        </fieldset>
        <label className="mt-2 flex items-start gap-2 border-t border-hair pt-2">
          <input type="checkbox" {...register('tearApart')} className="mt-1 accent-ink" />
          <span>
            <span className="font-semibold">Take every track by itself</span>
            <span className="block text-small text-dim">Albums are not kept together then.</span>
          </span>
        </label>
        <FormEnd onCancel={onClose} send="Look up" disabled={formState.isSubmitting} />
      </form>
    </Dialog>
  );
}
