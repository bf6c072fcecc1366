/** What is seen and done on the page of a track's sound: the stretch in sight, marks, the grid, keys. */
import { useCallback, useEffect, useMemo, useRef, useState, type Dispatch, type SetStateAction } from 'react';
import { useNavigate } from 'react-router';
import type { TrackDetails } from '@early-set/core/api/types';
import { gridOf } from '@early-set/core/analysis/gridOf';
import { marksOf, marksValue, readMarks, type Mark } from '@early-set/core/fields/marks';
import { useKeys } from '../../commands/commands.ts';
import { useMetronome } from '../../audition/metronome.ts';
import { audition, isPlaying, repeat, seek, toggleAudition, usePlayer } from '../../audition/player.ts';
import { rounded, setField } from '../../data/fields.ts';
import { loopEnd } from './MarksPanel.tsx';
import { partsOfTrack, saveParts, splitAt } from './SectionStrip.tsx';
import { quantised, reveal, scroll, zoom, type Span } from './timeline.ts';

export type Analysed = NonNullable<TrackDetails['analysis']>;
export type SoundPage = ReturnType<typeof useSoundPage>;

export function useSoundPage(track: TrackDetails, analysed: Analysed) {
  const { result } = analysed;
  const duration = result.durationSeconds;
  const navigate = useNavigate();
  const player = usePlayer();
  const own = player.track?.id === track.id;
  const position = own ? player.position : 0;
  const [span, setSpan] = useState<Span>({ from: 0, to: duration });
  const [clicking, setClicking] = useState(false);
  const grid = useMemo(() => gridOf(result, track.values), [result, track.values]);
  const cues = useMemo(() => marksOf(track.values.cues), [track.values.cues]);
  const saveCues = (next: readonly Mark[], say: string): void => {
    const tidy = readMarks([...next]);
    if (typeof tidy !== 'string') void setField(track, 'cues', marksValue(tidy), say);
  };
  useMetronome(grid, clicking);
  const playing = own && player.playing;
  useWhatPlays(track, own);
  // While it plays, the stretch follows.
  useEffect(() => {
    if (playing) setSpan((s) => reveal(s, position, duration));
  }, [playing, position, duration]);

  const jumpTo = useCallback(
    (at: number): void => {
      if (!own) audition(track);
      seek(at);
      setSpan((s) => reveal(s, at, duration));
    },
    [own, track, duration],
  );
  const here = (): number => rounded(grid.beats.length > 1 ? quantised(position, grid.beats) : position, 3);
  const toMark = (mark: Mark): void => {
    jumpTo(mark.at);
    if (mark.end === undefined) return;
    repeat({ from: mark.at, to: mark.end });
    if (own && !isPlaying()) toggleAudition(track);
  };
  const divide = (): void => {
    const parts = partsOfTrack(track, result.sections ?? []).parts;
    const next = splitAt(parts.length > 0 ? parts : [{ label: 'main', from: 0, to: duration }], here());
    if (next) saveParts(track, next, 'Section split');
  };
  const add = (loop: boolean): void => {
    const at = here();
    const mark: Mark = {
      at,
      ...(loop ? { end: rounded(Math.min(duration, loopEnd(grid, at, 4)), 3) } : {}),
    };
    saveCues([...cues, mark], loop ? 'Loop added' : 'Cue added');
  };
  const nudge = (by: number): void => {
    const start = track.values.gridStartSeconds;
    if (typeof start === 'number') void setField(track, 'gridStartSeconds', rounded(Math.max(0, start + by), 3));
  };
  const anchor = (): void => {
    void setField(
      track,
      'gridAnchors',
      [...marksOf(track.values.gridAnchors), { at: rounded(position, 3) }],
      'A beat is anchored at the playhead',
    );
  };
  const middle = own && position >= span.from && position <= span.to ? position : (span.from + span.to) / 2;
  const back = (): void => {
    void navigate(-1);
  };
  const noTrack = !own;
  useKeys('audition', { play: { run: () => toggleAudition(track), ...(playing ? { label: 'Pause' } : {}) } });
  useKeys('sound', {
    zoomIn: { run: () => setSpan((s) => zoom(s, 0.5, middle, duration)) },
    zoomOut: { run: () => setSpan((s) => zoom(s, 2, middle, duration)) },
    whole: { run: () => setSpan({ from: 0, to: duration }) },
    back: { run: () => setSpan((s) => scroll(s, -0.25, duration)) },
    forward: { run: () => setSpan((s) => scroll(s, 0.25, duration)) },
    cue: { run: () => add(false) },
    loop: { run: () => add(true) },
    toMark: {
      run: (digit) => {
        const mark = cues[Number(digit) - 1];
        if (mark) toMark(mark);
      },
    },
    leaveLoop: { run: () => repeat(null), disabled: player.repeated === null },
    split: { run: divide, disabled: noTrack },
    metronome: { run: () => setClicking(!clicking) },
    firstBar: { run: () => void setField(track, 'gridStartSeconds', rounded(position, 3)), disabled: noTrack },
    anchor: { run: anchor, disabled: noTrack || grid.beats.length < 2 },
    earlier: { run: () => nudge(-0.001) },
    later: { run: () => nudge(0.001) },
    muchEarlier: { run: () => nudge(-0.01) },
    muchLater: { run: () => nudge(0.01) },
    leave: { run: back },
  });
  return {
    track,
    result,
    duration,
    grid,
    cues,
    saveCues,
    span,
    setSpan,
    /** Where it plays; null when something else does. */
    position: own ? position : null,
    playing,
    repeated: own ? player.repeated : null,
    clicking,
    setClicking,
    jumpTo,
    toMark,
    add,
    back,
    zoomBy: (factor: number) => setSpan((s) => zoom(s, factor, middle, duration)),
  };
}

/** What is shown is what plays: another track that plays gives way on coming here, and is followed when it is next. */
function useWhatPlays(track: TrackDetails, own: boolean): void {
  const navigate = useNavigate();
  const player = usePlayer();
  const playingId = player.playing ? (player.track?.id ?? null) : null;
  const came = useRef(false);
  useEffect(() => {
    if (playingId === null || own) {
      came.current = true;
      return;
    }
    if (came.current) void navigate(`/tracks/${playingId}/sound`, { replace: true });
    else audition(track, player.order);
    came.current = true;
  }, [playingId, own, track, navigate, player.order]);
}

/** The wheel zooms and scrolls what is in sight; the page must not scroll with it. */
export function useWheel(duration: number, setSpan: Dispatch<SetStateAction<Span>>) {
  const lanes = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const node = lanes.current;
    if (!node) return undefined;
    const turn = (e: WheelEvent): void => {
      e.preventDefault();
      const left = node.getBoundingClientRect().left;
      if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY))
        setSpan((s) => scroll(s, (e.deltaX || e.deltaY) / 900, duration));
      else
        setSpan((s) =>
          zoom(
            s,
            Math.exp(e.deltaY * 0.0022),
            s.from + ((e.clientX - left) / node.clientWidth) * (s.to - s.from),
            duration,
          ),
        );
    };
    node.addEventListener('wheel', turn, { passive: false });
    return () => node.removeEventListener('wheel', turn);
  }, [duration, setSpan]);
  return lanes;
}
