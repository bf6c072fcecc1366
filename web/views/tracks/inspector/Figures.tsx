/** The figures at the top of the inspector: of one track, or of several together. */
import type { ReactNode } from 'react';
import useSWR from 'swr';
import type { Selection, TrackDetails, TracksSummary } from '@early-set/core/api/types';
import { clockLength } from '@early-set/core/clock/clock';
import { signatureLabel, shortKey } from '@early-set/core/fields/keys';
import { several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useServerEvents } from '../../../data/events.ts';
import { figure } from '../../../ui/format.ts';

/** The four figures that matter most of a track. */
export function Figures({ track }: { track: TrackDetails }) {
  const v = track.values;
  // Only what was measured can have no beat.
  const none = track.analysis ? 'no beat' : 'not measured';
  const steady = v.tempoSteady === true ? 'steady grid' : v.tempoSteady === false ? 'drifts' : none;
  const confidence = typeof v.keyConfidence === 'number' ? `confidence ${v.keyConfidence.toFixed(2)}` : '';
  const figures: [string, string][] = [
    [typeof v.bpm === 'number' ? v.bpm.toFixed(2) : '–', `BPM · ${steady}`],
    [v.key ? `${shortKey(String(v.key))} ${signatureLabel(String(v.key))}` : '–', confidence || 'key'],
    [
      typeof v.lufs === 'number' ? figure(v.lufs, 1) : '–',
      `LUFS${typeof v.truePeakDbtp === 'number' ? ` · ${figure(v.truePeakDbtp, 1)} dBTP` : ''}`,
    ],
    [
      typeof v.energy === 'number' ? String(v.energy) : '–',
      `energy${typeof v.energy === 'number' ? ` · ${energyWord(v.energy)}` : ''}`,
    ],
  ];
  return <Four figures={figures} />;
}

function Four({ figures }: { figures: readonly (readonly [big: string, small: string])[] }) {
  return (
    <dl className="mx-3.5 grid grid-cols-2 border border-line bg-sheet">
      {figures.map(([big, small], i) => (
        <div
          key={small}
          className={`flex flex-col-reverse px-2.5 py-1.5 ${i % 2 ? 'border-l border-line' : ''} ${
            i > 1 ? 'border-t border-line' : ''
          }`}
        >
          <dt className="truncate text-tiny text-dim" title={small}>
            {small}
          </dt>
          <dd className="heading truncate text-[18px] leading-6" title={big}>
            {big}
          </dd>
        </div>
      ))}
    </dl>
  );
}

/** Several tracks: how many, how long, and from where to where. */
export function Together({
  selection,
  title,
  counted = false,
  children,
}: {
  selection: Selection;
  title: string;
  /** The title does not say how many there are. */
  counted?: boolean;
  children?: ReactNode;
}) {
  const { data, mutate } = useSWR<TracksSummary, Error>(
    ['summary', JSON.stringify(selection)],
    () => post<TracksSummary>('/tracks/summary', { selection }),
    { keepPreviousData: true },
  );
  useServerEvents(['tracks'], () => void mutate(), 500);
  const reach = (of: TracksSummary['bpm'] | undefined, digits: number): string =>
    !of ? '–' : [...new Set([of.from, of.to].map((v) => figure(v, digits)))].join(' to ');
  const keys = data?.keys.map((k) => shortKey(k)).join(', ') ?? '';
  const more = (data?.keyCount ?? 0) - (data?.keys.length ?? 0);
  return (
    <section aria-label={title}>
      <div className="flex gap-3 p-3.5 pb-3">
        {children}
        <div className="min-w-0">
          <h2 className="heading text-[16.5px] leading-tight">{title}</h2>
          <p className="mt-0.5 text-dim">
            {data &&
              [counted && several(data.tracks, 'track'), clockLength(data.totalSeconds)].filter(Boolean).join(', ')}
          </p>
          <p className="text-small text-dim">{keys && `${keys}${more > 0 ? ` and ${more} more keys` : ''}`}</p>
        </div>
      </div>
      <Four
        figures={[
          [reach(data?.bpm, 0), 'BPM'],
          [String(data?.keyCount ?? '–'), data?.keyCount === 1 ? 'key' : 'keys'],
          [reach(data?.lufs, 0), 'LUFS'],
          [reach(data?.energy, 0), 'energy'],
        ]}
      />
    </section>
  );
}

const energyWord = (e: number): string =>
  e < 25 ? 'still' : e < 45 ? 'easy' : e < 65 ? 'moving' : e < 82 ? 'pushing' : 'full';
