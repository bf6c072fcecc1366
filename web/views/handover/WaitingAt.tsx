/** At which destinations lists are behind: what was changed since they were last handed over. */
import { Link } from 'react-router';
import { several } from '../../data/actions.ts';
import { useDestinations } from '../../data/hooks.ts';

interface Props {
  /** Ids of lists, with those that lie in them. */
  lists: readonly string[];
  /** It is wanted within days. */
  soon?: boolean;
}

export function WaitingAt({ lists, soon = false }: Props) {
  const { data = [] } = useDestinations();
  const behind = data.flatMap((d) => {
    const counts = lists.flatMap((id) => d.waiting?.lists?.[id] ?? []);
    return counts.length > 0 ? [{ ...d, changes: counts.length === 1 ? counts[0]! : null }] : [];
  });
  if (behind.length === 0) return null;
  return (
    <span className={`text-small ${soon ? 'font-semibold text-sodium-text' : 'text-dim'}`}>
      Not handed over yet:{' '}
      {behind.map(({ id, name, changes }, i) => (
        <span key={id}>
          {i > 0 && ', '}
          <Link to={`/handover/${id}`} className="underline hover:text-buoy-text">
            {name}
            {changes !== null && ` (${several(changes, 'change')})`}
          </Link>
        </span>
      ))}
    </span>
  );
}
