/** One cell of the sheet. */
import type { SheetRow } from '@early-set/core/api/types';
import { fitOf, type FitReference } from '@early-set/core/arrange/fit';
import { playoutGain } from '@early-set/core/analysis/loudness/playout';
import { signatureLabel, shortKey } from '@early-set/core/fields/keys';
import { fieldOf } from '@early-set/core/fields/table';
import { isEmpty } from '@early-set/core/fields/values';
import { useLoudnessTarget } from '../../../data/loudnessTarget.ts';
import { figure, valueText } from '../../../ui/format.ts';
import { Hint } from '../../../ui/Hint.tsx';
import { Art, EnergyBar } from '../../../ui/Marks.tsx';

/** Text that says it is missing. */
const Gap = ({ what }: { what: string }) => (
  <span className="font-sans text-small text-flare" title={what}>
    {what}
  </span>
);

export function Cell({ id, row, reference }: { id: string; row: SheetRow; reference: FitReference | null }) {
  const value = row.values[id];
  const gone = ['missing', 'retired'].includes(String(row.values.fileState));
  switch (id) {
    case 'title': {
      const name = String(row.values.path ?? '')
        .split('/')
        .at(-1)!;
      return (
        <span
          title={
            isEmpty(value) ? name : `${String(value)}${row.values.version ? ` (${String(row.values.version)})` : ''}`
          }
          className={gone ? 'text-flare line-through' : ''}
        >
          {isEmpty(value) ? (
            <span className="font-medium text-dim">{name}</span>
          ) : (
            <span className="font-semibold">{String(value)}</span>
          )}
          {row.values.version && <span className="ml-1.5 text-small text-dim">{String(row.values.version)}</span>}
        </span>
      );
    }
    case 'bpm':
      return isEmpty(value) ? (
        <Unmeasured row={row} />
      ) : (
        <span className="font-semibold">
          {Number(value).toFixed(2)}
          {row.values.tempoSteady === false && <span title="Drifts: the tempo wanders around this">~</span>}
        </span>
      );
    case 'key':
      return isEmpty(value) ? null : (
        <span className="font-semibold">
          {shortKey(String(value))}
          <span className="ml-1.5 text-tiny font-normal text-dim">{signatureLabel(String(value))}</span>
        </span>
      );
    case 'energy':
      return isEmpty(value) ? <Unmeasured row={row} /> : <EnergyBar value={Number(value)} />;
    case 'rating':
      return isEmpty(value) ? null : (
        <span role="img" aria-label={`${Number(value)} of 5 stars`} className="tracking-tight text-sodium-text">
          {'★'.repeat(Number(value))}
        </span>
      );
    case 'cover':
      return <Art hash={row.artHash} size={26} alt="" />;
    case 'toTarget':
      return <ToTarget row={row} />;
    case 'fit':
      return <FitCell row={row} reference={reference} />;
    default: {
      const field = fieldOf(id);
      const text = valueText(field, value);
      return text === '' && field.gap ? (
        <Gap what={`no ${field.label.toLowerCase()}`} />
      ) : (
        <span title={text}>{text}</span>
      );
    }
  }
}

function Unmeasured({ row }: { row: SheetRow }) {
  const state = row.values.analysisState;
  if (state === 'waiting') return <span className="text-small text-dim">waiting</span>;
  if (state === 'running') return <span className="text-small text-buoy-text">measuring</span>;
  if (state === 'failed')
    return (
      <span className="text-small text-sodium-text" title={row.analysisReason ?? ''}>
        failed
      </span>
    );
  return <span className="text-dim">–</span>;
}

function ToTarget({ row }: { row: SheetRow }) {
  const [target] = useLoudnessTarget();
  const { lufs, truePeakDbtp } = row.values;
  if (typeof lufs !== 'number') return <span className="text-dim">–</span>;
  const gain = playoutGain(lufs, typeof truePeakDbtp === 'number' ? truePeakDbtp : null, target);
  const text = `${gain.gainDb > 0 ? '+' : ''}${figure(gain.gainDb, 1)}`;
  return gain.clips ? (
    <span
      className="font-semibold text-sodium-text"
      title={`At ${figure(target.lufs, 0)} LUFS its peaks would reach ${figure(gain.peakDbtp!, 1)} dBTP; ${figure(gain.safeGainDb, 1)} dB keeps the ceiling`}
    >
      {text}
      <span className="sr-only"> would clip</span> ▲
    </span>
  ) : (
    <span title={`To ${figure(target.lufs, 0)} LUFS`}>{text}</span>
  );
}

function FitCell({ row, reference }: { row: SheetRow; reference: FitReference | null }) {
  if (row.fit === null || !reference) return <span className="text-dim">–</span>;
  const { reasons } = fitOf(reference, row.values);
  return (
    <Hint
      text={
        <>
          {reasons.map((r) => (
            <span key={r} className="block">
              {r}
            </span>
          ))}
        </>
      }
    >
      <span className={row.fit >= 80 ? 'font-semibold text-kelp' : ''}>{figure(row.fit, 0)}</span>
    </Hint>
  );
}
