/** The left column: pictures of the collection that narrow it when touched. */
import type { Facets } from '@early-set/core/api/types';
import { clockLength } from '@early-set/core/clock/clock';
import { signatureOf } from '@early-set/core/fields/keys';
import { FolderFilter } from './FolderFilter.tsx';
import { Histogram } from './Histogram.tsx';
import { NEED_LABELS, majorOf, signaturesOf, type Filters } from './filters.ts';
import { FindBox } from './FindBox.tsx';
import { FilterLine, ValueList } from './ValueList.tsx';

interface Props {
  filters: Filters;
  onChange: (filters: Filters) => void;
  facets: Facets | undefined;
}

export function FilterPanel({ filters, onChange, facets }: Props) {
  const setRange = (name: keyof Filters['ranges']) => (range: { low: number; high: number } | null) =>
    onChange({ ...filters, ranges: { ...filters.ranges, [name]: range ?? undefined } });
  return (
    <aside aria-label="Filters" className="h-full overflow-y-auto bg-fog px-3.5 pt-3 pb-6">
      <FindBox value={filters.find} onChange={(find) => onChange({ ...filters, find })} />
      {facets && (
        <>
          <Histogram
            title="Tempo"
            unit="BPM"
            data={facets.histograms.tempo}
            range={filters.ranges.tempo ?? null}
            onChange={setRange('tempo')}
          />
          <KeyPicture facets={facets} filters={filters} onChange={onChange} />
          <Histogram
            title="Energy"
            unit=""
            data={facets.histograms.energy}
            range={filters.ranges.energy ?? null}
            onChange={setRange('energy')}
            ends={['still', 'full']}
          />
          <ValueList
            title="Genre"
            name="genre"
            values={facets.lists.genre}
            none={facets.none.genre}
            filters={filters}
            onChange={onChange}
          />
          <section className="mt-4" aria-label="Needs">
            <h3 className="mb-1 font-semibold">Needs</h3>
            <ul>
              {[...NEED_LABELS].map(([id, label]) => {
                const count = facets.needs[id] ?? 0;
                const chosen = filters.needs.includes(id);
                if (count === 0 && !chosen) return null;
                return (
                  <FilterLine
                    key={id}
                    label={label}
                    count={count}
                    chosen={chosen}
                    urgent
                    onClick={() =>
                      onChange({
                        ...filters,
                        needs: chosen ? filters.needs.filter((n) => n !== id) : [...filters.needs, id],
                      })
                    }
                  />
                );
              })}
              {[...NEED_LABELS.keys()].every((id) => !facets.needs[id]) && (
                <li className="py-1 text-dim">Nothing; all is in order</li>
              )}
            </ul>
          </section>
          <FolderFilter
            folders={facets.folders}
            chosen={filters.folder}
            onChoose={(folder) => onChange({ ...filters, folder })}
          />
          <ValueList
            title="Artist"
            name="artist"
            values={facets.lists.artist}
            none={facets.none.artist}
            filters={filters}
            onChange={onChange}
          />
          <Histogram
            title="Year"
            unit=""
            data={facets.histograms.year}
            range={filters.ranges.year ?? null}
            onChange={setRange('year')}
          />
          <Histogram
            title="Length"
            unit=""
            data={facets.histograms.length}
            range={filters.ranges.length ?? null}
            onChange={setRange('length')}
            show={clockLength}
          />
          <ValueList
            title="Format"
            name="format"
            values={facets.lists.format}
            none={0}
            filters={filters}
            onChange={onChange}
          />
        </>
      )}
    </aside>
  );
}

/**
 * Keys by signature around the circle of fifths; a click takes one and its neighbours, a second one narrows to it
 * alone, a third lets go.
 */
function KeyPicture({ facets, filters, onChange }: Props & { facets: Facets }) {
  const counts = new Map<number, number>();
  for (const [key, n] of Object.entries(facets.keys)) {
    const s = key ? signatureOf(key) : null;
    if (s !== null) counts.set(s, (counts.get(s) ?? 0) + n);
  }
  const most = Math.max(1, ...counts.values());
  const chosen = new Set(filters.key ? signaturesOf(filters.key) : []);
  const press = (signature: number): void => {
    const now = filters.key;
    onChange({
      ...filters,
      key: now?.signature !== signature ? { signature, reach: 1 } : now.reach > 0 ? { signature, reach: 0 } : null,
    });
  };
  return (
    <section className="mt-4">
      <h3 className="mb-1 flex items-baseline justify-between font-semibold">
        Key
        {filters.key && (
          <span className="figures text-tiny text-buoy-text">
            {filters.key.reach ? 'around ' : ''}
            {majorOf(filters.key.signature)}
          </span>
        )}
      </h3>
      <div
        className="flex h-[40px] items-end gap-px border-b border-tide-deep"
        role="group"
        aria-label="Keys around the circle of fifths"
      >
        {Array.from({ length: 12 }, (_, i) => i - 5).map((s) => {
          const n = counts.get(s) ?? 0;
          const words = `${majorOf(s)} major and its relative minor: ${n}`;
          return (
            <button
              key={s}
              type="button"
              aria-pressed={chosen.has(s)}
              aria-label={words}
              title={words}
              onClick={() => press(s)}
              className="group flex h-full flex-1 items-end"
            >
              <span
                className={`block w-full ${chosen.has(s) ? 'bg-buoy' : 'bg-tide-deep/70 group-hover:bg-tide-deep'}`}
                style={{ height: n ? `${Math.max(6, (n / most) * 100)}%` : '2px' }}
              />
            </button>
          );
        })}
      </div>
      <div className="flex text-[10px] leading-4 text-dim" aria-hidden="true">
        {Array.from({ length: 12 }, (_, i) => (
          <span key={i} className="flex-1 text-center tracking-tighter">
            {majorOf(i - 5)}
          </span>
        ))}
      </div>
      <div className="figures flex justify-between text-tiny text-dim" aria-hidden="true">
        <span>5♭</span>
        <span>0</span>
        <span>6♯</span>
      </div>
    </section>
  );
}
