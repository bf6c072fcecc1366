/** Where edits go: into the library and the files, or into the library only. */
import type { DeskSettings } from '@early-set/core/api/settings';
import { perform } from '../../data/actions.ts';
import { patch } from '../../data/api.ts';
import { useSettings } from '../../data/hooks.ts';

export function EditsGoTo() {
  const { data: settings } = useSettings();
  return (
    <select
      aria-label="Where edits go"
      value={settings?.editsGoTo ?? 'library and files'}
      disabled={!settings}
      onChange={(e) => void perform(patch<DeskSettings>('/settings', { editsGoTo: e.target.value }))}
      className="w-full rounded-xs border border-line bg-sheet px-1 py-px"
    >
      <option value="library and files">Library and the files’ tags</option>
      <option value="library">Library only; files later</option>
    </select>
  );
}
