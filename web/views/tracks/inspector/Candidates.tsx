/** What a tempo or key could be instead, each to hear and to take. */
import { Volume2 } from 'lucide-react';

export function Heading({ byHand, children }: { byHand: boolean; children: string }) {
  return (
    <h3 className="text-small font-semibold text-dim">
      {children}
      {byHand && <span className="ml-1.5 font-normal text-buoy-text">set by hand; measuring again leaves it</span>}
    </h3>
  );
}

interface Choice {
  name: string;
  weight: number;
  now: boolean;
  use: () => void;
  listen?: () => void;
}

export function Choices({ items, empty }: { items: Choice[]; empty: string }) {
  if (items.length === 0) return <p className="text-dim">{empty}</p>;
  return (
    <ul>
      {items.map((c) => (
        <li key={c.name} className="flex items-center">
          <button
            type="button"
            aria-pressed={c.now}
            onClick={c.use}
            disabled={c.now}
            aria-label={c.now ? `${c.name}, in use` : `Use ${c.name}`}
            title={c.now ? 'In use' : `Use ${c.name}`}
            className={`group flex min-w-0 flex-1 items-center gap-2 py-[3px] text-left ${c.now ? '' : 'hover:bg-hair'}`}
          >
            <span className={`figures w-[64px] ${c.now ? 'font-semibold' : 'text-dim group-hover:text-ink'}`}>
              {c.name}
            </span>
            <span aria-hidden="true" className="h-[6px] flex-1 bg-hair">
              <span
                className={`block h-full ${c.now ? 'bg-energy' : 'bg-tide-deep'}`}
                style={{ width: `${c.weight * 100}%` }}
              />
            </span>
            <span className="figures w-[40px] text-right text-tiny text-dim">{Math.round(c.weight * 100)} %</span>
          </button>
          {c.listen && <Listen name={c.name} onListen={c.listen} />}
        </li>
      ))}
    </ul>
  );
}

export function Listen({ name, onListen }: { name: string; onListen: () => void }) {
  return (
    <button
      type="button"
      aria-label={`Hear the chord of ${name}`}
      title="Hear its tonic chord"
      onClick={onListen}
      className="ml-1 rounded-xs p-1 text-dim hover:bg-hair hover:text-ink"
    >
      <Volume2 size={13} />
    </button>
  );
}
