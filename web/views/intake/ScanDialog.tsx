/** What a scan came to: each figure opens its tracks, and what was not taken is named. */
import type { ScanFigures } from '@early-set/core/api/intake';
import type { Condition, ScanPart } from '@early-set/core/conditions/condition';
import { SCAN_WORDS } from '@early-set/core/conditions/words';
import { clockLength } from '@early-set/core/clock/clock';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { several } from '../../data/actions.ts';
import { useScanFigures } from '../../data/hooks.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import { dayAndTime } from '../../ui/format.ts';
import { sheetAddress } from '../tracks/filters/filters.ts';

/** The tracks of which a scan found this, or of those the ones that meet something more. */
export function scanAddress(scan: { id: number; startedAt: string }, as: ScanPart, more?: Condition): string {
  const of: Condition = { ofScan: scan.id, as };
  const label = `${SCAN_WORDS[as]} ${dayAndTime(scan.startedAt)}`;
  return sheetAddress(label[0]!.toUpperCase() + label.slice(1), more ? { all: [of, more] } : of);
}

interface Props {
  /** Null while none is looked at. */
  runId: number | null;
  onClose: () => void;
}

export function ScanDialog({ runId, onClose }: Props) {
  const { data, error } = useScanFigures(runId);
  return (
    <Dialog
      open={runId !== null}
      onClose={onClose}
      title={data?.title ?? 'Report'}
      note={data && noteOf(data)}
      wide={!!data?.refused.length}
    >
      {error && (
        <p role="alert" className="text-flare">
          {error.message}
        </p>
      )}
      {data && <Figures scan={data} />}
    </Dialog>
  );
}

const noteOf = ({ startedAt, seconds, found }: ScanFigures): string =>
  [
    dayAndTime(startedAt),
    seconds === null ? 'still running' : `took ${seconds < 60 ? `${seconds.toFixed(1)} s` : clockLength(seconds)}`,
    found === null ? null : `${several(found, 'file')} looked at`,
  ]
    .filter(Boolean)
    .join(', ');

const PARTS: readonly ScanPart[] = ['taken', 'changed', 'returned', 'missing'];

function Figures({ scan }: { scan: ScanFigures }) {
  const { parts, since, refused, newlyRefused, notTaken, newFiles } = scan;
  const taken = parts.taken?.here ?? 0;
  const rest = taken - since.measured - since.waiting - since.failed;
  const state = (words: string, figure: number, ...values: string[]): ReactNode =>
    figure > 0 && (
      <Line
        below
        label={words}
        figure={figure}
        to={scanAddress(scan, 'taken', { field: 'analysisState', test: 'one of', values })}
      />
    );
  return (
    <>
      <dl className="max-w-[420px] min-w-[320px]">
        {PARTS.map((part) => {
          const figures = parts[part];
          if (!figures) return null;
          const gone = figures.tracks - figures.here;
          return (
            <Line
              key={part}
              label={`${SCAN_WORDS[part][0]!.toUpperCase()}${SCAN_WORDS[part].slice(1)}`}
              figure={figures.tracks}
              to={figures.here > 0 ? scanAddress(scan, part) : null}
              note={gone > 0 ? `${gone.toLocaleString('en-GB')} not in the library any more` : undefined}
            />
          );
        })}
        {Object.keys(parts).length === 0 && <p className="py-1 text-dim">No track was new, changed or missing.</p>}
        {state('of them measured', since.measured, 'done')}
        {state('waiting to be measured', since.waiting, 'waiting', 'running')}
        {state('could not be measured', since.failed, 'failed')}
        {state('not to be measured', rest, 'none')}
        {since.duplicates > 0 && (
          <Line
            below
            label="of them duplicates"
            figure={since.duplicates}
            to={scanAddress(scan, 'taken', { field: 'duplicate', test: 'is', value: true })}
          />
        )}
        {newFiles.cleaned && (
          <Line
            label={`Cleaned with ${newFiles.cleaned.preset}`}
            figure={newFiles.cleaned.tracks}
            to={newFiles.cleaned.changeSetId === null ? null : `/changes?set=${newFiles.cleaned.changeSetId}`}
            note={
              [
                newFiles.cleaned.asked > 0 && `questions about ${several(newFiles.cleaned.asked, 'track')} left open`,
                ...newFiles.cleaned.left,
              ]
                .filter(Boolean)
                .join('; ') || undefined
            }
          />
        )}
        {newFiles.put && (
          <Line
            label="Moved by the naming rules"
            figure={newFiles.put.files}
            to={`/changes?set=${newFiles.put.changeSetId}`}
          />
        )}
        {newFiles.newFilesTrouble && <p className="py-1 text-flare">{newFiles.newFilesTrouble}</p>}
        <Line
          label="Not taken"
          figure={notTaken}
          note={notTaken > 0 ? refusedNote(notTaken, newlyRefused) : undefined}
        />
      </dl>
      {refused.length > 0 && (
        <ul aria-label="Not taken for the first time" className="mt-2 max-h-[220px] overflow-auto border border-line">
          {refused.map(({ path, reason }) => (
            <li key={path} className="flex gap-3 border-b border-hair px-2 py-1 text-small last:border-0">
              <span className="min-w-0 flex-1 truncate" title={path}>
                {path}
              </span>
              <span className="text-sodium-text">{reason}</span>
            </li>
          ))}
        </ul>
      )}
      {newlyRefused > refused.length && (
        <p className="pt-1 text-small text-dim">and {(newlyRefused - refused.length).toLocaleString('en-GB')} more</p>
      )}
    </>
  );
}

const refusedNote = (all: number, newly: number): string =>
  newly === all
    ? 'for the first time'
    : newly === 0
      ? 'as before'
      : `${newly.toLocaleString('en-GB')} for the first time`;

interface LineProps {
  label: string;
  figure: number;
  to?: string | null;
  note?: string;
  /** It counts some of what the line above it counts. */
  below?: boolean;
}

function Line({ label, figure, to, note, below = false }: LineProps) {
  const digits = figure.toLocaleString('en-GB');
  return (
    <div className="flex items-baseline gap-3 border-b border-hair py-1">
      <dt className={`flex-1 ${below ? 'pl-5' : ''}`}>
        {label}
        {note && <span className="pl-2 text-small text-dim">{note}</span>}
      </dt>
      <dd className="figures">
        {to ? (
          <Link to={to} className="font-semibold text-buoy-text underline" aria-label={`${digits} ${label}`}>
            {digits}
          </Link>
        ) : (
          digits
        )}
      </dd>
    </div>
  );
}
