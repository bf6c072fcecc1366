/** Which file stays: an order of one's own, what the one that stays takes over, and the draft. */
import { arrayMove } from '@dnd-kit/sortable';
import { CRITERIA, type Criterion } from '@early-set/core/duplicates/keep';
import { several } from '../../../data/actions.ts';
import { bytes } from '../../../ui/format.ts';
import { Reorder, useReorderLine } from '../../../ui/Reorder.tsx';
import { DraftCard } from '../DraftCard.tsx';
import { PreferredFolders } from './PreferredFolders.tsx';
import type { Settling } from './useSettling.ts';

export const CRITERION_WORDS: Record<Criterion, string> = {
  lossless: 'Lossless before lossy',
  bandwidth: 'Wider bandwidth',
  'not re-encoded': 'Not re-encoded',
  longest: 'Longest',
  'bit rate': 'Higher bit rate',
  'lists and cues': 'In lists, with cues',
  tags: 'More tags filled',
  folder: 'Preferred folder',
  'added first': 'Added first',
};

const TAKES: readonly [string, string][] = [
  ['Places in lists', 'all'],
  ['Cues and loops', 'where it has none'],
  ['Fields', 'fill gaps'],
  ['Moods, free tags, notes', 'joined'],
  ['Stars', 'the most'],
];

export function KeepPanel({ settling }: { settling: Settling }) {
  const { order, setOrder, decided, files, groups, apply, discard } = settling;
  const criteria = [...order.criteria, ...CRITERIA.filter((c) => !order.criteria.includes(c))];
  const move = (from: string, to: string): void =>
    setOrder({
      ...order,
      criteria: arrayMove(criteria, criteria.indexOf(from as Criterion), criteria.indexOf(to as Criterion)),
    });
  return (
    <aside aria-label="Which file stays" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      <section>
        <h2 className="heading text-[17px]">Which file stays</h2>
        <p className="mt-1 text-small text-dim">
          The first line that tells two files apart decides. Drag a line, or move it with the arrow keys.
        </p>
        <Reorder ids={criteria} onMove={move}>
          <ol aria-label="What decides" className="mt-2 border-t border-line">
            {criteria.map((criterion) => (
              <Line key={criterion} criterion={criterion} count={decided.get(criterion) ?? 0} />
            ))}
          </ol>
        </Reorder>
      </section>
      <PreferredFolders order={order} known={settling.folders} onChange={setOrder} />
      <section>
        <h3 className="mb-1 text-small font-semibold text-dim">The file that stays takes over</h3>
        <dl>
          {TAKES.map(([what, how]) => (
            <div key={what} className="flex gap-2 border-b border-hair py-1">
              <dt className="flex-1">{what}</dt>
              <dd className="text-kelp">{how}</dd>
            </div>
          ))}
        </dl>
      </section>
      {groups > 0 && (
        <DraftCard
          label="Draft of duplicates"
          title={`${several(files, 'file')} to quarantine, ${bytes(settling.bytes)}`}
          note={`One file of each of ${several(groups, 'group')} stays. Nothing is deleted, and all of it can be undone.`}
          onDiscard={discard}
          onApply={apply}
        />
      )}
    </aside>
  );
}

function Line({ criterion, count }: { criterion: Criterion; count: number }) {
  const { ref, style, handle } = useReorderLine(criterion, CRITERION_WORDS[criterion]);
  return (
    <li ref={ref} style={style} className="flex items-center gap-1.5 border-b border-line bg-sheet py-1">
      {handle}
      <span className="flex-1">{CRITERION_WORDS[criterion]}</span>
      <span className="figures pr-1.5 text-dim" title="groups that it decides">
        {count}
      </span>
    </li>
  );
}
