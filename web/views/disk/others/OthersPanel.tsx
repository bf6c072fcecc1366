/** What there is besides music, by what it is: a press shows only that. */
import type { OtherFile } from '@early-set/core/api/disk';
import { bytes } from '../../../ui/format.ts';
import { Part } from '../Part.tsx';

interface Props {
  lines: readonly OtherFile[];
  /** What alone is shown; null for everything. */
  only: string | null;
  onOnly: (reason: string | null) => void;
}

export function OthersPanel({ lines, only, onOnly }: Props) {
  const parts = new Map<string, { count: number; size: number; folder: boolean }>();
  for (const { reason, size, what } of lines) {
    const part = parts.get(reason) ?? { count: 0, size: 0, folder: what === 'folder' };
    parts.set(reason, { ...part, count: part.count + 1, size: part.size + size });
  }
  const order = [...parts].sort(([a, x], [b, y]) => y.size - x.size || y.count - x.count || a.localeCompare(b, 'en'));
  return (
    <aside aria-label="What it is" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      <section>
        <h2 className="heading mb-1.5 text-[17px]">What it is</h2>
        <ul>
          <Part label="Everything" count={lines.length} on={only === null} onPress={() => onOnly(null)} />
          {order.map(([reason, { count, size, folder }]) => (
            <Part
              key={reason}
              label={reason}
              count={count}
              note={folder ? null : bytes(size)}
              on={only === reason}
              onPress={() => onOnly(only === reason ? null : reason)}
            />
          ))}
        </ul>
      </section>
      <p className="text-small text-dim">
        Files go into quarantine, where they stay until they are deleted there. Empty folders are removed. Both can be
        undone. Cue sheets, folder pictures and karaoke graphics that belong to tracks are not listed.
      </p>
    </aside>
  );
}
