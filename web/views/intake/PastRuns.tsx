/** What has been done lately, what failed in it, and trying that again. */
import { mirrorInWords, type MirrorReport } from '@early-set/core/arrange/mirror';
import { Fragment, useState } from 'react';
import { Link } from 'react-router';
import type { CompareReport } from '@early-set/core/api/disk';
import type { TakeReport } from '@early-set/core/api/take';
import type { CopyReport, UnpackReport } from '@early-set/core/api/intake';
import type { ScanPart } from '@early-set/core/conditions/condition';
import type { FilesRunReport, RunProgress } from '@early-set/core/api/types';
import { perform, several } from '../../data/actions.ts';
import { get, post } from '../../data/api.ts';
import { useRunFailures } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { sheetAddress } from '../tracks/filters/filters.ts';
import { ScanDialog, scanAddress } from './ScanDialog.tsx';
import { TakenCounts, TakenLinks } from './TakenRun.tsx';
import { dayAndTime } from '../../ui/format.ts';

export function PastRuns({ runs }: { runs: RunProgress[] }) {
  const [earlier, setEarlier] = useState<RunProgress[]>([]);
  const [all, setAll] = useState(false);
  /** The scan whose report is open. */
  const [scan, setScan] = useState<number | null>(null);
  if (runs.length === 0) return null;
  const known = new Set(runs.map((r) => r.id));
  const shown = [...runs, ...earlier.filter((r) => !known.has(r.id))];
  const showEarlier = async (): Promise<void> => {
    const more = await perform(get<RunProgress[]>(`/runs?before=${shown.at(-1)!.id}`));
    if (!more) return;
    setEarlier([...earlier, ...more]);
    setAll(more.length === 0);
  };
  return (
    <div className="px-5 pb-6">
      <h2 className="heading text-[16px]">Done lately</h2>
      <ul className="mt-1">
        {shown.map((run) => (
          <PastRun key={run.id} run={run} onReport={() => setScan(run.id)} />
        ))}
      </ul>
      {!all && (
        <Button kind="link" className="mt-2" onClick={() => void showEarlier()}>
          Show earlier
        </Button>
      )}
      <ScanDialog runId={scan} onClose={() => setScan(null)} />
    </div>
  );
}

const ENDS: Record<RunProgress['state'], string> = { running: '', done: '', cancelled: 'cancelled', failed: 'failed' };

function comparedWords({ done, report }: RunProgress): string {
  const { here = 0, better = 0 } = (report ?? {}) as Partial<CompareReport>;
  const compared = `${several(done, 'track')} compared`;
  if (!here) return compared;
  const worse = here - better;
  const each = [better && `${better} better than what was here`, worse && `${worse} no better`].filter(Boolean);
  return `${compared}, ${here} of them here already: ${each.join(', ')}`;
}

function copiedWords({ done, report }: RunProgress): string {
  const { copied = done, here = 0, unnamed = 0, failed = 0 } = (report ?? {}) as Partial<CopyReport>;
  return [
    `${several(copied, 'file')} copied`,
    here > 0 && `${here} there already`,
    unnamed > 0 && `${unnamed} under their own names, since no rule names them`,
    failed > 0 && `${failed} not copied`,
  ]
    .filter(Boolean)
    .join(', ');
}

function unpackedWords({ done, report }: RunProgress): string {
  const { into } = (report ?? {}) as Partial<UnpackReport>;
  return into ? `${several(done, 'file')} into ${into}` : 'nothing unpacked';
}

/** Figures of a scan, each of which opens its tracks. */
function ScanCounts({ run, report }: { run: RunProgress; report: ScanCounted }) {
  const parts = (
    [
      ['taken', 'taken'],
      ['changed', 'changed'],
      ['returned', 'found again'],
      ['missing', 'missing'],
    ] as const
  ).filter(([part]) => report[part] > 0);
  if (parts.length === 0 && !report.remains) return <>nothing new among {several(report.found, 'file')}</>;
  return (
    <>
      {parts.map(([part, words], i) => (
        <Fragment key={part}>
          {i > 0 && ', '}
          {report.newlyRefused === undefined ? (
            `${report[part]} ${words}` // scans of before kept no list of their tracks
          ) : (
            <Link to={scanAddress(run, part)} className="underline hover:text-buoy-text">
              {report[part]} {words}
            </Link>
          )}
        </Fragment>
      ))}
      {report.remains ? `${parts.length ? ', ' : ''}${several(report.remains, 'unfinished file')} removed` : ''}
    </>
  );
}

interface ScanCounted extends Record<ScanPart, number> {
  found: number;
  remains?: number;
  newlyRefused?: number;
}

interface PastRunProps {
  run: RunProgress;
  onReport: () => void;
}

function PastRun({ run, onReport }: PastRunProps) {
  const [open, setOpen] = useState(false);
  const { data: failures = [] } = useRunFailures(open && run.kind === 'analysis' ? run.id : null);
  const report = run.report as
    | (ScanCounted & {
        notTaken: number;
        differs?: number;
        differing?: number[];
        changeSetId?: number | null;
        followed?: number;
        mirrors?: { listId: string; name: string; report: MirrorReport }[];
        mirrorTrouble?: string;
      })
    | null;
  const words =
    run.kind === 'intake' && report ? (
      <ScanCounts run={run} report={report} />
    ) : run.kind === 'analysis' ? (
      `${run.done} measured${run.failed ? `, ${run.failed} failed` : ''}`
    ) : run.kind === 'writing' ? (
      `${run.done} written${run.failed ? `, ${run.failed} left as they were` : ''}`
    ) : run.kind === 'lookup' ? (
      `${run.done} found${run.failed ? `, ${run.failed} not` : ''}`
    ) : run.kind === 'unpacking' ? (
      unpackedWords(run)
    ) : run.kind === 'copying' ? (
      copiedWords(run)
    ) : run.kind === 'taking' ? (
      <TakenCounts run={run} />
    ) : run.kind === 'duplicates' ? (
      comparedWords(run)
    ) : run.kind === 'musicCopy' ? (
      `${several(run.done, 'file')}${run.failed ? `, ${run.failed} left out` : ''}`
    ) : run.kind === 'bundle' ? (
      several(run.done, 'track')
    ) : null;
  return (
    <li className="border-b border-hair py-1.5">
      <div className="flex items-baseline gap-3">
        <span className="figures w-[112px] text-small text-dim">{dayAndTime(run.startedAt)}</span>
        <span className="font-medium">{run.title}</span>
        <span className="flex-1 text-dim">
          {words} {ENDS[run.state] && <b className="text-sodium-text">{ENDS[run.state]}</b>}
        </span>
        {run.kind === 'intake' && report?.newlyRefused !== undefined && (
          <Button kind="link" onClick={onReport}>
            Report
          </Button>
        )}
        {run.failed > 0 && run.kind === 'analysis' && (
          <Button kind="link" aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? 'Hide' : 'What failed'}
          </Button>
        )}
        {run.canRetry && (
          <Button kind="link" onClick={() => void perform(post(`/runs/${run.id}/retry`), 'What failed is tried again')}>
            Try again
          </Button>
        )}
      </div>
      {run.kind === 'writing' &&
        (run.report as FilesRunReport | null)?.reasons?.map((r) => (
          <p key={r.reason} className="pl-[124px] text-small">
            <span className="text-sodium-text">{r.reason}</span>{' '}
            <span className="text-dim">({several(r.files, 'file')})</span>
          </p>
        ))}
      {run.kind === 'taking' && <TakenLinks report={run.report as TakeReport | null} />}
      {(run.kind === 'copying' || run.kind === 'taking') &&
        (run.report as CopyReport | TakeReport | null)?.told.map(({ path, reason }) => (
          <p key={path} className="pl-[124px] text-small">
            {path} <span className="text-sodium-text">{reason}</span>
          </p>
        ))}
      {run.kind === 'intake' && (report?.differs ?? 0) > 0 && (
        <p className="pl-[124px] text-small">
          <Link
            to={
              report!.differing?.length
                ? sheetAddress('Files that say something else', {
                    field: 'playoutId',
                    test: 'one of',
                    values: report!.differing.map(String),
                  })
                : '/tracks?needs=unwritten'
            }
            className="text-sodium-text underline"
          >
            {several(report!.differs!, 'file says', 'files say')} something else than what was typed
          </Link>
        </p>
      )}
      {run.kind === 'duplicates' && ((run.report as Partial<CompareReport> | null)?.here ?? 0) > 0 && (
        <p className="pl-[124px] text-small">
          <Link to="/disk/duplicates" className="underline hover:text-buoy-text">
            Show the duplicates
          </Link>
        </p>
      )}
      {run.kind === 'intake' && report?.changeSetId && (
        <p className="pl-[124px] text-small">
          <Link to={`/changes?set=${report.changeSetId}`} className="underline hover:text-buoy-text">
            {several(report.followed ?? 0, 'track')} changed as {report.followed === 1 ? 'its file' : 'their files'} say
          </Link>
        </p>
      )}
      {run.kind === 'intake' &&
        report?.mirrors?.map((m) => (
          <p key={m.listId} className="pl-[124px] text-small">
            <Link to={`/arrange/${m.listId}`} className="underline hover:text-buoy-text">
              Folder mirror {m.name}
            </Link>
            : {mirrorInWords(m.report)}
          </p>
        ))}
      {run.kind === 'intake' && report?.mirrorTrouble && (
        <p className="pl-[124px] text-small text-flare">Folder mirrors were not updated: {report.mirrorTrouble}</p>
      )}
      {run.reason && <p className="text-small text-flare">{run.reason}</p>}
      {open && (
        <ul className="pl-[124px]">
          {failures.map((f) => (
            <li key={f.trackId} className="text-small">
              <span className="font-medium">{f.path}</span> <span className="text-sodium-text">{f.reason}</span>
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}
