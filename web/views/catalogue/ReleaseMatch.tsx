/** The middle: the releases it may be, side by side, and the tracks laid on the lines of the one in hand. */
import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { GripVertical } from 'lucide-react';
import { useState } from 'react';
import type { Candidate, GroupDetails, GroupTrack } from '@early-set/core/api/catalogue';
import { clockLength } from '@early-set/core/clock/clock';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Difference } from '../../ui/Difference.tsx';
import { textOf } from '../../ui/format.ts';

const nameOf = (t: GroupTrack): string => textOf('title', t.values.title) || t.path.split('/').at(-1)!;
const withVersion = (title: string, version: string | null): string => (version ? `${title} (${version})` : title);

interface Props {
  group: GroupDetails;
  onChoose: (releaseId: string) => void;
  onLines: (lines: Record<number, number>) => void;
  onSearch: (query: GroupDetails['query']) => void;
  inHand: number | null;
  onInHand: (trackId: number) => void;
}

export function ReleaseMatch({ group, onChoose, onLines, onSearch, inHand, onInHand }: Props) {
  const candidate = group.candidates.find((c) => c.release.id === group.chosen);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto bg-sheet">
      {group.candidates.length > 0 && <Versions candidates={group.candidates} chosen={candidate} onChoose={onChoose} />}
      {candidate && (
        <Lines
          key={candidate.release.id}
          group={group}
          candidate={candidate}
          onLines={onLines}
          inHand={inHand}
          onInHand={onInHand}
        />
      )}
      <OtherWords key={group.id} group={group} onSearch={onSearch} />
    </div>
  );
}

/** What differs from the one in hand is marked. */
function Versions({
  candidates,
  chosen,
  onChoose,
}: {
  candidates: readonly Candidate[];
  chosen: Candidate | undefined;
  onChoose: (id: string) => void;
}) {
  const cells = ({ release: r, match }: Candidate): [string, string][] => [
    ['Release', `${r.artists.join(', ')} – ${r.title}`],
    ['Year', String(r.year ?? '')],
    ['From', r.country ?? ''],
    ['On', r.format ?? ''],
    ['Label', r.label ?? ''],
    ['Lines', String(r.tracks.length)],
    ['Score', match.score.toFixed(2)],
  ];
  const own = chosen && cells(chosen);
  return (
    <table className="w-full border-b border-line text-small" aria-label="Releases it may be">
      <thead>
        <tr className="border-b border-line bg-paper text-left text-dim">
          <th className="w-[30px]">
            <span className="sr-only">In hand</span>
          </th>
          {['Release', 'Year', 'From', 'On', 'Label', 'Lines', 'Score'].map((h) => (
            <th key={h} className="px-2 py-1.5 font-semibold">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {candidates.map((c) => (
          <tr
            key={c.release.id}
            data-release={c.release.id}
            onClick={() => onChoose(c.release.id)}
            className={`cursor-default border-b border-hair ${c === chosen ? 'bg-chosen' : 'hover:bg-paper'}`}
          >
            <td className="text-center">
              <input
                type="radio"
                name="release"
                aria-label={`Take ${c.release.title}, ${c.release.year ?? 'no year'}, ${c.release.format ?? ''}`}
                checked={c === chosen}
                onChange={() => onChoose(c.release.id)}
                className="accent-ink"
              />
            </td>
            {cells(c).map(([name, value], i) => (
              <td
                key={name}
                className={`px-2 py-1 ${name === 'Release' ? 'font-medium' : ''} ${own && c !== chosen && name !== 'Score' && own[i]![1] !== value ? 'text-sodium-text' : ''}`}
              >
                {value}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Lines({
  group,
  candidate: { release, match },
  onLines,
  inHand,
  onInHand,
}: {
  group: GroupDetails;
  candidate: Candidate;
  onLines: Props['onLines'];
  inHand: number | null;
  onInHand: Props['onInHand'];
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor),
  );
  const onLine = new Map(Object.entries(match.lines).map(([id, line]) => [line, Number(id)]));
  const trackOf = (id: number | undefined): GroupTrack | undefined => group.trackList.find((t) => t.id === id);
  const off = group.trackList.filter((t) => match.lines[t.id] === undefined);
  const empty = release.tracks.filter((_, i) => !onLine.has(i)).length;
  /** A track that stood there changes places. */
  const put = (trackId: number, line: number | null): void => {
    const { [trackId]: from, ...others } = match.lines;
    const lines: Record<number, number> = { ...others };
    const there = line === null ? undefined : onLine.get(line);
    if (there !== undefined && there !== trackId) {
      if (from === undefined) delete lines[there];
      else lines[there] = from;
    }
    if (line !== null) lines[trackId] = line;
    onLines(lines);
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragEnd={({ active, over }) => {
        if (over) put(Number(active.id), over.id === 'off' ? null : Number(String(over.id).slice(5)));
      }}
    >
      <table className="w-full text-small" aria-label="Tracks on lines">
        <thead>
          <tr className="border-b border-line text-left text-dim">
            <th className="w-[44px] px-2 py-1.5 text-right font-semibold">No.</th>
            <th className="px-2 font-semibold">In the catalogue</th>
            <th className="w-[52px] px-2 text-right font-semibold">Length</th>
            <th className="w-[46%] px-2 font-semibold">Your track</th>
            <th className="w-[60px] px-2 text-right font-semibold">Length</th>
          </tr>
        </thead>
        <tbody>
          {release.tracks.map((line, i) => {
            const track = trackOf(onLine.get(i));
            const apart =
              track && line.seconds !== null && track.seconds !== null && Math.abs(line.seconds - track.seconds) > 4;
            return (
              <LineRow
                key={i}
                index={i}
                chosen={track !== undefined && track.id === inHand}
                onClick={() => {
                  if (track) onInHand(track.id);
                }}
              >
                <td className="figures px-2 py-1.5 text-right text-dim">
                  {release.tracks.some((t) => t.disc > 1) ? `${line.disc}-` : ''}
                  {line.number}
                </td>
                <td className="px-2">
                  {track ? (
                    <Difference
                      before={withVersion(textOf('title', track.values.title), textOf('version', track.values.version))}
                      after={withVersion(line.title, line.version)}
                    />
                  ) : (
                    withVersion(line.title, line.version)
                  )}
                  {line.artists.join() !== release.artists.join() && (
                    <span className="block text-tiny text-dim">{line.artists.join(', ')}</span>
                  )}
                </td>
                <td className="figures px-2 text-right text-dim">
                  {line.seconds === null ? '' : clockLength(line.seconds)}
                </td>
                <td className="px-2">
                  {track ? (
                    <TrackChip track={track} lines={release.tracks.length} line={i} onPut={put} />
                  ) : (
                    <span className="text-sodium-text">no track</span>
                  )}
                </td>
                <td className={`figures px-2 text-right ${apart ? 'font-semibold text-sodium-text' : 'text-dim'}`}>
                  {track?.seconds ? clockLength(track.seconds) : ''}
                </td>
              </LineRow>
            );
          })}
        </tbody>
      </table>
      <OffLines count={off.length} empty={empty}>
        {off.map((t) => (
          <div key={t.id} className="py-1" onClick={() => onInHand(t.id)}>
            <TrackChip track={t} lines={release.tracks.length} line={null} onPut={put} />
          </div>
        ))}
      </OffLines>
    </DndContext>
  );
}

function LineRow({
  index,
  chosen,
  onClick,
  children,
}: {
  index: number;
  chosen: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) {
  const { setNodeRef, isOver } = useDroppable({ id: `line-${index}` });
  return (
    <tr
      ref={setNodeRef}
      data-line={index}
      onClick={onClick}
      className={`border-b border-hair ${isOver ? 'bg-tide/50' : chosen ? 'bg-chosen' : ''}`}
    >
      {children}
    </tr>
  );
}

function OffLines({ count, empty, children }: { count: number; empty: number; children: React.ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: 'off' });
  if (count === 0 && empty === 0) return <div ref={setNodeRef} />;
  return (
    <div ref={setNodeRef} className={`px-3 py-2 text-small ${isOver ? 'bg-tide/50' : ''}`}>
      <p className="text-dim">
        {[
          count > 0 &&
            `${several(count, 'track')} on no line; drag onto one, or leave as ${count === 1 ? 'it is' : 'they are'}`,
          empty > 0 && `${several(empty, 'line')} without a track`,
        ]
          .filter(Boolean)
          .join('. ')}
        .
      </p>
      {children}
    </div>
  );
}

function TrackChip({
  track,
  lines,
  line,
  onPut,
}: {
  track: GroupTrack;
  lines: number;
  line: number | null;
  onPut: (trackId: number, line: number | null) => void;
}) {
  const { setNodeRef, listeners, attributes, transform, isDragging } = useDraggable({ id: String(track.id) });
  return (
    <span
      ref={setNodeRef}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : undefined}
      className={`flex items-center gap-1 ${isDragging ? 'relative z-10 bg-paper shadow-[0_4px_12px_rgba(11,23,28,.2)]' : ''}`}
    >
      <button
        type="button"
        {...listeners}
        {...attributes}
        aria-label={`Move ${nameOf(track)}`}
        className="cursor-grab touch-none p-0.5 text-tide-deep hover:text-ink"
      >
        <GripVertical size={13} />
      </button>
      <span className="min-w-0 flex-1">
        <span className="block truncate" title={track.path}>
          {track.path.split('/').at(-1)}
        </span>
      </span>
      <select
        aria-label={`Line of ${nameOf(track)}`}
        value={line ?? ''}
        onChange={(e) => onPut(track.id, e.target.value === '' ? null : Number(e.target.value))}
        className="rounded-xs border border-line bg-sheet text-tiny"
      >
        <option value="">none</option>
        {Array.from({ length: lines }, (_, i) => (
          <option key={i} value={i}>
            {i + 1}
          </option>
        ))}
      </select>
    </span>
  );
}

function OtherWords({ group, onSearch }: { group: GroupDetails; onSearch: Props['onSearch'] }) {
  const [query, setQuery] = useState(group.query);
  const box = (key: keyof GroupDetails['query'], label: string) => (
    <input
      value={query[key]}
      onChange={(e) => setQuery({ ...query, [key]: e.target.value })}
      aria-label={label}
      placeholder={label}
      className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-2 py-1"
    />
  );
  return (
    <form
      className="border-t border-line px-3 py-3"
      onSubmit={(e) => {
        e.preventDefault();
        onSearch(query);
      }}
    >
      <p className="mb-1.5 text-small text-dim">
        {group.candidates.length === 0
          ? 'Nothing was found. Try other words:'
          : 'Not the right one? Ask with other words:'}
      </p>
      <div className="flex gap-1.5">
        {box('artist', 'Artist')}
        {box('album', 'Album')}
        {box('title', 'Title')}
        <Button type="submit">Ask</Button>
      </div>
    </form>
  );
}
