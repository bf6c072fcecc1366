/**
 * The sections of a track over its waveform; they can be moved, split, joined and renamed. What is moved is kept by
 * hand.
 */
import type { TrackDetails } from '@early-set/core/api/types';
import type { Section } from '@early-set/core/analysis/structure/sections';
import { marksOf } from '@early-set/core/fields/marks';
import { rounded, setField } from '../../data/fields.ts';
import { Handle } from './Handle.tsx';
import { SECTION_FILL } from './palette.ts';
import type { Span } from './timeline.ts';

const LABELS = ['intro', 'build', 'main', 'breakdown', 'outro'];
/** What was measured or named before has older words. */
const RENAMED: Record<string, string> = { break: 'breakdown' };
const labelOf = (name: string): string => RENAMED[name] ?? name;

interface Props {
  track: TrackDetails;
  sections: readonly Section[];
  beats: readonly number[];
  duration: number;
  span: Span;
  width: number;
}

export interface Part {
  label: string;
  from: number;
  to: number;
}

/** The sections that count: those by hand, else those measured. */
export function partsOfTrack(track: TrackDetails, sections: readonly Section[]): { parts: Part[]; byHand: boolean } {
  const marks = marksOf(track.values.sectionsByHand);
  return marks.length > 0
    ? { byHand: true, parts: marks.map((m) => ({ label: labelOf(m.name ?? 'main'), from: m.at, to: m.end ?? m.at })) }
    : {
        byHand: false,
        parts: sections.map((s) => ({ label: labelOf(s.label), from: s.startSeconds, to: s.endSeconds })),
      };
}

/** The least a section lasts, seconds. */
const SHORTEST = 0.5;

/** Sections with a border more, at a time; null where it would leave a piece too short to see. */
export function splitAt(parts: readonly Part[], at: number): Part[] | null {
  const i = parts.findIndex((p) => at >= p.from + SHORTEST && at <= p.to - SHORTEST);
  return i < 0
    ? null
    : parts.flatMap((p, k) =>
        k === i
          ? [
              { ...p, to: at },
              { ...p, from: at },
            ]
          : [p],
      );
}

/** Sections without one of them: the one before goes on over it, or the next begins with it. */
export function joined(parts: readonly Part[], i: number): Part[] {
  const gone = parts[i]!;
  return parts
    .filter((_, k) => k !== i)
    .map((p, k) => (k === i - 1 ? { ...p, to: gone.to } : i === 0 && k === 0 ? { ...p, from: gone.from } : p));
}

/** Keeps sections by hand. */
export const saveParts = (track: TrackDetails, parts: readonly Part[], say: string): void =>
  void setField(
    track,
    'sectionsByHand',
    parts.map((p) => ({ at: rounded(p.from, 3), end: rounded(p.to, 3), name: p.label })),
    say,
  );

const JOIN = 'join';

export function SectionStrip({ track, sections, beats, duration, span, width }: Props) {
  const { parts } = partsOfTrack(track, sections);
  const perSecond = width / (span.to - span.from);
  const save = (next: Part[], say: string): void => saveParts(track, next, say);
  const choose = (i: number, value: string): void =>
    value === JOIN
      ? save(joined(parts, i), 'Section removed')
      : save(
          parts.map((x, k) => (k === i ? { ...x, label: value } : x)),
          'Section renamed',
        );
  const border = (i: number, at: number): void => {
    const before = parts[i - 1]!,
      own = parts[i]!;
    const kept = Math.max(before.from + SHORTEST, Math.min(own.to - SHORTEST, at));
    save(
      parts.map((p, k) => (k === i - 1 ? { ...p, to: kept } : k === i ? { ...p, from: kept } : p)),
      'Section moved',
    );
  };
  return (
    <div className="relative h-[24px] overflow-hidden border-b border-line" role="group" aria-label="Sections">
      {parts.map((p, i) => {
        const left = (p.from - span.from) * perSecond,
          right = (p.to - span.from) * perSecond;
        if (right < 0 || left > width) return null;
        return (
          <div
            key={`${p.from}-${i}`}
            className={`absolute inset-y-0 border-r border-sheet ${SECTION_FILL[p.label] ?? 'bg-hair'}`}
            style={{ left, width: Math.max(1, right - left) }}
          >
            {right - left > 62 && (
              <select
                aria-label={`Section ${i + 1}`}
                value={p.label}
                onChange={(e) => choose(i, e.target.value)}
                className="absolute top-[3px] max-w-full rounded-xs bg-transparent text-[11.5px] font-semibold text-ink"
                style={{ left: left < 0 || i === 0 ? Math.max(4, 4 - left) : 24 }}
              >
                {LABELS.map((l) => (
                  <option key={l} value={l}>
                    {l}
                  </option>
                ))}
                {parts.length > 1 && (
                  <option value={JOIN}>{i === 0 ? 'join with the next' : 'join with the one before'}</option>
                )}
              </select>
            )}
          </div>
        );
      })}
      {parts.slice(1).map((p, i) => (
        <Handle
          key={`border-${i}-${p.from}`}
          label={`Border before ${p.label}`}
          flag="↔"
          at={p.from}
          duration={duration}
          beats={beats}
          colour="ink"
          top={3}
          span={span}
          width={width}
          onMove={(t) => border(i + 1, t)}
        />
      ))}
    </div>
  );
}
