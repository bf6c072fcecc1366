/** The sound of one track on a page of its own: waveform to zoom into, grid, edges, sections, cues, loudness, energy, key. */
import { ArrowLeft, Pause, Play, ZoomIn, ZoomOut } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { TrackDetails } from '@early-set/core/api/types';
import { gridOf } from '@early-set/core/analysis/gridOf';
import { SEGMENT_SECONDS } from '@early-set/core/analysis/harmony/key';
import { marksOf, marksValue, readMarks, type Mark } from '@early-set/core/fields/marks';
import { useCommands, useKeys } from '../../app/commands.ts';
import { clickAlong } from '../../audition/click.ts';
import { audition, repeat, seek, toggleAudition, usePlayer } from '../../audition/player.ts';
import { Waveform } from '../../audition/Waveform.tsx';
import { rounded, setField } from '../../data/fields.ts';
import { useTrack, useWaveform } from '../../data/hooks.ts';
import { useLoudnessTarget } from '../../data/loudnessTarget.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { textOf } from '../../ui/format.ts';
import { useSize } from '../../ui/useSize.ts';
import { EDGES } from './edges.ts';
import { Handle } from './Handle.tsx';
import { EnergyLane, KeyLane, LoudnessLane } from './Lanes.tsx';
import { loopEnd } from './MarksPanel.tsx';
import { markColour } from './palette.ts';
import { partsOfTrack, saveParts, SectionStrip, splitAt } from './SectionStrip.tsx';
import { SidePanel } from './SidePanel.tsx';
import { quantised, reveal, scroll, zoom, type Span } from './timeline.ts';
import { NUMBERS, Wave, WAVE_HEIGHT } from './Wave.tsx';

export function SoundView() {
  const { trackId } = useParams();
  const id = Number(trackId);
  const { data: track, error } = useTrack(Number.isInteger(id) && id > 0 ? id : null);
  if (error && !track) return <Trouble error={error} />;
  if (!track || track.id !== id) return <div aria-busy="true" className="h-full bg-paper" />;
  if (!track.analysis) {
    return (
      <Empty title="Not measured yet">
        <p>{track.analysisReason ?? 'The waveform, grid and key of this track are here once it has been measured.'}</p>
        <Link to="/tracks" className="mt-2 inline-block font-semibold text-buoy-text">
          Back to the tracks
        </Link>
      </Empty>
    );
  }
  return <Page key={track.id} track={track} analysed={track.analysis} />;
}

function Page({ track, analysed }: { track: TrackDetails; analysed: NonNullable<TrackDetails['analysis']> }) {
  const { result } = analysed;
  const duration = result.durationSeconds;
  const navigate = useNavigate();
  const waveform = useWaveform(track.id);
  const player = usePlayer();
  const own = player.track?.id === track.id;
  const position = own ? player.position : 0;
  const [span, setSpan] = useState<Span>({ from: 0, to: duration });
  const [clicking, setClicking] = useState(false);
  const [target] = useLoudnessTarget();
  const [box, { width }, theme] = useSize<HTMLDivElement>();
  const grid = useMemo(() => gridOf(result, track.values), [result, track.values]);
  const cues = useMemo(() => marksOf(track.values.cues), [track.values.cues]);
  const saveCues = (next: readonly Mark[], say: string): void => {
    const tidy = readMarks([...next]);
    if (typeof tidy !== 'string') void setField(track, 'cues', marksValue(tidy), say);
  };
  const shown = { span, width };

  const latest = useRef(grid);
  useEffect(() => {
    latest.current = grid;
  });
  useEffect(() => (clicking ? clickAlong(() => latest.current) : undefined), [clicking]);
  const playing = own && player.playing;
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
    if (own && !playing) toggleAudition(track);
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
      colour: loop ? 'kelp' : 'buoy',
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
      'A beat is anchored here',
    );
  };
  const middle = own && position >= span.from && position <= span.to ? position : (span.from + span.to) / 2;
  const back = (): void => {
    void navigate(-1);
  };
  const actions: { key: string; label: string; keys: string; run: () => void; disabled?: boolean }[] = [
    { key: ' ', label: playing ? 'Pause' : 'Audition', keys: 'Space', run: () => toggleAudition(track) },
    { key: '+', label: 'Zoom in', keys: '+', run: () => setSpan((s) => zoom(s, 0.5, middle, duration)) },
    { key: '-', label: 'Zoom out', keys: '-', run: () => setSpan((s) => zoom(s, 2, middle, duration)) },
    { key: '0', label: 'Show the whole track', keys: '0', run: () => setSpan({ from: 0, to: duration }) },
    { key: 'ArrowLeft', label: 'Scroll back', keys: '←', run: () => setSpan((s) => scroll(s, -0.25, duration)) },
    { key: 'ArrowRight', label: 'Scroll on', keys: '→', run: () => setSpan((s) => scroll(s, 0.25, duration)) },
    { key: 'c', label: 'Add a cue here', keys: 'C', run: () => add(false) },
    { key: 'o', label: 'Add a loop of four bars here', keys: 'O', run: () => add(true) },
    { key: 's', label: 'Split the section here', keys: 'S', run: divide, disabled: !own },
    { key: 'r', label: 'Leave the loop', keys: 'R', run: () => repeat(null), disabled: player.repeated === null },
    {
      key: 'k',
      label: clicking ? 'Stop the click' : 'Click along with the beats',
      keys: 'K',
      run: () => setClicking(!clicking),
    },
    {
      key: 'b',
      label: 'First bar here',
      keys: 'B',
      run: () => void setField(track, 'gridStartSeconds', rounded(position, 3)),
      disabled: !own,
    },
    { key: 'n', label: 'Anchor a beat here', keys: 'N', run: anchor, disabled: !own || grid.beats.length < 2 },
    { key: '[', label: 'Grid 1 ms earlier', keys: '[', run: () => nudge(-0.001) },
    { key: ']', label: 'Grid 1 ms later', keys: ']', run: () => nudge(0.001) },
    { key: '{', label: 'Grid 10 ms earlier', keys: '{', run: () => nudge(-0.01) },
    { key: '}', label: 'Grid 10 ms later', keys: '}', run: () => nudge(0.01) },
    { key: 'Escape', label: 'Back', keys: 'Esc', run: back },
  ];
  useCommands(
    actions.map((a) => ({
      id: `sound-${a.label}`,
      label: a.label,
      keys: a.keys,
      group: 'Sound',
      run: a.run,
      disabled: a.disabled ?? false,
    })),
  );
  useKeys((e) => {
    if (e.key === ' ' && e.target instanceof HTMLButtonElement) return;
    const digit = Number(e.key);
    const mark = digit >= 1 && digit <= 9 ? cues[digit - 1] : undefined;
    const action = actions.find((a) => a.key === e.key || (e.key === '=' && a.key === '+'));
    if (!mark && (!action || action.disabled)) return;
    e.preventDefault();
    if (mark) toMark(mark);
    else action!.run();
  });
  // The wheel zooms and scrolls; the page must not scroll with it.
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
  }, [duration]);

  const title = textOf('title', track.values.title) || textOf('path', track.values.path).split('/').at(-1)!;
  return (
    <div className="flex h-full bg-fog">
      <div className="flex min-w-0 flex-1 flex-col">
        <header className="flex min-h-[50px] items-center gap-2 border-b border-line bg-paper px-3.5 py-2">
          <button
            type="button"
            aria-label="Back"
            title="Back (Esc)"
            onClick={back}
            className="rounded-xs p-1.5 text-dim hover:bg-hair hover:text-ink"
          >
            <ArrowLeft size={16} />
          </button>
          <div className="min-w-0 flex-1">
            <h1 className="heading truncate text-[17px] leading-5">{title}</h1>
            <p className="truncate text-small text-dim">{textOf('artist', track.values.artist) || 'no artist'}</p>
          </div>
          <Button onClick={() => toggleAudition(track)}>
            {playing ? <Pause size={13} /> : <Play size={13} />}
            {playing ? 'Pause' : 'Audition'}
          </Button>
          <Button
            aria-pressed={clicking}
            disabled={grid.beats.length < 2}
            onClick={() => setClicking(!clicking)}
            className={clicking ? 'border-buoy! bg-chosen' : ''}
            title="A click on every beat while it plays (K)"
          >
            Click
          </Button>
          <Button
            aria-label="Zoom out"
            title="Zoom out (-)"
            onClick={() => setSpan((s) => zoom(s, 2, middle, duration))}
            className="px-1.5!"
          >
            <ZoomOut size={14} />
          </Button>
          <Button
            aria-label="Zoom in"
            title="Zoom in (+)"
            onClick={() => setSpan((s) => zoom(s, 0.5, middle, duration))}
            className="px-1.5!"
          >
            <ZoomIn size={14} />
          </Button>
          <Button onClick={() => setSpan({ from: 0, to: duration })} title="Show the whole track (0)">
            Whole
          </Button>
        </header>
        <div className="min-h-0 flex-1 overflow-y-auto p-3.5">
          <div className="border border-line bg-sheet p-1.5" title="The whole track; click to go there">
            <div className="relative">
              <Waveform
                waveform={waveform}
                duration={duration}
                position={position}
                height={38}
                label="The whole track"
                onSeek={(t) => jumpTo(t)}
              />
              <span
                aria-hidden="true"
                className="pointer-events-none absolute inset-y-0 border-x-2 border-ink bg-ink/8"
                style={{
                  left: `${(span.from / duration) * 100}%`,
                  width: `${((span.to - span.from) / duration) * 100}%`,
                }}
              />
            </div>
          </div>
          <div ref={box} className="mt-2.5 border border-line bg-sheet">
            <div ref={lanes} data-testid="lanes">
              <SectionStrip
                track={track}
                sections={result.sections ?? []}
                beats={grid.beats}
                duration={duration}
                {...shown}
              />
              {/* The wave is for the pointer; the keyboard has its keys, the screen reader the handles and lists. */}
              <div
                className="relative overflow-hidden"
                style={{ height: WAVE_HEIGHT }}
                onPointerDown={(e) => {
                  if (e.button === 0)
                    jumpTo(
                      span.from +
                        ((e.clientX - e.currentTarget.getBoundingClientRect().left) / width) * (span.to - span.from),
                    );
                }}
              >
                <Wave
                  waveform={waveform}
                  duration={duration}
                  grid={grid}
                  position={own ? position : null}
                  cues={cues}
                  theme={theme}
                  {...shown}
                />
                {EDGES.map(({ field, label, flag, top, colour }) => {
                  const at = track.values[field];
                  return (
                    typeof at === 'number' && (
                      <Handle
                        key={field}
                        label={label}
                        flag={flag}
                        at={at}
                        duration={duration}
                        beats={grid.beats}
                        colour={colour}
                        top={top}
                        onMove={(t) => void setField(track, field, rounded(t, 2))}
                        {...shown}
                      />
                    )
                  );
                })}
                {cues.map((c, i) => (
                  <Handle
                    key={`cue-${i}-${c.at}`}
                    label={`${c.end === undefined ? 'Cue' : 'Loop'} ${i + 1}${c.name ? `, ${c.name}` : ''}`}
                    flag={c.name ?? String(i + 1)}
                    at={c.at}
                    duration={duration}
                    beats={grid.beats}
                    colour={markColour(c.colour)}
                    top={NUMBERS}
                    onMove={(t) =>
                      saveCues(
                        cues.map((x, k) =>
                          k === i
                            ? {
                                ...x,
                                at: rounded(t, 3),
                                ...(x.end === undefined ? {} : { end: rounded(x.end + t - x.at, 3) }),
                              }
                            : x,
                        ),
                        'Cue moved',
                      )
                    }
                    {...shown}
                  />
                ))}
                {cues.map(
                  (c, i) =>
                    c.end !== undefined && (
                      <Handle
                        key={`end-${i}-${c.at}`}
                        label={`End of loop ${i + 1}`}
                        flag="⟲"
                        at={c.end}
                        duration={duration}
                        beats={grid.beats}
                        colour={markColour(c.colour)}
                        top={NUMBERS}
                        onMove={(t) => {
                          if (t > c.at + 0.05)
                            saveCues(
                              cues.map((x, k) => (k === i ? { ...x, end: rounded(t, 3) } : x)),
                              'Loop changed',
                            );
                        }}
                        {...shown}
                      />
                    ),
                )}
              </div>
              {width > 0 && (
                <>
                  <LoudnessLane
                    curve={result.loudness.shortTermCurve}
                    target={target.lufs}
                    integrated={result.loudness.integratedLufs}
                    {...shown}
                  />
                  <EnergyLane curve={result.energy.curve} {...shown} />
                  <KeyLane
                    keys={result.key.overTime}
                    seconds={SEGMENT_SECONDS}
                    own={typeof track.values.key === 'string' ? track.values.key : null}
                    {...shown}
                  />
                </>
              )}
            </div>
          </div>
          <p className="mt-2 text-tiny text-dim">
            Wheel zooms, Shift and wheel scrolls. Space auditions, C cue, O loop, R leaves a loop, S splits a section, B
            first bar, N anchor a beat, K click, square brackets move the grid by 1 ms.
          </p>
        </div>
      </div>
      <SidePanel
        track={track}
        analysed={analysed}
        grid={grid}
        cues={cues}
        position={own ? position : null}
        cueActions={{ onJump: toMark, repeated: own ? player.repeated : null, onAdd: add, onSave: saveCues }}
      />
    </div>
  );
}
