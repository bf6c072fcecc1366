import type { Applied, Selection } from '@early-set/core/api/types';
import type { Field } from '@early-set/core/fields/table';
import { isEmpty, type FieldValue } from '@early-set/core/fields/values';
import { change } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { Button } from '../../../ui/Button.tsx';
import { valueText } from '../../../ui/format.ts';

/** What the file says where it says something else, and which of the two is to stand. */
export function OtherInFile({ field, target, said }: { field: Field; target: Selection; said: FieldValue }) {
  const take = (): void =>
    void change(post<Applied>('/fields', { selection: target, field: field.id, value: isEmpty(said) ? null : said }));
  const write = (): void => void change(post<Applied>('/files/write', { selection: target, fields: [field.id] }));
  return (
    <p className="px-1 text-small text-sodium-text">
      {isEmpty(said) ? 'Not in the file.' : `In the file: ${valueText(field, said)}.`}{' '}
      <Button kind="link" onClick={take} aria-label={`Use the file’s ${field.label.toLowerCase()}`}>
        Use the file’s
      </Button>{' '}
      <Button kind="link" onClick={write} aria-label={`Write mine into the file: ${field.label.toLowerCase()}`}>
        Write mine
      </Button>
    </p>
  );
}
