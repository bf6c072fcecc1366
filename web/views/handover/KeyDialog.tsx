/** How a destination wants the 24 keys written: one of the ready tables, or each by hand. */
import { useState } from 'react';
import type { DestinationSettings } from '@early-set/core/api/handover';
import type { KeyTable } from '@early-set/core/exchange/collection';
import { KEY_SPELLINGS } from '@early-set/core/exchange/spelling';
import { ALL_KEYS } from '@early-set/core/fields/keys';
import { useDestinationKinds } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { textOf } from '../../ui/format.ts';

interface Props {
  name: string;
  kind: string;
  keys: KeyTable | null;
  open: boolean;
  onClose: () => void;
  onKeep: (wish: Partial<DestinationSettings>) => void;
}

const minors = ALL_KEYS.filter((key) => key.endsWith('minor'));
const majors = ALL_KEYS.filter((key) => key.endsWith('major'));

export function KeyDialog(props: Props) {
  const { name, open, onClose } = props;
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={`Keys as ${name} writes them`}
      note="What is read there is understood in any common spelling besides."
      wide
    >
      {open && <Table {...props} />}
    </Dialog>
  );
}

function Table({ name, kind, keys, onClose, onKeep }: Props) {
  const { data } = useDestinationKinds();
  const own = data?.find((d) => d.kind === kind)?.keys ?? {};
  const [changed, setChanged] = useState<Record<string, string> | null>(keys);
  const table = changed ?? own;
  const texts = ALL_KEYS.map((key) => (table[key] ?? '').trim());
  const twice = new Set(texts.filter((text, i) => text === '' || texts.indexOf(text) !== i));
  const same = ALL_KEYS.every((key) => table[key] === own[key]);
  const column = (label: string, of: readonly string[]) => (
    <fieldset className="min-w-0 flex-1">
      <legend className="mb-1 text-small font-semibold text-dim">{label}</legend>
      {of.map((key) => (
        <label key={key} className="flex items-center gap-2 border-b border-hair py-0.5">
          <span className="w-[72px] shrink-0">{textOf('key', key)}</span>
          <input
            aria-label={`${textOf('key', key)} there`}
            value={table[key] ?? ''}
            maxLength={20}
            aria-invalid={twice.has((table[key] ?? '').trim())}
            onChange={(e) => setChanged({ ...table, [key]: e.target.value })}
            className="h-[24px] min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1.5 aria-[invalid=true]:border-flare"
          />
        </label>
      ))}
    </fieldset>
  );
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        onKeep({ keys: same ? null : Object.fromEntries(ALL_KEYS.map((key, i) => [key, texts[i]!])) });
        onClose();
      }}
    >
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <span className="text-small text-dim">Ready tables</span>
        {Object.entries(KEY_SPELLINGS).map(([example, ready]) => (
          <Button key={example} onClick={() => setChanged({ ...ready })}>
            {example}
          </Button>
        ))}
        <span className="flex-1" />
        <Button kind="link" disabled={same} onClick={() => setChanged({ ...own })}>
          As {name} does by itself
        </Button>
      </div>
      <div className="flex gap-5">
        {column('Minor', minors)}
        {column('Major', majors)}
      </div>
      {twice.size > 0 && (
        <p role="alert" className="mt-2 text-small text-flare">
          Each key needs a spelling of its own.
        </p>
      )}
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main" disabled={twice.size > 0}>
          Save
        </Button>
      </div>
    </form>
  );
}
