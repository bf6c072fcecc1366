/** A value copied to other tracks or into another field. */
import { Copy } from 'lucide-react';
import { toast } from 'sonner';
import type { Applied, Selection, SharedValue } from '@early-set/core/api/types';
import { fieldOf, type Field } from '@early-set/core/fields/table';
import { type FieldValue } from '@early-set/core/fields/values';
import { change } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { valueText } from '../../../ui/format.ts';
import { Menu, type MenuItem } from '../../../ui/Menu.tsx';
import { cut } from '@early-set/core/fields/cut';

/** A value that was copied. */
export interface Copied {
  field: string;
  value: FieldValue;
  text: string;
}

/** Where texts can be copied to. */
const TEXT_TARGETS = [
  'title',
  'artist',
  'album',
  'albumArtist',
  'version',
  'genre',
  'remixer',
  'comment',
  'notes',
  'freeTags',
  'moods',
];

/** A value to other tracks, or into another field of the same ones. */
export function CopyMenu({ field, target, shared }: { field: Field; target: Selection; shared: SharedValue }) {
  const [copied, setCopied] = useRemembered<Copied | null>('copied-value', null);
  const text = valueText(field, shared.value);
  if (field.type === 'marks') return null;
  const items: MenuItem[] = [
    {
      label: 'Copy the value',
      disabled: !shared.same || text === '',
      run: () => {
        setCopied({ field: field.id, value: shared.value, text });
        void navigator.clipboard?.writeText(text).catch(() => undefined);
        toast(`${field.label} copied: ${text}`, {
          description: 'Choose other tracks, then put it into their field from the same menu',
        });
      },
    },
    ...(copied?.field === field.id
      ? [
          {
            label: `Paste “${cut(copied.text, 40)}”`,
            run: () =>
              void change(post<Applied>('/fields', { selection: target, field: field.id, value: copied.value })),
          },
        ]
      : []),
    ...(['text', 'texts'].includes(field.type) || field.id === 'year'
      ? TEXT_TARGETS.filter((id) => id !== field.id).map((to, i) => ({
          label: `Copy into ${fieldOf(to).label}`,
          apart: i === 0,
          run: () => void change(post<Applied>('/fields/copy', { selection: target, from: field.id, to, over: true })),
        }))
      : []),
  ];
  return (
    <Menu label={`Copy ${field.label}`} items={items}>
      <button
        type="button"
        className="p-1 text-dim opacity-0 group-hover:opacity-100 hover:text-ink focus-visible:opacity-100 data-[state=open]:opacity-100"
      >
        <Copy size={12} />
      </button>
    </Menu>
  );
}
