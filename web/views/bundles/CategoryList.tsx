/** What is to be in it: boxes to check. */
import { CATEGORIES, type Category } from '@early-set/core/bundle/manifest';
import { CATEGORY_WORDS } from './categories.ts';

interface Props {
  chosen: ReadonlySet<Category>;
  /** Those that are not there at all. */
  missing?: (category: Category) => string | null;
  onChange: (chosen: ReadonlySet<Category>) => void;
}

export function CategoryList({ chosen, missing, onChange }: Props) {
  const set = (category: Category, on: boolean): void => {
    const next = new Set(chosen);
    if (on) next.add(category);
    else next.delete(category);
    onChange(next);
  };
  return CATEGORIES.map((category) => {
    const { label, note } = CATEGORY_WORDS[category];
    const why = missing?.(category) ?? null;
    return (
      <label key={category} className={`flex items-baseline gap-2 py-0.5 ${why ? 'opacity-60' : ''}`}>
        <input
          type="checkbox"
          checked={why === null && (category === 'tracks' || chosen.has(category))}
          disabled={category === 'tracks' || why !== null}
          onChange={(e) => set(category, e.target.checked)}
          className="accent-ink"
        />
        <span>
          <span className="font-semibold">{label}</span> <span className="text-small text-dim">{why ?? note}</span>
        </span>
      </label>
    );
  });
}
