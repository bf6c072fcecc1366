import { Popover } from 'radix-ui';
import { Button } from '../../../ui/Button.tsx';
import { Reorder, useReorderLine } from '../../../ui/Reorder.tsx';
import { COLUMN_CHOICES, labelOf, type useColumns } from './columns.ts';

/** Which columns there are, and their order by dragging. */
export function ColumnChooser({ columns, show, move, reset }: ReturnType<typeof useColumns>) {
  const hidden = COLUMN_CHOICES.filter((c) => !columns.some((shown) => shown.id === c.id));
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button>Columns</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} className="floating max-h-[70vh] w-[250px] overflow-auto p-2.5">
          <div className="mb-1 flex items-baseline justify-between">
            <h3 className="font-semibold">Shown, in this order</h3>
            <Button kind="link" onClick={reset}>
              Reset
            </Button>
          </div>
          <Reorder ids={columns.map((c) => c.id)} onMove={move}>
            <ul>
              {columns.map((c) => (
                <Shown key={c.id} id={c.id} onHide={() => show(c.id, false)} only={columns.length === 1} />
              ))}
            </ul>
          </Reorder>
          <h3 className="mt-3 mb-1 font-semibold">Not shown</h3>
          <ul>
            {hidden.map((c) => (
              <li key={c.id}>
                <label className="flex items-center gap-2 py-[3px]">
                  <input type="checkbox" checked={false} onChange={() => show(c.id, true)} className="accent-ink" />
                  {c.label}
                </label>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Shown({ id, onHide, only }: { id: string; onHide: () => void; only: boolean }) {
  const { ref, style, handle } = useReorderLine(id, labelOf(id));
  return (
    <li ref={ref} style={style} className="flex items-center gap-2 bg-paper">
      <label className="flex flex-1 items-center gap-2 py-[3px]">
        <input type="checkbox" checked disabled={only} onChange={onHide} className="accent-ink" />
        {labelOf(id)}
      </label>
      {handle}
    </li>
  );
}
