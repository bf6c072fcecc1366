/** Saving something under a name, in one line. */
import { nameSchema, type Named } from '@early-set/core/api/wishes';
import { Button } from '../Button.tsx';
import { useForm } from './useForm.ts';

interface Props {
  /** What the name is of. */
  label: string;
  first: string;
  onSave: (name: string) => void;
  /** What the button says for a name. */
  words?: (name: string) => string;
}

export function SaveAs({ label, first, onSave, words = () => 'Save' }: Props) {
  const { register, handleSubmit, watch, reset, formState } = useForm<Named>(nameSchema, { name: first });
  const name = watch('name').trim();
  const save = (saved: Named): void => {
    onSave(saved.name);
    reset({ name: first });
  };
  return (
    <form className="flex gap-2" onSubmit={(e) => void handleSubmit(save)(e)}>
      <input
        {...register('name')}
        aria-label={label}
        aria-invalid={formState.isDirty && !formState.isValid}
        placeholder={label}
        className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-2 py-1"
      />
      <Button type="submit" disabled={!name}>
        {words(name)}
      </Button>
    </form>
  );
}
