/** Loudness, energy and key under the waveform, on the same stretch of time. */
import { shortKey } from '@early-set/core/fields/keys';
import { figure } from '../../ui/format.ts';
import type { Span } from './timeline.ts';

interface Shared {
  span: Span;
  width: number;
}

function Lane({
  name,
  height,
  note,
  children,
}: {
  name: string;
  height: number;
  note?: string | undefined;
  children: React.ReactNode;
}) {
  return (
    <div className="relative border-t border-line bg-sheet" style={{ height }}>
      {children}
      <span className="pointer-events-none absolute top-0.5 left-1.5 rounded-xs bg-sheet/85 px-0.5 text-tiny text-dim">
        {name}
        {note && <span className="ml-2 figures">{note}</span>}
      </span>
    </div>
  );
}

const KEY_RUN =
  'absolute bottom-0.5 h-[15px] overflow-hidden border-r border-sheet px-1 text-[10.5px] leading-[15px] font-semibold';

/** A path through values at equal distances. */
function pathOf(
  values: readonly number[],
  first: number,
  step: number,
  { span, width }: Shared,
  y: (v: number) => number,
): string {
  const perSecond = width / (span.to - span.from);
  const from = Math.max(0, Math.floor((span.from - first) / step) - 1),
    to = Math.min(values.length - 1, Math.ceil((span.to - first) / step) + 1);
  let out = '';
  for (let i = from; i <= to; i++)
    out += `${out ? 'L' : 'M'}${((first + i * step - span.from) * perSecond).toFixed(1)} ${y(values[i]!).toFixed(1)}`;
  return out;
}

const LOUDNESS = { height: 96, top: -3, bottom: -39 };
const LEVELS = [-9, -18, -27, -36];
/** Room for the name of a lane. */
const NAME = 17;

export function LoudnessLane({
  curve,
  target,
  integrated,
  ...shared
}: Shared & { curve: readonly number[]; target: number; integrated: number | null }) {
  const y = (lufs: number): number =>
    Math.max(
      NAME,
      Math.min(
        LOUDNESS.height - 2,
        NAME + ((LOUDNESS.top - lufs) / (LOUDNESS.top - LOUDNESS.bottom)) * (LOUDNESS.height - NAME),
      ),
    );
  return (
    <Lane
      name="Loudness, short-term LUFS"
      height={LOUDNESS.height}
      note={integrated === null ? undefined : `${figure(integrated, 1)} in all, target ${figure(target, 0)}`}
    >
      <svg width={shared.width} height={LOUDNESS.height} aria-hidden="true">
        {LEVELS.map((v) => (
          <line key={v} x1={0} x2={shared.width} y1={y(v)} y2={y(v)} stroke="var(--hair)" />
        ))}
        {integrated !== null && (
          <line x1={0} x2={shared.width} y1={y(integrated)} y2={y(integrated)} stroke="var(--energy)" strokeWidth={1} />
        )}
        <line x1={0} x2={shared.width} y1={y(target)} y2={y(target)} stroke="var(--buoy)" strokeDasharray="4 3" />
        <path d={pathOf(curve, 3, 1, shared, y)} fill="none" stroke="var(--energy)" strokeWidth={1.5} />
        {/* Figures lie over the lines, on ground of their own. */}
        {LEVELS.map((v) => (
          <text
            key={v}
            x={shared.width - 4}
            y={y(v) + 3}
            textAnchor="end"
            fontSize={10}
            fill="var(--dim)"
            stroke="var(--sheet)"
            strokeWidth={5}
            strokeLinejoin="round"
            paintOrder="stroke"
          >
            {figure(v, 0)}
          </text>
        ))}
      </svg>
    </Lane>
  );
}

export function EnergyLane({ curve, ...shared }: Shared & { curve: readonly number[] }) {
  const height = 54,
    y = (v: number): number => height - 3 - (v / 100) * (height - NAME - 3);
  const line = pathOf(curve, 1, 2, shared, y);
  return (
    <Lane name="Energy" height={height}>
      <svg width={shared.width} height={height} aria-hidden="true">
        <path d={line} fill="none" stroke="var(--kelp)" strokeWidth={1.5} />
      </svg>
    </Lane>
  );
}

/** One field for each stretch of eight seconds; what differs from the track's key stands out. */
export function KeyLane({
  keys,
  seconds,
  own,
  ...shared
}: Shared & { keys: readonly (string | null)[]; seconds: number; own: string | null }) {
  const perSecond = shared.width / (shared.span.to - shared.span.from);
  const runs: { key: string | null; from: number; to: number }[] = [];
  keys.forEach((key, i) => {
    const last = runs.at(-1);
    if (last && last.key === key) last.to = (i + 1) * seconds;
    else runs.push({ key, from: i * seconds, to: (i + 1) * seconds });
  });
  return (
    <Lane name="Key" height={36}>
      {runs.map((r) => {
        const left = Math.max(0, (r.from - shared.span.from) * perSecond),
          right = Math.min(shared.width, (r.to - shared.span.from) * perSecond);
        if (right <= left || r.key === null) return null;
        return (
          <span
            key={r.from}
            title={`${shortKey(r.key)} around here`}
            className={`${KEY_RUN} ${r.key === own ? 'bg-tide/70 text-ink' : 'bg-hair text-dim'}`}
            style={{ left, width: right - left }}
          >
            {right - left > 26 ? shortKey(r.key) : ''}
          </span>
        );
      })}
    </Lane>
  );
}
