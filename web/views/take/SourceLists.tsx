/** The lists of another collection, as they lie there; one is shown, or put into the basket as a whole. */
import { ListPlus } from 'lucide-react';
import type { TakeList, TakeLook } from '@early-set/core/api/take';

interface Props {
  look: TakeLook | undefined;
  /** Null: all tracks. */
  current: string | null;
  onOpen: (list: string | null) => void;
  onAdd: (list: TakeList) => void;
  taken: ReadonlySet<string>;
}

/** Rows in the order of their places: what a list lies in stands over it, once. */
function rowsOf(
  lists: readonly TakeList[],
): ({ place: string; key: string; depth: number } | { list: TakeList; depth: number })[] {
  const rows: ReturnType<typeof rowsOf> = [];
  const said = new Set<string>();
  const sorted = [...lists].sort((a, b) =>
    [...a.place, a.name].join('\n').localeCompare([...b.place, b.name].join('\n'), 'en', { numeric: true }),
  );
  for (const list of sorted) {
    list.place.forEach((place, depth) => {
      const key = list.place.slice(0, depth + 1).join('\n');
      if (said.has(key)) return;
      said.add(key);
      rows.push({ place, key, depth });
    });
    rows.push({ list, depth: list.place.length });
  }
  return rows;
}

const ROW = 'flex w-full items-center gap-1 border-b border-hair py-1.5 pr-1 text-left';

export function SourceLists({ look, current, onOpen, onAdd, taken }: Props) {
  const all = look ? look.counts.new + look.counts.here + look.counts['not found'] : null;
  return (
    <aside aria-label="Lists there" className="h-full overflow-y-auto bg-fog p-3.5">
      <h2 className="text-small font-semibold text-dim">Lists there</h2>
      <ul className="mt-1">
        <li className={ROW}>
          <Opener on={current === null} onOpen={() => onOpen(null)} depth={0} name="All tracks" count={all} />
        </li>
        {look &&
          rowsOf(look.lists).map((row) =>
            'place' in row ? (
              <li
                key={`place ${row.key}`}
                className="truncate border-b border-hair py-1.5 text-small text-dim"
                style={{ paddingLeft: row.depth * 14 + 6 }}
              >
                {row.place}
              </li>
            ) : (
              <li key={row.list.id} className={ROW}>
                <Opener
                  on={current === row.list.id}
                  onOpen={() => onOpen(row.list.id)}
                  depth={row.depth}
                  name={row.list.name}
                  count={row.list.tracks}
                  fresh={row.list.fresh}
                />
                <button
                  type="button"
                  aria-label={`Put the list ${row.list.name} into the basket`}
                  title="Put the whole list into the basket"
                  disabled={taken.has(row.list.id)}
                  onClick={() => onAdd(row.list)}
                  className="rounded-xs p-1 text-dim hover:bg-hair hover:text-ink disabled:opacity-30"
                >
                  <ListPlus size={15} />
                </button>
              </li>
            ),
          )}
      </ul>
      {look?.lists.length === 0 && <p className="mt-2 text-small text-dim">It has no lists.</p>}
    </aside>
  );
}

interface OpenerProps {
  on: boolean;
  onOpen: () => void;
  depth: number;
  name: string;
  count: number | null;
  fresh?: number;
}

const Opener = ({ on, onOpen, depth, name, count, fresh = 0 }: OpenerProps) => (
  <button
    type="button"
    aria-current={on ? 'true' : undefined}
    onClick={onOpen}
    title={name}
    style={{ paddingLeft: depth * 14 + 6 }}
    className={`flex min-w-0 flex-1 items-center gap-2 rounded-xs py-0.5 text-left ${on ? 'font-semibold' : ''} hover:text-buoy-text`}
  >
    <span className="min-w-0 flex-1 truncate">{name}</span>
    {fresh > 0 && <span className="text-small text-kelp">{fresh.toLocaleString('en-GB')} new</span>}
    <span className="figures text-small text-dim">{count?.toLocaleString('en-GB')}</span>
  </button>
);
