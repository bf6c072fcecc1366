/** Measuring again: which of the tracks, and which parts of their results. */
import Joi from 'joi';
import { useController } from 'react-hook-form';
import { PART_LABELS, PARTS, type Part } from '@early-set/core/analysis/parts';
import type { Selection } from '@early-set/core/api/types';
import { measureShape, type MeasureWish } from '@early-set/core/api/wishes';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import { CheckList, FormEnd, RadioLines } from '../../ui/form/fields.tsx';
import { useForm } from '../../ui/form/useForm.ts';

interface Values {
  which: 'all' | 'older' | 'unsure';
  below: number;
  parts: Part[];
}
const VALUES = Joi.object<Values>({
  which: Joi.valid('all', 'older', 'unsure').required(),
  below: measureShape.below,
  parts: measureShape.parts,
});
const wishOf = ({ which, below, parts }: Values): MeasureWish => ({
  older: which === 'older',
  below: which === 'unsure' ? below : null,
  parts: parts.length === PARTS.length ? null : parts,
});

interface Props {
  open: boolean;
  onClose: () => void;
  selection: Selection;
  count: number;
}

export function MeasureDialog({ open, onClose, selection, count }: Props) {
  const { control, handleSubmit, setValue, formState } = useForm<Values>(VALUES, {
    which: 'all',
    below: 0.8,
    parts: [...PARTS],
  });
  const below = useController({ control, name: 'below' });
  const start = async (values: Values): Promise<void> => {
    const done = await perform(post<{ tracks: number }>('/analysis', { selection, ...wishOf(values) }), undefined);
    if (done) onClose();
  };
  const limit = (
    <span className="flex items-center gap-1.5">
      Only where the confidence of tempo or key is below
      <input
        type="number"
        aria-label="Confidence below"
        step={0.05}
        value={Number.isNaN(below.field.value) ? '' : below.field.value}
        onChange={(e) => {
          below.field.onChange(e.target.valueAsNumber);
          setValue('which', 'unsure');
        }}
        className="figures w-[64px] rounded-xs border border-line bg-sheet px-1.5 py-0.5"
      />
    </span>
  );
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Measure again"
      note={`${several(count, 'track')}. What was set by hand or locked stays as it is.`}
    >
      <form onSubmit={(e) => void handleSubmit(start)(e)}>
        <fieldset>
          <legend className="font-semibold">Which of them</legend>
          <RadioLines
            control={control}
            name="which"
            choices={[
              { value: 'all', label: 'All of them' },
              { value: 'older', label: 'Only those an earlier version measured, or nobody yet' },
              { value: 'unsure', label: limit },
            ]}
          />
          {below.fieldState.error && (
            <p role="alert" className="text-small text-flare">
              {below.fieldState.error.message}
            </p>
          )}
        </fieldset>
        <fieldset className="mt-3">
          <legend className="font-semibold">Which parts</legend>
          <CheckList
            control={control}
            name="parts"
            choices={PARTS.map((p) => ({ value: p, label: PART_LABELS[p] }))}
            className="grid grid-cols-2"
          />
        </fieldset>
        <FormEnd onCancel={onClose} send="Measure" disabled={formState.isSubmitting} />
      </form>
    </Dialog>
  );
}
