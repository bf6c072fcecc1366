/** Settings saved to a file by category, and read from one; what was there before can be brought back. */
import { useState } from 'react';
import { toast } from 'sonner';
import type { DeskSettings } from '@early-set/core/api/settings';
import type { SavedPreset } from '@early-set/core/api/types';
import { complain } from '../data/actions.ts';
import { patch, post, remove } from '../data/api.ts';
import { usePresets } from '../data/hooks.ts';
import type { Layout } from '../data/layouts.ts';
import { useRemembered } from '../data/remembered.ts';
import {
  categoriesIn,
  only,
  partsOf,
  readSettingsFile,
  SETTING_CATEGORIES,
  settingsFile,
  withNames,
  type SettingCategory,
  type SettingsParts,
} from '../data/settingsFile.ts';
import { Button } from '../ui/Button.tsx';
import { Dialog } from '../ui/Dialog.tsx';
import { saveFile } from '../ui/saveFile.ts';
import { useFileChooser } from '../ui/useFileChooser.tsx';

const WORDS: Record<SettingCategory, string> = {
  edits: 'Edits, tags and quarantine',
  naming: 'File names and folders',
  ready: 'What "ready" asks for',
  duplicates: 'Which duplicate stays',
  listening: 'Key lock',
  backups: 'When backups are made, and how long they stay',
  presets: 'Cleaning presets',
  layouts: 'Layouts saved in this browser',
};
const NONE: Layout[] = [];

interface Read {
  name: string;
  parts: SettingsParts;
}

export function SettingsFile({ settings }: { settings: DeskSettings }) {
  const { data: presets = [] } = usePresets();
  const [layouts, store] = useRemembered<Layout[]>('layouts', NONE);
  /** What is open: saving, or a file that was read. */
  const [open, setOpen] = useState<'save' | Read | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<SettingCategory>>(new Set(SETTING_CATEGORIES));
  const [busy, setBusy] = useState(false);
  const here = { settings, presets, layouts };
  const offered = open === null ? [] : open === 'save' ? SETTING_CATEGORIES : categoriesIn(open.parts);
  const wanted = new Set(offered.filter((category) => chosen.has(category)));
  const { choose, input } = useFileChooser('Settings file', '.json,application/json', (file) => {
    file
      .text()
      .then((text) => {
        setOpen({ name: file.name, parts: readSettingsFile(text) });
        setChosen(new Set(SETTING_CATEGORIES));
      })
      .catch((error: unknown) => toast.error(`${file.name}: ${(error as Error).message}`));
  });
  const close = (): void => setOpen(null);
  const save = (): void => {
    saveFile('Early Set.settings.json', 'application/json', settingsFile(partsOf(here, wanted)));
    close();
  };
  const apply = async (): Promise<void> => {
    if (open === null || open === 'save') return;
    setBusy(true);
    const before = partsOf(here, wanted);
    try {
      const made = await putInPlace(only(open.parts, wanted), settings, presets);
      if (wanted.has('layouts')) store(withNames(layouts, open.parts.layouts ?? []));
      close();
      const undo = async (): Promise<void> => {
        for (const id of made) await remove(`/presets/${id}`);
        await putInPlace(before, settings, presets);
        if (before.layouts) store(before.layouts);
      };
      toast(`The settings of ${open.name} are in place`, {
        action: { label: 'Undo', onClick: () => void undo().catch(complain) },
      });
    } catch (error) {
      complain(error);
    }
    setBusy(false);
  };
  return (
    <>
      <span className="flex gap-4">
        <Button
          kind="link"
          onClick={() => {
            setChosen(new Set(SETTING_CATEGORIES));
            setOpen('save');
          }}
        >
          Save to a file…
        </Button>
        <Button kind="link" onClick={choose}>
          Read from a file…
        </Button>
      </span>
      {input}
      <Dialog
        open={open !== null}
        onClose={close}
        title={open === 'save' ? 'Save settings to a file' : `Read settings from ${open?.name ?? ''}`}
        note={
          open === 'save'
            ? 'For another computer, or to come back to. Tracks and lists are not in it.'
            : 'They take the place of those that are here. Presets and layouts of other names stay.'
        }
      >
        {offered.map((category) => (
          <label key={category} className="flex items-center gap-2 py-0.5">
            <input
              type="checkbox"
              checked={chosen.has(category)}
              onChange={(e) => {
                const next = new Set(chosen);
                if (e.target.checked) next.add(category);
                else next.delete(category);
                setChosen(next);
              }}
              className="accent-ink"
            />
            {WORDS[category]}
          </label>
        ))}
        <div className="mt-3 flex justify-end gap-3">
          <Button onClick={close}>Cancel</Button>
          <Button
            kind="main"
            disabled={busy || wanted.size === 0}
            onClick={open === 'save' ? save : () => void apply()}
          >
            {open === 'save' ? 'Save' : 'Put in place'}
          </Button>
        </div>
      </Dialog>
    </>
  );
}

/** @returns ids of presets that were not there before */
async function putInPlace(
  { settings, backups, presets = [] }: SettingsParts,
  here: DeskSettings,
  known: readonly SavedPreset[],
): Promise<number[]> {
  if (Object.keys(settings).length > 0) await patch('/settings', settings);
  if (backups) await patch('/backups/settings', { ...backups, folder: here.backups.folder });
  const made: number[] = [];
  for (const preset of presets) {
    const same = known.find(({ name }) => name === preset.name);
    if (same) await patch(`/presets/${same.id}`, preset);
    else made.push((await post<SavedPreset>('/presets', preset)).id);
  }
  return made;
}
