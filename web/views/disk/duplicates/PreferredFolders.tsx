/** Folders whose files stay rather than those of others, the most preferred first. */
import { X } from 'lucide-react';
import type { KeepOrder } from '@early-set/core/duplicates/keep';
import { Reorder, useReorderLine } from '../../../ui/Reorder.tsx';

interface Props {
  order: KeepOrder;
  /** Folders that files of the groups lie in. */
  known: readonly string[];
  onChange: (order: KeepOrder) => void;
}

export function PreferredFolders({ order, known, onChange }: Props) {
  const { folders } = order;
  const set = (next: readonly string[]): void => onChange({ ...order, folders: next });
  const left = known.filter((folder) => !folders.includes(folder));
  const move = (from: string, to: string): void => {
    const next = [...folders];
    const target = next.indexOf(to);
    next.splice(target, 0, ...next.splice(next.indexOf(from), 1));
    set(next);
  };
  return (
    <section aria-label="Preferred folders">
      <h3 className="mb-1 text-small font-semibold text-dim">Preferred folders</h3>
      {folders.length === 0 && (
        <p className="text-small text-dim">None yet: the line “Preferred folder” above decides nothing.</p>
      )}
      <Reorder ids={folders} onMove={move}>
        <ol aria-label="Folders in order" className={folders.length > 0 ? 'border-t border-line' : ''}>
          {folders.map((folder) => (
            <Line key={folder} folder={folder} onRemove={() => set(folders.filter((f) => f !== folder))} />
          ))}
        </ol>
      </Reorder>
      {left.length > 0 && (
        <select
          aria-label="Add a preferred folder"
          value=""
          onChange={(e) => e.target.value && set([...folders, e.target.value])}
          className="mt-1.5 h-[28px] w-full rounded-xs border border-line bg-sheet px-1.5"
        >
          <option value="">Add a folder…</option>
          {left.map((folder) => (
            <option key={folder} value={folder}>
              {folder}
            </option>
          ))}
        </select>
      )}
    </section>
  );
}

function Line({ folder, onRemove }: { folder: string; onRemove: () => void }) {
  const { ref, style, handle } = useReorderLine(folder, folder);
  return (
    <li ref={ref} style={style} className="flex items-center gap-1.5 border-b border-line bg-sheet py-1">
      {handle}
      <span className="min-w-0 flex-1 truncate" title={folder}>
        {folder}
      </span>
      <button
        type="button"
        aria-label={`No longer prefer ${folder}`}
        onClick={onRemove}
        className="p-1 text-dim hover:text-flare"
      >
        <X size={12} />
      </button>
    </li>
  );
}
