/** What the library is handed over to, and how far behind each is. */
import { Link } from 'react-router';
import type { DestinationLine } from '@early-set/core/api/handover';
import type { StickLine } from '@early-set/core/api/stick';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { stateOf as stickState } from './stick/words.ts';

interface Props {
  all: readonly DestinationLine[];
  sticks: readonly StickLine[];
  /** The end of the path of the one that is shown. */
  current: string | null;
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

export const Destinations = ({ all, sticks, current, onAdd }: Props) => (
  <aside aria-label="Destinations" className="flex h-full flex-col gap-2 overflow-y-auto bg-fog p-3.5">
    <h2 className="text-small font-semibold text-dim">Destinations</h2>
    <ul className="flex flex-col gap-2">
      {all.map((d) => (
        <Card key={d.id} {...d} path={String(d.id)} current={current} state={stateOf(d)} />
      ))}
      {sticks.map((s) => (
        <Card
          key={`stick ${s.id}`}
          {...s}
          what={s.playerName !== s.name ? `for ${s.playerName}` : s.isPlayout ? 'playout system' : 'player'}
          path={`stick/${s.id}`}
          current={current}
          state={stickState(s)}
        />
      ))}
    </ul>
    <Button className="self-start" onClick={onAdd}>
      Add a destination…
    </Button>
  </aside>
);

interface CardProps {
  name: string;
  what: string;
  folder: string;
  path: string;
  current: string | null;
  state: [words: string, tone: string];
}

const Card = ({ name, what, folder, path, current, state: [words, tone] }: CardProps) => (
  <li>
    <Link
      to={`/handover/${path}`}
      aria-current={path === current ? 'page' : undefined}
      className={`block border border-line px-3 py-2 ${path === current ? 'bg-chosen' : 'bg-paper hover:border-tide-deep'}`}
      title={folder}
    >
      <span className="block truncate font-semibold">{name}</span>
      <span className="block text-small text-dim">{what}</span>
      <span className={`block text-small ${tone}`}>{words}</span>
    </Link>
  </li>
);
