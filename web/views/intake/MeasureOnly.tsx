/** Files measured in this browser, without being taken in or sent anywhere. */
import { useEffect, useRef, useState } from 'react';
import type { AnalysisResult } from '@early-set/core/analysis/engine';
import { clockLength } from '@early-set/core/clock/clock';
import { shortKey } from '@early-set/core/fields/keys';
import { several } from '../../data/actions.ts';
import { CannotMeasure, measureFile } from '../../measure/measureFile.ts';
import { Button } from '../../ui/Button.tsx';
import { figure } from '../../ui/format.ts';

interface Row {
  name: string;
  state: 'waiting' | 'measuring' | 'done' | 'failed' | 'cancelled';
  share: number;
  result: AnalysisResult | null;
  reason: string;
}

/** The place to drop them on. */
export function MeasureOnlyZone({ onFiles }: { onFiles: (files: File[]) => void }) {
  const [over, setOver] = useState(false);
  const box = useRef<HTMLInputElement>(null);
  return (
    <div
      data-testid="measure-only"
      className={`border border-dashed p-4 text-center ${over ? 'border-buoy bg-chosen' : 'border-tide-deep'}`}
      onDragOver={(e) => {
        if (e.dataTransfer.types.includes('Files')) {
          e.preventDefault();
          e.stopPropagation();
          setOver(true);
        }
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        e.stopPropagation();
        setOver(false);
        onFiles([...e.dataTransfer.files]);
      }}
    >
      <p className="font-semibold">Only measure</p>
      <p className="mt-1 text-small text-dim">
        Drop files here to see tempo, key and loudness. They are measured in this browser; nothing is taken in or
        stored.
      </p>
      <Button className="mt-2" onClick={() => box.current?.click()}>
        Choose files
      </Button>
      <input
        ref={box}
        type="file"
        multiple
        hidden
        accept="audio/*"
        aria-label="Files to measure only"
        onChange={(e) => {
          onFiles([...(e.target.files ?? [])]);
          e.target.value = '';
        }}
      />
    </div>
  );
}

/** What came out, file by file; one is measured at a time. */
export function MeasuredHere({ files, onClose }: { files: File[]; onClose: () => void }) {
  const [rows, setRows] = useState<Row[]>(() =>
    files.map((f) => ({ name: f.name, state: 'waiting', share: 0, result: null, reason: '' })),
  );
  const [controller] = useState(() => new AbortController());
  useEffect(() => {
    let left = false;
    const own = new AbortController();
    controller.signal.addEventListener('abort', () => own.abort(), { once: true });
    const set = (i: number, part: Partial<Row>): void => {
      if (!left) setRows((all) => all.map((r, k) => (k === i ? { ...r, ...part } : r)));
    };
    void (async () => {
      for (const [i, file] of files.entries()) {
        if (own.signal.aborted) {
          set(i, { state: 'cancelled' });
          continue;
        }
        set(i, { state: 'measuring' });
        try {
          set(i, { state: 'done', result: await measureFile(file, (share) => set(i, { share }), own.signal) });
        } catch (error) {
          set(
            i,
            own.signal.aborted
              ? { state: 'cancelled' }
              : {
                  state: 'failed',
                  reason: error instanceof CannotMeasure ? error.message : 'The file could not be read',
                },
          );
        }
      }
    })();
    return () => {
      left = true;
      own.abort();
    };
  }, [controller, files]);
  const done = rows.every((r) => r.state !== 'waiting' && r.state !== 'measuring');
  return (
    <section aria-label="Measured here" className="border-b border-line bg-paper px-5 py-3">
      <div className="flex items-center gap-3">
        <h2 className="heading flex-1 text-[16px]">
          {done
            ? `${several(rows.filter((r) => r.state === 'done').length, 'file')} measured in this browser`
            : `Measuring ${several(rows.length, 'file')} in this browser`}
        </h2>
        {done ? <Button onClick={onClose}>Close</Button> : <Button onClick={() => controller.abort()}>Cancel</Button>}
      </div>
      <table className="mt-2 w-full table-fixed">
        <thead>
          <tr className="border-b border-line text-left text-[12.5px] text-dim">
            {[
              ['File', ''],
              ['BPM', 'w-[78px]'],
              ['Key', 'w-[70px]'],
              ['LUFS', 'w-[58px]'],
              ['Range', 'w-[56px]'],
              ['Peak', 'w-[56px]'],
              ['Energy', 'w-[58px]'],
              ['Length', 'w-[58px]'],
            ].map(([h, w]) => (
              <th
                key={h}
                className={`${w} py-1 font-semibold ${h === 'File' || h === 'Key' ? '' : 'text-right'} ${h === 'Key' ? 'pl-3' : ''}`}
              >
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r, i) => (
            <Line key={i} row={r} />
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Line({ row }: { row: Row }) {
  const { result } = row;
  const number = (v: number | null | undefined, digits: number): string =>
    v === null || v === undefined ? '–' : figure(v, digits);
  return (
    <>
      <tr className="border-b border-hair">
        <td className="truncate py-1.5 pr-3" title={row.name}>
          {row.name}
        </td>
        {result ? (
          <>
            <td className="figures text-right font-semibold">{number(result.tempo.bpm, 2)}</td>
            <td className="pl-3 font-semibold">{result.key.key ? shortKey(result.key.key) : '–'}</td>
            <td className="figures text-right">{number(result.loudness.integratedLufs, 1)}</td>
            <td className="figures text-right">{number(result.loudness.rangeLu, 1)}</td>
            <td className="figures text-right">{number(result.loudness.truePeakDbtp, 1)}</td>
            <td className="figures text-right">{result.energy.energy}</td>
            <td className="figures text-right">{clockLength(result.durationSeconds)}</td>
          </>
        ) : (
          <td colSpan={7} className={row.state === 'failed' ? 'text-sodium-text' : 'text-dim'}>
            {row.state === 'failed' ? (
              row.reason
            ) : row.state === 'cancelled' ? (
              'Cancelled'
            ) : row.state === 'waiting' ? (
              'Waiting'
            ) : (
              <span
                role="progressbar"
                aria-label={`Measuring ${row.name}`}
                aria-valuemin={0}
                aria-valuemax={100}
                aria-valuenow={Math.round(row.share * 100)}
                className="block h-[5px] bg-hair"
              >
                <span className="block h-full bg-kelp" style={{ width: `${row.share * 100}%` }} />
              </span>
            )}
          </td>
        )}
      </tr>
      {result && result.sound.remarks.length > 0 && (
        <tr>
          <td colSpan={8} className="pb-1.5 text-small text-sodium-text">
            {result.sound.remarks.join('. ')}.
          </td>
        </tr>
      )}
    </>
  );
}
