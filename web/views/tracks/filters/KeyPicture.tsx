/** Keys around the circle of fifths, with how many tracks are in each. */
import type { Facets } from '@early-set/core/api/types';
import { ALL_KEYS, shortKey, signatureOf } from '@early-set/core/fields/keys';
import { majorOf, signaturesOf, type Filters, type KeyFilter, type Narrow } from './filters.ts';
import { FilterLine } from './ValueList.tsx';

interface Props {
  facets: Facets;
  filters: Filters;
  onNarrow: Narrow;
}

/** The major and the minor key of a signature: "C maj and A min". */
const keysOf = (signature: number): string =>
  ALL_KEYS.filter((key) => signatureOf(key) === signature)
    .map(shortKey)
    .join(' and ');

/**
 * Keys by signature; a click takes one, a second lets it go. Below stands what its neighbours add: each count is what
 * the click shows.
 */
export function KeyPicture({ facets, filters, onNarrow }: Props) {
  const counts = new Map<number, number>();
  for (const [key, n] of Object.entries(facets.keys)) {
    const s = key ? signatureOf(key) : null;
    if (s !== null) counts.set(s, (counts.get(s) ?? 0) + n);
  }
  const most = Math.max(1, ...counts.values());
  const chosen = new Set(filters.key ? signaturesOf(filters.key) : []);
  const press = (signature: number): void =>
    onNarrow((now) => ({ ...now, key: now.key?.signature === signature ? null : { signature, reach: 0 } }));
  const within = (wanted: KeyFilter): number => signaturesOf(wanted).reduce((n, s) => n + (counts.get(s) ?? 0), 0);
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
      {filters.key && (
        <ul className="mt-1">
          {[0, 1].map((reach) => {
            const wanted = { signature: filters.key!.signature, reach };
            return (
              <FilterLine
                key={reach}
                label={reach ? 'With neighbours' : keysOf(wanted.signature)}
                count={within(wanted)}
                chosen={filters.key!.reach === reach}
                onClick={() => onNarrow((now) => ({ ...now, key: wanted }))}
              />
            );
          })}
        </ul>
      )}
    </section>
  );
}
