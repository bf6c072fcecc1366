/** What applying would do, what is in the way, and by which rules. */
import type { ComparisonAnswer, DestinationLine, DestinationSettings, SyncStep } from '@early-set/core/api/handover';
import type { Choice } from '@early-set/core/sync/decide';
import { complain, several } from '../../data/actions.ts';
import { patch } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { bytes } from '../../ui/format.ts';
import { canApply, fieldLabel, onlyToRemember, stepText } from './words.ts';
import { RemoveDestination } from './RemoveDestination.tsx';
import { Rules } from './Rules.tsx';

interface Props {
  destination: DestinationLine;
  comparison: ComparisonAnswer;
  /** It is being applied. */
  busy: boolean;
  /** How far that is. */
  step: SyncStep | null;
  onCancel: () => void;
  /** How many lines somebody has chosen for. */
  chosen: number;
  /** Chooses for all lines of a field that are still open. */
  onChoose: (field: string, choice: Choice) => void;
  onDiscard: () => void;
  onApply: () => void;
}

const SIDES: readonly Choice[] = ['here', 'there', 'both'];
const n = (count: number): string => count.toLocaleString('en-GB');

export function BeforeWriting(props: Props) {
  const { destination, comparison, busy, step, chosen, onCancel, onChoose, onDiscard, onApply } = props;
  const { name, readOnly } = destination;
  const { made, undecided, checks, counts, losses, problems } = comparison;
  const keep = (wish: Partial<DestinationSettings>): void =>
    void patch(`/destinations/${destination.id}`, { settings: wish }).catch(complain);
  const changes = made.lines;
  const remember = onlyToRemember(destination, comparison);
  const open = losses.filter((l) => !l.accepted);
  return (
    <aside aria-label="Before writing" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      <section>
        <h2 className="heading mb-1.5 text-[17px]">{readOnly ? 'Before applying' : 'Before writing'}</h2>
        <dl className="grid grid-cols-2 border border-line">
          {readOnly ? (
            <Figure label="there and here" value={counts.tied} />
          ) : (
            <Figure label={`to ${name}`} value={made.out} />
          )}
          <Figure label={`from ${name}`} value={made.in} />
          <Figure label="to choose" value={made.undecided} tone={made.undecided > 0 ? 'text-flare' : ''} />
          <Figure label="only there" value={counts.notHere} />
        </dl>
        <ul className="mt-2.5">
          {!readOnly && (
            <Check
              label={`${name} is closed`}
              value={checks.openedBy === null ? 'yes' : `open: ${checks.openedBy}`}
              good={checks.openedBy === null}
            />
          )}
          {checks.notFound > 0 && <Check label="Its files that are nowhere" value={n(checks.notFound)} good={false} />}
          {problems.length > 0 && (
            <Check
              label="Its lines that cannot be read"
              value={n(problems.length)}
              good={false}
              title={problems.map((p) => `${p.where}: ${p.reason}`).join('\n')}
            />
          )}
          {readOnly ? (
            <Check label="The bundle itself" value="stays as it is" />
          ) : (
            <Check label="Backup before writing" value={`all its data, ${bytes(checks.bytes)}`} />
          )}
        </ul>
      </section>
      {undecided.length > 0 && (
        <section aria-label="To choose">
          <h2 className="mb-1 text-small font-semibold text-dim">To choose, all of a field</h2>
          <ul>
            {undecided.map(({ field, lines, both }) => (
              <li key={field} className="flex items-center gap-2 border-b border-hair py-1 text-small">
                <span className="min-w-0 flex-1 truncate">
                  {fieldLabel(field)} <span className="figures text-dim">{n(lines)}</span>
                </span>
                {SIDES.filter((side) => (side === 'both' ? both : side !== 'here' || !readOnly)).map((side) => (
                  <Button
                    key={side}
                    kind="link"
                    aria-label={`${fieldLabel(field)}: ${side}`}
                    onClick={() => onChoose(field, side)}
                  >
                    {side}
                  </Button>
                ))}
              </li>
            ))}
          </ul>
        </section>
      )}
      {losses.length > 0 && !readOnly && (
        <section aria-label="Cannot be stored there">
          <h2 className="mb-1 text-small font-semibold text-dim">Cannot be stored there</h2>
          <ul>
            {(open.length > 0 ? open : losses).map((loss) => (
              <li
                key={loss.id}
                className="flex gap-2 border-b border-hair py-1 text-small"
                title={loss.names.join(', ')}
              >
                <span className="min-w-0 flex-1">
                  {fieldLabel(loss.field)}: {loss.reason}
                </span>
                <span className="figures text-dim">{n(loss.tracks)}</span>
              </li>
            ))}
          </ul>
          {open.length > 0 ? (
            <Button className="mt-1.5" onClick={() => keep({ accepted: losses.map((l) => l.id) })}>
              Accept
            </Button>
          ) : (
            <p className="mt-1 text-small text-dim">Accepted. It stays here.</p>
          )}
        </section>
      )}
      <Rules destination={destination} nowhere={comparison.notHere.at(-1)?.path ?? null} onKeep={keep} />
      <RemoveDestination destination={destination} />
      <span className="flex-1" />
      <section aria-label="Draft" className="sticky -bottom-3.5 border border-ink bg-chosen p-3">
        <p className="font-semibold">
          {remember
            ? `${name} and this desk say the same`
            : changes === 0
              ? 'Nothing to apply'
              : `${several(changes, 'change')} ${readOnly ? 'here' : `for ${name} and here`}`}
        </p>
        <p className="mt-1 text-small text-dim">
          {made.undecided > 0
            ? `${several(made.undecided, 'line is', 'lines are')} still to choose, and left as they are. `
            : ''}
          {remember
            ? 'Remembered as the first sync, it is known later which side has changed what.'
            : readOnly
              ? 'Can be undone.'
              : 'Can be undone on both sides.'}
        </p>
        {busy && step && (
          <p role="status" className="figures mt-1 text-small">
            {stepText(step)}
          </p>
        )}
        <div className="mt-2.5 flex justify-end gap-2">
          {busy ? (
            <Button onClick={onCancel}>Cancel</Button>
          ) : (
            <Button onClick={onDiscard} disabled={chosen === 0}>
              Discard
            </Button>
          )}
          <Button
            kind="main"
            disabled={!canApply(destination, comparison) || busy || checks.openedBy !== null}
            onClick={onApply}
          >
            {busy ? 'Applying…' : remember ? 'Remember' : 'Apply'}
          </Button>
        </div>
      </section>
    </aside>
  );
}

const Figure = ({ label, value, tone = '' }: { label: string; value: number; tone?: string }) => (
  <div className="flex flex-col-reverse border-line px-2.5 py-1.5 odd:border-r [&:nth-child(n+3)]:border-t">
    <dt className="text-small text-dim">{label}</dt>
    <dd className={`figures text-[15px] font-semibold ${tone}`}>{n(value)}</dd>
  </div>
);

const Check = ({ label, value, good, title }: { label: string; value: string; good?: boolean; title?: string }) => (
  <li className="flex gap-3 border-b border-hair py-1.5 text-small" title={title}>
    <span className="min-w-0 flex-1">{label}</span>
    <span className={`text-right ${good === undefined ? 'text-dim' : good ? 'text-kelp' : 'text-flare'}`}>{value}</span>
  </li>
);
