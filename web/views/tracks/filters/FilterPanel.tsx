/** The left column: pictures of the collection that narrow it when touched. */
import type { FacetList, Facets } from '@early-set/core/api/types';
import { clockLength } from '@early-set/core/clock/clock';
import { FolderFilter } from './FolderFilter.tsx';
import { Histogram } from './Histogram.tsx';
import { NEED_LABELS, type Filters, type Narrow } from './filters.ts';
import { FindBox } from './FindBox.tsx';
import { KeyPicture } from './KeyPicture.tsx';
import { FilterLine, ValueList } from './ValueList.tsx';

/** Lists that also offer what is empty. */
const WITH_NONE: readonly FacetList[] = ['genre', 'artist', 'rating', 'comment'];
/** Five stars first. */
const byStars = (values: Facets['lists']['rating']) => values.toSorted((a, b) => Number(b.value) - Number(a.value));

interface Props {
  filters: Filters;
  onNarrow: Narrow;
  facets: Facets | undefined;
}

export function FilterPanel({ filters, onNarrow, facets }: Props) {
  const setRange = (name: keyof Filters['ranges']) => (range: { low: number; high: number } | null) =>
    onNarrow((now) => ({ ...now, ranges: { ...now.ranges, [name]: range ?? undefined } }));
  const list = (name: FacetList, title: string) =>
    facets && (
      <ValueList
        title={title}
        name={name}
        values={name === 'rating' ? byStars(facets.lists.rating) : facets.lists[name]}
        none={WITH_NONE.includes(name) ? facets.none[name] : 0}
        filters={filters}
        onNarrow={onNarrow}
      />
    );
  return (
    <aside aria-label="Filters" className="h-full overflow-y-auto bg-fog px-3.5 pt-3 pb-6">
      <FindBox
        value={filters.find}
        findIn={filters.findIn}
        onChange={(find) => onNarrow((now) => ({ ...now, find }))}
        onFindIn={(findIn) => onNarrow((now) => ({ ...now, findIn }))}
      />
      {facets && (
        <>
          <Histogram
            title="Tempo"
            unit="BPM"
            data={facets.histograms.tempo}
            range={filters.ranges.tempo ?? null}
            onChange={setRange('tempo')}
          />
          <KeyPicture facets={facets} filters={filters} onNarrow={onNarrow} />
          <Histogram
            title="Energy"
            unit=""
            data={facets.histograms.energy}
            range={filters.ranges.energy ?? null}
            onChange={setRange('energy')}
            ends={['still', 'full']}
          />
          {list('genre', 'Genre')}
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
                      onNarrow((now) => ({
                        ...now,
                        needs: now.needs.includes(id) ? now.needs.filter((n) => n !== id) : [...now.needs, id],
                      }))
                    }
                  />
                );
              })}
              {[...NEED_LABELS.keys()].every((id) => !facets.needs[id]) && (
                <li className="py-1 text-dim">Nothing; all is in order</li>
              )}
            </ul>
          </section>
          {list('rating', 'Stars')}
          {list('moods', 'Moods')}
          {list('freeTags', 'Free tags')}
          <FolderFilter
            folders={facets.folders}
            chosen={filters.folder}
            onChoose={(folder) => onNarrow((now) => ({ ...now, folder }))}
          />
          {list('artist', 'Artist')}
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
          {list('format', 'Format')}
          {list('comment', 'Comment')}
          {list('hearLater', 'Hear later')}
        </>
      )}
    </aside>
  );
}
