/** Layouts: how the page is arranged, saved, loaded, exported and imported. */
import { PanelsTopLeft, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import { useRemembered } from '../data/remembered.ts';
import { Button } from '../ui/Button.tsx';
import { SaveAs } from '../ui/form/SaveAs.tsx';
import { saveFile } from '../ui/saveFile.ts';
import { useFileChooser } from '../ui/useFileChooser.tsx';
import { currentLayout, FIRST_LAYOUT, layoutFile, readLayoutFile, arrangeDesk, type Layout } from '../data/layouts.ts';

const NONE: Layout[] = [];

export function Layouts() {
  const [saved, store] = useRemembered<Layout[]>('layouts', NONE);
  const [open, setOpen] = useState(false);
  const { choose, input } = useFileChooser(
    'Layout file',
    '.json,application/json',
    (chosen) => void importFile(chosen),
  );
  const keep = (layout: Layout): void =>
    store([...saved.filter((l) => l.name !== layout.name), layout].sort((a, b) => a.name.localeCompare(b.name)));
  const bring = (layout: Layout): void => {
    const before = currentLayout('before');
    arrangeDesk(layout);
    setOpen(false);
    toast(`The layout ${layout.name} is loaded`, { action: { label: 'Undo', onClick: () => arrangeDesk(before) } });
  };
  const remove = (layout: Layout): void => {
    store(saved.filter((l) => l !== layout));
    toast(`The layout ${layout.name} is removed`, { action: { label: 'Undo', onClick: () => store(saved) } });
  };
  const importFile = async (chosen: File): Promise<void> => {
    try {
      const layout = readLayoutFile(await chosen.text());
      keep(layout);
      bring(layout);
    } catch (error) {
      toast.error(`${chosen.name}: ${(error as Error).message}`);
    }
  };
  const save = (name: string): void => {
    const before = saved; // a layout of the same name is replaced
    keep(currentLayout(name));
    toast(`The layout ${name} is saved`, { action: { label: 'Undo', onClick: () => store(before) } });
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        aria-label="Layouts"
        title="Layouts"
        className="rounded-xs p-1.5 text-dim hover:bg-hair hover:text-ink"
      >
        <PanelsTopLeft size={15} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={6} aria-label="Layouts" className="floating w-[270px] p-3">
          <h3 className="font-semibold">Layouts</h3>
          <p className="mt-0.5 mb-2 text-small text-dim">Columns, widths, folds and colours under a name.</p>
          <SaveAs label="Name of this layout" first="" onSave={save} />
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
            <Button onClick={choose}>Import…</Button>
            <Button kind="link" onClick={() => bring(FIRST_LAYOUT)}>
              Reset
            </Button>
          </div>
          {input}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
