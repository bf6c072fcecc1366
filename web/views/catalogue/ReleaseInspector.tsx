/** The right column: why it is this release, what would be taken field by field, and the draft card. */
import type { Candidate, GroupDetails, TakePolicies } from '@early-set/core/api/catalogue';
import { CATALOGUE_FIELDS, proposals, type Proposal } from '@early-set/core/catalogue/proposals';
import { goesIn, type ChosenPolicy } from '@early-set/core/fields/merge';
import { fieldOf } from '@early-set/core/fields/table';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Difference } from '../../ui/Difference.tsx';
import { textOf } from '../../ui/format.ts';
import { EditsGoTo } from '../changes/EditsGoTo.tsx';

const POLICIES: [ChosenPolicy, string][] = [
  ['fill gaps', 'fill gaps'],
  ['replace', "catalogue's"],
  ['keep', 'mine'],
];
const SELECT = 'rounded-xs border border-line bg-sheet px-1 text-small';

interface PolicyProps {
  of: string;
  value: ChosenPolicy;
  onChange: (policy: ChosenPolicy) => void;
}
const PolicySelect = ({ of, value, onChange }: PolicyProps) => (
  <select
    aria-label={`What is applied of ${of}`}
    value={value}
    onChange={(e) => onChange(e.target.value as ChosenPolicy)}
    className={SELECT}
  >
    {POLICIES.map(([id, label]) => (
      <option key={id} value={id}>
        {label}
      </option>
    ))}
  </select>
);

interface Props {
  group: GroupDetails;
  candidate: Candidate | undefined;
  policies: TakePolicies;
  onPolicies: (p: TakePolicies) => void;
  inHand: number | null;
  onTake: () => void;
  onSkip: (skipped: boolean) => void;
  busy: boolean;
}

export function ReleaseInspector({ group, candidate, policies, onPolicies, inHand, onTake, onSkip, busy }: Props) {
  const byTrack = new Map<number, Proposal[]>(
    candidate
      ? group.trackList.flatMap((t) => {
          const line = candidate.match.lines[t.id];
          return line === undefined
            ? []
            : [
                [
                  t.id,
                  proposals(t.values, t.locked, candidate.release, candidate.release.tracks[line]!, policies),
                ] as const,
              ];
        })
      : [],
  );
  const all = [...byTrack.values()].flat(),
    taken = all.filter((p) => p.taken);
  const tracks = [...byTrack.values()].filter((ps) => ps.some((p) => p.taken)).length;
  const pictures = candidate?.release.hasPicture
    ? group.trackList.filter((t) => byTrack.has(t.id) && goesIn(t.artHash, policies.picture)).length
    : 0;
  const shown = byTrack.get(inHand ?? -1) ?? [...byTrack.values()].find((p) => p.length > 0) ?? [];
  const shownTrack = group.trackList.find((t) => byTrack.get(t.id) === shown);
  const differing = CATALOGUE_FIELDS.filter((f) => all.some((p) => p.field === f));
  const set = (field: (typeof CATALOGUE_FIELDS)[number], policy: ChosenPolicy): void =>
    onPolicies({ ...policies, fields: { ...policies.fields, [field]: policy } });
  return (
    <aside aria-label="What would be applied" className="flex h-full flex-col bg-paper">
      <div className="min-h-0 flex-1 overflow-y-auto px-3.5 pt-3">
        <h2 className="heading text-[17px]">{candidate ? candidate.release.title : group.name}</h2>
        {candidate && (
          <p className="text-small text-dim">
            {[
              candidate.release.artists.join(', '),
              candidate.release.year,
              candidate.release.label,
              candidate.release.catalogueNumber,
            ]
              .filter(Boolean)
              .map(String)
              .join(' · ')}
          </p>
        )}
        {candidate && (
          <>
            <p className="mt-2">
              <span className="heading text-[18px]">{candidate.match.score.toFixed(2)}</span>{' '}
              <span className="text-small text-dim">match</span>
            </p>
            <ul className="text-small">
              {candidate.match.reasons.map((r) => (
                <li key={r} className="border-b border-hair py-0.5">
                  {r}
                </li>
              ))}
            </ul>
            <h3 className="mt-3 mb-1 font-semibold">What is applied</h3>
            <div className="mb-1 flex gap-2 text-small">
              {POLICIES.map(([id, label]) => (
                <button
                  key={id}
                  type="button"
                  onClick={() =>
                    onPolicies({
                      ...policies,
                      fields: Object.fromEntries(CATALOGUE_FIELDS.map((f) => [f, id])) as TakePolicies['fields'],
                    })
                  }
                  className="text-buoy-text hover:underline"
                >
                  all: {label}
                </button>
              ))}
            </div>
            <table className="w-full text-small">
              <tbody>
                {differing.map((f) => (
                  <tr key={f} className="border-b border-hair">
                    <td className="py-0.5">{fieldOf(f).label}</td>
                    <td className="figures px-1 text-right text-dim" title="tracks that would change">
                      {all.filter((p) => p.field === f && p.taken).length || ''}
                    </td>
                    <td className="w-[92px] text-right">
                      <PolicySelect
                        of={fieldOf(f).label}
                        value={policies.fields[f]}
                        onChange={(policy) => set(f, policy)}
                      />
                    </td>
                  </tr>
                ))}
                {candidate.release.hasPicture && (
                  <tr className="border-b border-hair">
                    <td className="py-0.5">Cover</td>
                    <td className="figures px-1 text-right text-dim">{pictures || ''}</td>
                    <td className="text-right">
                      <PolicySelect
                        of="the cover"
                        value={policies.picture}
                        onChange={(picture) => onPolicies({ ...policies, picture })}
                      />
                    </td>
                  </tr>
                )}
                <tr>
                  <td className="py-0.5">Genres as</td>
                  <td />
                  <td className="text-right">
                    <select
                      aria-label="Genres as"
                      value={policies.genres}
                      onChange={(e) => onPolicies({ ...policies, genres: e.target.value as TakePolicies['genres'] })}
                      className={SELECT}
                    >
                      <option value="genre">genre</option>
                      <option value="sub-genre">sub-genre</option>
                      <option value="both">both</option>
                    </select>
                  </td>
                </tr>
              </tbody>
            </table>
            {shownTrack && shown.length > 0 && (
              <section aria-label="This track" className="mt-3">
                <p className="text-tiny break-all text-dim">{shownTrack.path}</p>
                <dl className="text-small">
                  {shown.map((p) => (
                    <div key={p.field} className={`flex gap-2 border-b border-hair py-0.5`}>
                      <dt className="w-[70px] shrink-0 text-dim">{fieldOf(p.field).label}</dt>
                      <dd className="min-w-0 flex-1 break-words">
                        {p.taken ? (
                          <Difference before={textOf(p.field, p.ours)} after={textOf(p.field, p.theirs)} />
                        ) : (
                          <>
                            {textOf(p.field, p.ours)}{' '}
                            <span className="text-dim">
                              (catalogue: {textOf(p.field, p.theirs)}
                              {p.locked ? ', locked' : ''})
                            </span>
                          </>
                        )}
                      </dd>
                    </div>
                  ))}
                </dl>
              </section>
            )}
            {candidate.release.credits.length > 0 && (
              <p className="mt-3 text-tiny text-dim">
                {candidate.release.credits.map((c) => `${c.name}: ${c.role}`).join('; ')}
              </p>
            )}
            <div className="mt-3 grid grid-cols-[62px_1fr] gap-2 text-small">
              <span className="text-dim">Goes to</span>
              <EditsGoTo />
            </div>
          </>
        )}
      </div>
      <div className="m-3.5 border border-dim bg-chosen p-3" data-testid="draft-card">
        <div className="flex items-center gap-2">
          <p className="min-w-0 flex-1 text-small">
            <span className="block text-[13px] font-semibold">
              {taken.length + pictures === 0
                ? 'Nothing would change'
                : `${several(taken.length, 'field')}${pictures ? `, ${several(pictures, 'cover')}` : ''}`}
            </span>
            {tracks > 0 && `on ${several(tracks, 'track')}`}
          </p>
          <Button onClick={() => onSkip(group.state !== 'skipped')}>
            {group.state === 'skipped' ? 'Do not skip' : 'Skip'}
          </Button>
          <Button kind="main" disabled={busy || taken.length + pictures === 0} onClick={onTake}>
            Apply
          </Button>
        </div>
      </div>
    </aside>
  );
}
