/** Which track of yours is which of a release: dragged, chosen, or moved by key. */
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
import { useState, type ReactNode } from 'react';
import type { Candidate, GroupDetails, GroupTrack } from '@early-set/core/api/catalogue';
import { clockLength } from '@early-set/core/clock/clock';
import { tableActions } from '../../commands/commands.ts';
import { several } from '../../data/actions.ts';
import { Difference } from '../../ui/Difference.tsx';
import { textOf } from '../../ui/format.ts';
import { NOTHING } from '../../ui/grid/choice.ts';
import { Grid } from '../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';

const nameOf = (t: GroupTrack): string => textOf('title', t.values.title) || t.path.split('/').at(-1)!;
const withVersion = (title: string, version: string | null): string => (version ? `${title} (${version})` : title);

type ReleaseTrack = Candidate['release']['tracks'][number];
const COLUMNS: GridColumn[] = [
  { id: 'number', label: 'No.', width: 48, figures: true },
  { id: 'catalogue', label: 'In the catalogue', width: 150, grow: 1 },
  { id: 'length', label: 'Length', width: 60, figures: true },
  { id: 'track', label: 'Your track', width: 170, grow: 1 },
  { id: 'yours', label: 'Length', width: 64, figures: true },
];
/** Pixels of a row, of the heads with the frame. */
const ROW = 38,
  HEAD = 30;

export function MatchedTracks({
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
  const at = inHand === null ? undefined : match.lines[inHand];
  const [bare, setBare] = useState<number | null>(null); // one without a track may be gone to, too
  const focus = bare ?? at ?? null;
  const discs = release.tracks.some((t) => t.disc > 1);
  const choose = (i: number): void => {
    const track = onLine.get(i);
    setBare(track === undefined ? i : null);
    if (track !== undefined) onInHand(track);
  };
  const move = (by: 1 | -1): void => {
    if (inHand !== null && at !== undefined && bare === null) put(inHand, at + by);
  };
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
        if (over) put(Number(active.id), over.id === 'off' ? null : Number(String(over.id).slice(4)));
      }}
    >
      <div className="text-small" style={{ height: release.tracks.length * ROW + HEAD }}>
        <Grid
          id="release-tracks"
          label="Tracks of the release"
          multiple={false}
          columns={COLUMNS}
          count={release.tracks.length}
          row={(i) => release.tracks[i]}
          rowHeight={ROW}
          idOf={(line) => release.tracks.indexOf(line)}
          data={(line) => ({ 'data-line': release.tracks.indexOf(line) })}
          drag="onto"
          cell={(line, column, i) => (
            <Cell
              column={column}
              number={`${discs ? `${line.disc}-` : ''}${line.number}`}
              line={line}
              artists={line.artists.join() === release.artists.join() ? '' : line.artists.join(', ')}
              track={trackOf(onLine.get(i))}
              chip={(track) => <TrackChip track={track} lines={release.tracks.length} line={i} onPut={put} />}
            />
          )}
          chosen={{ ...NOTHING, ids: new Set(focus === null ? [] : [focus]), focus, anchor: focus }}
          onChoose={choose}
          onKey={gridKeys({
            count: release.tracks.length,
            focus,
            choose,
            ...tableActions('catalogue', {
              up: { run: () => move(-1), disabled: !focus },
              down: { run: () => move(1), disabled: focus === null || focus >= release.tracks.length - 1 },
            }),
          })}
        />
      </div>
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

interface CellProps {
  column: string;
  number: string;
  line: ReleaseTrack;
  /** Where they are others than the release's. */
  artists: string;
  track: GroupTrack | undefined;
  chip: (track: GroupTrack) => ReactNode;
}

function Cell({ column, number, line, artists, track, chip }: CellProps) {
  const name = withVersion(line.title, line.version);
  switch (column) {
    case 'number':
      return <span className="text-dim">{number}</span>;
    case 'catalogue':
      return (
        <>
          {track ? (
            <Difference
              before={withVersion(textOf('title', track.values.title), textOf('version', track.values.version))}
              after={name}
            />
          ) : (
            name
          )}
          {artists && <span className="block truncate text-tiny text-dim">{artists}</span>}
        </>
      );
    case 'length':
      return <span className="text-dim">{line.seconds === null ? '' : clockLength(line.seconds)}</span>;
    case 'track':
      return track ? chip(track) : <span className="text-sodium-text">no track</span>;
    default: {
      const apart = track?.seconds && line.seconds !== null && Math.abs(line.seconds - track.seconds) > 4;
      const tone = apart ? 'font-semibold text-sodium-text' : 'text-dim';
      return <span className={tone}>{track?.seconds ? clockLength(track.seconds) : ''}</span>;
    }
  }
}

function OffLines({ count, empty, children }: { count: number; empty: number; children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: 'off' });
  if (count === 0 && empty === 0) return <div ref={setNodeRef} />;
  return (
    <div ref={setNodeRef} className={`px-3 py-2 text-small ${isOver ? 'bg-tide/50' : ''}`}>
      <p className="text-dim">
        {[
          count > 0 &&
            `${several(count, 'track')} unmatched; drag onto a track of the release, or leave as ${count === 1 ? 'it is' : 'they are'}`,
          empty > 0 && `${several(empty, 'track')} of the release without a file`,
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
      className={`flex items-center gap-1 ${isDragging ? 'relative z-10 bg-paper shadow-lg' : ''}`}
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
        aria-label={`Matched track of ${nameOf(track)}`}
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
