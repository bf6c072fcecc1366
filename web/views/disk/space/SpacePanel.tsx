/** What the chosen band holds, and the draft that puts what is marked into quarantine. */
import { Link } from 'react-router';
import type { Condition } from '@early-set/core/conditions/condition';
import type { SpaceNode } from '@early-set/core/space/space';
import { several } from '../../../data/actions.ts';
import { Button } from '../../../ui/Button.tsx';
import { bytes } from '../../../ui/format.ts';
import { sheetAddress } from '../../tracks/filters/filters.ts';
import { DraftCard } from '../DraftCard.tsx';
import type { Mark, Retiring } from './useRetiring.ts';

interface Props {
  name: string;
  node: SpaceNode | undefined;
  /** Of all there is. */
  share: number | null;
  /** Its tracks. */
  where: Condition | null;
  /** How it would be marked; undefined where it cannot be. */
  mark: Mark | undefined;
  retiring: Retiring;
}

export function SpacePanel({ name, node, share, where, mark, retiring }: Props) {
  const { look } = retiring;
  return (
    <aside aria-label="What it holds" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      {node && (
        <section className="flex flex-col gap-2.5">
          <h2 className="heading text-[17px] break-words">{name}</h2>
          <dl className="grid grid-cols-2 gap-px border border-line bg-line">
            <Fact
              figure={bytes(node.bytes)}
              words={
                share === null || share === 1 ? 'in all' : `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} % of all`
              }
            />
            <Fact figure={node.files.toLocaleString('en-GB')} words="files" />
            <Fact
              figure={node.tracks.toLocaleString('en-GB')}
              words={`tracks, ${node.listed.toLocaleString('en-GB')} in lists`}
            />
            <Fact figure={node.samples.toLocaleString('en-GB')} words="loops, samples" />
          </dl>
          {node.samples > 0 && (
            <p className="text-small text-dim">
              Loops and samples are told by length and name. Set their kind in Tracks where that is wrong.
            </p>
          )}
          <div className="flex flex-wrap gap-2">
            {where && node.tracks > 0 && (
              <Link
                to={sheetAddress(name, where)}
                className="border border-line bg-sheet px-2.5 py-1 font-semibold hover:border-ink"
              >
                Show in Tracks
              </Link>
            )}
            {mark && (
              <Button onClick={() => retiring.toggle([mark])}>
                {retiring.has(mark.id) ? 'Take out of the draft' : 'Put into the draft'}
              </Button>
            )}
          </div>
        </section>
      )}
      {retiring.marks.length > 0 && (
        <>
          <section aria-label="In this draft">
            <h3 className="text-small font-semibold text-dim">In this draft</h3>
            <ul>
              {retiring.marks.map((m) => (
                <li key={m.id} className="flex items-baseline gap-2 border-b border-line py-1">
                  <span className="min-w-0 flex-1 truncate" title={m.label}>
                    {m.label}
                  </span>
                  <span className="figures text-small">{bytes(m.bytes)}</span>
                  <Button
                    kind="link"
                    aria-label={`Take ${m.label} out of the draft`}
                    onClick={() => retiring.toggle([m])}
                  >
                    Take out
                  </Button>
                </li>
              ))}
            </ul>
          </section>
          <DraftCard
            label="Draft for quarantine"
            title={
              retiring.trouble
                ? 'These files could not be counted'
                : look
                  ? `${several(look.files, 'file')} to quarantine, ${bytes(look.bytes)}`
                  : 'Counting…'
            }
            note={retiring.trouble ?? (look ? noteOf(look.listed) : '')}
            disabled={retiring.trouble !== null || !look || look.files === 0 || retiring.busy}
            onDiscard={retiring.discard}
            onApply={retiring.apply}
          />
        </>
      )}
    </aside>
  );
}

const noteOf = (listed: number): string =>
  `${listed === 0 ? 'None is in a list.' : `${several(listed, 'is', 'are')} in lists.`} The space is free once the quarantine is emptied. Files that are not tracks stay.`;

const Fact = ({ figure, words }: { figure: string; words: string }) => (
  <div className="flex flex-col-reverse bg-paper px-2.5 py-2">
    <dt className="text-small text-dim">{words}</dt>
    <dd className="text-[15px] font-semibold">{figure}</dd>
  </div>
);
