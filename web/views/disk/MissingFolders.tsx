/** Where missing files were: by library folder and folder, with how many and since when; a press shows only those. */
import type { NotFoundLine } from '@early-set/core/api/disk';
import { folderOf } from '@early-set/core/files/paths';
import { day } from '../../ui/format.ts';
import { Part } from './Part.tsx';

/** Tells folders of different library folders apart. */
export const folderKey = ({ rootId, path }: Pick<NotFoundLine, 'rootId' | 'path'>): string =>
  `${rootId} ${folderOf(path)}`;

interface Props {
  lines: readonly NotFoundLine[];
  /** What alone is shown; null for everything. */
  only: string | null;
  onOnly: (key: string | null) => void;
}

export function MissingFolders({ lines, only, onOnly }: Props) {
  const folders = new Map<string, { label: string; count: number; since: string }>();
  for (const line of lines) {
    const key = folderKey(line),
      { count = 0, since = line.since } = folders.get(key) ?? {};
    const label = [line.root, folderOf(line.path).replace(/\/$/, '')].filter(Boolean).join(' / ');
    folders.set(key, { label, count: count + 1, since: since < line.since ? since : line.since });
  }
  const order = [...folders].sort(([, a], [, b]) => b.count - a.count || a.label.localeCompare(b.label, 'en'));
  return (
    <section aria-label="Where they were">
      <h2 className="heading mb-1.5 text-[17px]">Where they were</h2>
      <ul className="max-h-[36vh] overflow-y-auto">
        <Part label="Everything" count={lines.length} on={only === null} onPress={() => onOnly(null)} />
        {order.map(([key, { label, count, since }]) => (
          <Part
            key={key}
            label={label}
            note={`since ${day(since)}`}
            count={count}
            on={only === key}
            onPress={() => onOnly(only === key ? null : key)}
          />
        ))}
      </ul>
    </section>
  );
}
