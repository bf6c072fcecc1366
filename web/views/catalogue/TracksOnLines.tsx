/** Which track is on which line of a release; dragged or chosen. */
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
import type { Candidate, GroupDetails, GroupTrack } from '@early-set/core/api/catalogue';
import { clockLength } from '@early-set/core/clock/clock';
import { several } from '../../data/actions.ts';
import { Difference } from '../../ui/Difference.tsx';
import { textOf } from '../../ui/format.ts';

const nameOf = (t: GroupTrack): string => textOf('title', t.values.title) || t.path.split('/').at(-1)!;
const withVersion = (title: string, version: string | null): string => (version ? `${title} (${version})` : title);

export function Lines({
  group,
  candidate: { release, match },
  onLines,
  inHand,
  onInHand,
}: {
  group: GroupDetails;
  candidate: Candidate;
  onLines: (lines: Record<number, number>) => void;
  inHand: number | null;
  onInHand: (trackId: number) => void;
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
