/**
 * Presets: saved, loaded, duplicated, removed, exported and imported; and those that come ready-made.
 */
import { Copy, Download, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import type { SavedPreset } from '@early-set/core/api/types';
import { READY_MADE, readPreset, presetText, toSave, type Preset } from '@early-set/core/clean/presets';
import { complain, perform, several } from '../../data/actions.ts';
import { patch, post, remove } from '../../data/api.ts';
import { usePresets } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { SaveAs } from '../../ui/form/SaveAs.tsx';
import { saveFile } from '../../ui/saveFile.ts';
import { useFileChooser } from '../../ui/useFileChooser.tsx';
import type { StepsState } from './useSteps.ts';

const ICON = 'rounded-xs p-1 text-dim hover:bg-hair hover:text-ink';

export function Presets({ state }: { state: StepsState }) {
  const { preset } = state;
  const [open, setOpen] = useState(false);
  const { data: saved = [] } = usePresets();
  const { choose, input } = useFileChooser(
    'Preset file',
    '.json,application/json',
    (chosen) => void importFile(chosen),
  );
  const savedAs = (name: string): SavedPreset | undefined => saved.find((s) => s.name === name);
  const take = (taken: Preset, id: number | null): void => {
    const before = preset;
    state.take(taken, id);
    setOpen(false);
    toast(`${taken.name} is loaded`, { action: { label: 'Undo', onClick: () => state.keep(before) } });
  };
  const save = async (name: string, over: SavedPreset | undefined): Promise<void> => {
    const body = { name, steps: toSave(preset.steps) };
    const kept = await perform(
      over ? patch<SavedPreset>(`/presets/${over.id}`, body) : post<SavedPreset>('/presets', body),
    );
    if (!kept) return;
    state.keep({ ...preset, id: kept.id, name: kept.name });
    toast(`${kept.name} is saved`, {
      action: {
        label: 'Undo',
        onClick: () =>
          void perform(
            over ? patch(`/presets/${over.id}`, { name: over.name, steps: over.steps }) : remove(`/presets/${kept.id}`),
          ),
      },
    });
  };
  const removeOne = async (one: SavedPreset): Promise<void> => {
    if (await perform(remove<SavedPreset>(`/presets/${one.id}`)))
      toast(`${one.name} is removed`, {
        action: { label: 'Undo', onClick: () => void perform(post('/presets', { name: one.name, steps: one.steps })) },
      });
  };
  const importFile = async (chosen: File): Promise<void> => {
    try {
      const read = readPreset(await chosen.text());
      if (typeof read === 'string') toast.error(`${chosen.name}: ${read}`);
      else take(read, null);
    } catch (error) {
      complain(error);
    }
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button>Presets</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={5}
          aria-label="Presets"
          className="floating max-h-[75vh] w-[310px] overflow-y-auto p-3"
        >
          <SaveAs
            key={preset.name}
            label="Name of this preset"
            first={preset.name}
            onSave={(name) => void save(name, savedAs(name))}
            words={(name) => (savedAs(name) ? 'Replace' : 'Save')}
          />
          {saved.length > 0 && <h3 className="mt-3 mb-1 text-small text-dim">Saved</h3>}
          <ul>
            {saved.map((one) => (
              <li key={one.id} className="flex items-center gap-0.5 border-b border-hair py-0.5">
                <button
                  type="button"
                  onClick={() => take(one, one.id)}
                  className="min-w-0 flex-1 truncate py-1 text-left font-semibold hover:text-buoy-text"
                >
                  {one.name} <span className="font-normal text-dim">{several(one.steps.length, 'step')}</span>
                </button>
                <button
                  type="button"
                  aria-label={`Duplicate ${one.name}`}
                  title="Duplicate"
                  onClick={() => void perform(post('/presets', { name: `${one.name}, copy`, steps: one.steps }))}
                  className={ICON}
                >
                  <Copy size={13} />
                </button>
                <button
                  type="button"
                  aria-label={`Export ${one.name}`}
                  title="Export as JSON"
                  onClick={() => saveFile(`${one.name}.preset.json`, 'application/json', presetText(one))}
                  className={ICON}
                >
                  <Download size={13} />
                </button>
                <button
                  type="button"
                  aria-label={`Remove ${one.name}`}
                  title="Remove"
                  onClick={() => void removeOne(one)}
                  className={ICON}
                >
                  <X size={13} />
                </button>
              </li>
            ))}
          </ul>
          <h3 className="mt-3 mb-1 text-small text-dim">Ready-made</h3>
          <ul>
            {READY_MADE.map((one) => (
              <li key={one.name} className="border-b border-hair">
                <button
                  type="button"
                  onClick={() => take(one, null)}
                  className="w-full py-1.5 text-left font-semibold hover:text-buoy-text"
                >
                  {one.name} <span className="font-normal text-dim">{several(one.steps.length, 'step')}</span>
                </button>
              </li>
            ))}
          </ul>
          <Button className="mt-3" onClick={choose}>
            Import…
          </Button>
          {input}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
