/** Two lists beside each other: only here, only there, in both; and what can be done about it. */
import type { Applied, ListContents, ListLine } from '@early-set/core/api/types';
import { compareLists, heldTwice } from '@early-set/core/changes/compare';
import { change, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useList } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { nameOf } from '../../ui/format.ts';

type Two = readonly [ListLine, ListLine];

export function CompareDialog({ lists, onClose }: { lists: Two | null; onClose: () => void }) {
  return (
    <Dialog open={lists !== null} onClose={onClose} title="Compare two lists" wide>
      {lists && <Compared lists={lists} />}
    </Dialog>
  );
}

const tracksOf = (list: ListContents): number[] => list.entries.flatMap((e) => (e.id > 0 ? [e.id] : []));

function Compared({ lists: [a, b] }: { lists: Two }) {
  const { data: first } = useList(a.id),
    { data: second } = useList(b.id);
  if (first?.id !== a.id || second?.id !== b.id) return <p aria-busy="true">Comparing…</p>;
  const [here, there] = [tracksOf(first), tracksOf(second)];
  const { onlyFirst, onlySecond, both, sameOrder } = compareLists(here, there);
  const names = new Map([...first.entries, ...second.entries].map((e) => [e.id, nameOf(e)]));
  const cut = first.total > first.entries.length || second.total > second.entries.length;
  const order =
    both.length < 2
      ? ''
      : sameOrder === both.length
        ? ', in the same order'
        : `, ${both.length - sameOrder} of them in another order`;
  const add = (to: ListLine, ids: number[]): void =>
    void change(post<Applied>(`/lists/${to.id}/entries`, { selection: { ids } }));
  const take = (from: ListLine, other: ListLine): void =>
    void change(post<Applied>(`/lists/${from.id}/take-out`, { listId: other.id }));
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-3">
      <p data-testid="compared">
        <b>{several(both.length, 'track')}</b> in both{order}.
        {cut && <span className="text-dim"> Of a self-filling crate only the first 2,000 tracks are compared.</span>}
      </p>
      <div className="grid min-h-0 flex-1 grid-cols-2 gap-3">
        {(
          [
            [a, b, onlyFirst, here],
            [b, a, onlySecond, there],
          ] as const
        ).map(([own, other, only, all]) => {
          const twice = heldTwice(all);
          return (
            <section key={own.id} aria-label={`Only in ${own.name}`} className="flex min-h-0 min-w-0 flex-col">
              <h3 className="truncate font-semibold" title={own.name}>
                Only in {own.name}: {only.length.toLocaleString('en-GB')}
              </h3>
              {twice.length > 0 && (
                <p className="text-small text-sodium-text" title={twice.map((id) => names.get(id)).join('\n')}>
                  {several(twice.length, 'track')} more than once
                </p>
              )}
              <ul className="mt-1 h-[250px] overflow-y-auto rounded-xs border border-line bg-sheet">
                {only.map((id) => (
                  <li key={id} className="truncate border-b border-hair px-2 py-1">
                    {names.get(id)}
                  </li>
                ))}
                {only.length === 0 && <li className="px-2 py-1 text-dim">Nothing</li>}
              </ul>
              <div className="mt-2 flex flex-wrap gap-2">
                <Button disabled={only.length === 0 || other.rule !== null} onClick={() => add(other, [...only])}>
                  Add these to {shortened(other.name)}
                </Button>
                <Button disabled={both.length === 0 || own.rule !== null} onClick={() => take(own, other)}>
                  Take out what is in both
                </Button>
              </div>
            </section>
          );
        })}
      </div>
    </div>
  );
}

const shortened = (name: string): string => (name.length > 24 ? `${name.slice(0, 23)}…` : name);
