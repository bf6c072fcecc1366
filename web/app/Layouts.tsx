/** Saving, exporting and bringing back how the desk is arranged. */
import { PanelsTopLeft, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import { useRemembered } from '../data/remembered.ts';
import { Button } from '../ui/Button.tsx';
import { saveFile } from '../ui/saveFile.ts';
import { currentLayout, FIRST_LAYOUT, layoutFile, readLayoutFile, arrangeDesk, type Layout } from '../data/layouts.ts';

const NONE: Layout[] = [];

export function Layouts() {
  const [saved, store] = useRemembered<Layout[]>('layouts', NONE);
  const [name, setName] = useState('');
  const [open, setOpen] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const keep = (layout: Layout): void =>
    store([...saved.filter((l) => l.name !== layout.name), layout].sort((a, b) => a.name.localeCompare(b.name)));
  const bring = (layout: Layout): void => {
    const before = currentLayout('before');
    arrangeDesk(layout);
    setOpen(false);
    toast(`The desk is arranged: ${layout.name}`, { action: { label: 'Undo', onClick: () => arrangeDesk(before) } });
  };
  const remove = (layout: Layout): void => {
    store(saved.filter((l) => l !== layout));
    toast(`The layout ${layout.name} is removed`, { action: { label: 'Undo', onClick: () => store(saved) } });
  };
  const bringBack = async (chosen: File): Promise<void> => {
    try {
      const layout = readLayoutFile(await chosen.text());
      keep(layout);
      bring(layout);
    } catch (error) {
      toast.error(`${chosen.name}: ${(error as Error).message}`);
    }
  };
  const wanted = name.trim();
  const save = (): void => {
    const before = saved; // a layout of the same name is replaced
    keep(currentLayout(wanted));
    setName('');
    toast(`The layout ${wanted} is saved`, { action: { label: 'Undo', onClick: () => store(before) } });
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        aria-label="Layouts"
        title="Layouts of the desk"
        className="rounded-xs p-1.5 text-dim hover:bg-hair hover:text-ink"
      >
        <PanelsTopLeft size={15} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          aria-label="Layouts"
          className="z-50 w-[270px] rounded-sm border border-line bg-paper p-3 text-ink shadow-[0_6px_20px_rgba(11,23,28,.18)]"
        >
          <h3 className="font-semibold">Layouts</h3>
          <p className="mt-0.5 mb-2 text-small text-dim">Columns, widths, folds and colours under a name.</p>
          <form
            className="flex gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              if (wanted) save();
            }}
          >
            <input
              value={name}
              onChange={(e) => setName(e.target.value)}
              maxLength={80}
              aria-label="Name of this layout"
              placeholder="Name of this layout"
              className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-2 py-1"
            />
            <Button type="submit" disabled={!wanted}>
              Save
            </Button>
          </form>
          <ul className="my-2">
            {saved.map((layout) => (
              <li key={layout.name} className="flex items-center gap-2 border-b border-hair py-1">
                <button
                  type="button"
                  onClick={() => bring(layout)}
                  className="min-w-0 flex-1 truncate text-left font-semibold hover:text-buoy-text"
                >
                  {layout.name}
                </button>
                <Button
                  kind="link"
                  aria-label={`Export ${layout.name}`}
                  onClick={() => saveFile(`${layout.name}.layout.json`, 'application/json', layoutFile(layout))}
                >
                  Export
                </Button>
                <button
                  type="button"
                  aria-label={`Remove ${layout.name}`}
                  onClick={() => remove(layout)}
                  className="rounded-xs p-0.5 text-dim hover:bg-hair hover:text-ink"
                >
                  <X size={13} />
                </button>
              </li>
            ))}
          </ul>
          <div className="flex justify-between">
            <Button onClick={() => file.current?.click()}>Bring back a file…</Button>
            <Button kind="link" onClick={() => bring(FIRST_LAYOUT)}>
              As at first
            </Button>
          </div>
          <input
            ref={file}
            type="file"
            accept=".json,application/json"
            aria-label="Layout file"
            className="hidden"
            onChange={(e) => {
              const chosen = e.target.files?.[0];
              e.target.value = '';
              if (chosen) void bringBack(chosen);
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
