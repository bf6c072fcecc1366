/** The latest change sets, each with the way to its details and the way back. */
import { Link } from 'react-router';
import { change, takeBack } from '../../data/actions.ts';
import { useChanges } from '../../data/hooks.ts';
import { dayAndTime } from '../../ui/format.ts';

export function LastChanges() {
  const { data: sets = [] } = useChanges(6);
  return (
    <section aria-label="Changed last">
      <h2 className="heading mb-1 text-[16px]">Changed last</h2>
      {sets.length === 0 && <p className="text-small text-dim">Nothing yet.</p>}
      <ul>
        {sets.map((s) => (
          <li key={s.id} className="flex items-baseline gap-2 border-b border-hair py-1 text-small">
            <Link
              to={`/changes?set=${s.id}`}
              title={`${s.title}, ${dayAndTime(s.madeAt)}`}
              className={`min-w-0 flex-1 truncate hover:text-buoy-text hover:underline ${s.undoneBy !== null ? 'text-dim line-through' : ''}`}
            >
              {s.title}
            </Link>
            {s.undoneBy === null && s.waiting === 0 && (
              <button
                type="button"
                aria-label={`Undo: ${s.title}`}
                onClick={() => void change(takeBack(`/changes/${s.id}/undo`))}
                className="font-semibold text-buoy-text hover:underline"
              >
                Undo
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
