/** What the library is handed over to, and how far behind each is. */
import { Link } from 'react-router';
import type { DestinationLine } from '@early-set/core/api/handover';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';

interface Props {
  all: readonly DestinationLine[];
  current: number | null;
  onAdd: () => void;
}

/** What is to be said of it in one line, and in which tone. */
function stateOf({ trouble, waiting, syncedAt }: DestinationLine): [words: string, tone: string] {
  if (trouble) return ['cannot be read', 'text-flare'];
  if (!waiting) return ['not compared yet', 'text-dim'];
  const changes = waiting.out + waiting.in + waiting.clash;
  if (changes > 0) return [`${several(changes, 'change')} waiting`, 'text-sodium-text'];
  return [syncedAt === null ? 'nothing to do' : 'up to date', 'text-kelp'];
}

export const Destinations = ({ all, current, onAdd }: Props) => (
  <aside aria-label="Destinations" className="flex h-full flex-col gap-2 overflow-y-auto bg-fog p-3.5">
    <h2 className="text-small font-semibold text-dim">Destinations</h2>
    <ul className="flex flex-col gap-2">
      {all.map((d) => {
        const [words, tone] = stateOf(d);
        return (
          <li key={d.id}>
            <Link
              to={`/handover/${d.id}`}
              aria-current={d.id === current ? 'page' : undefined}
              className={`block border border-line px-3 py-2 ${d.id === current ? 'bg-chosen' : 'bg-paper hover:border-tide-deep'}`}
              title={d.folder}
            >
              <span className="block font-semibold">{d.name}</span>
              <span className="block text-small text-dim">{d.what}</span>
              <span className={`block text-small ${tone}`}>{words}</span>
            </Link>
          </li>
        );
      })}
    </ul>
    <Button className="self-start" onClick={onAdd}>
      Add a destination…
    </Button>
  </aside>
);
