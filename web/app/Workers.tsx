/** Who helps to measure on other computers, and which folders they do not have. Nothing where nobody does. */
import { useWorkers } from '../data/hooks.ts';
import { dayAndTime } from '../ui/format.ts';

export function Workers() {
  const { data: workers = [] } = useWorkers();
  const elsewhere = workers.filter((worker) => worker.elsewhere);
  if (elsewhere.length === 0) return null;
  return (
    <div>
      <p className="mb-1 font-semibold">Workers on other computers</p>
      <ul aria-label="Workers on other computers" className="border-t border-hair">
        {elsewhere.map(({ id, name, away, since }) => (
          <li key={id} className="border-b border-hair py-1 text-small">
            <p className="flex items-baseline gap-3">
              <span className="min-w-0 flex-1 truncate">{name}</span>
              <span className="figures text-dim">since {dayAndTime(since)}</span>
            </p>
            {away.length > 0 && (
              <p className="text-sodium-text">Not there: {away.join(', ')}. Tracks there are measured by others.</p>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
