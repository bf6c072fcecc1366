/** The top of the sound page: which track, audition, metronome, zoom. */
import { ArrowLeft, Pause, Play, ZoomIn, ZoomOut } from 'lucide-react';
import { toggleAudition } from '../../audition/player.ts';
import { Button } from '../../ui/Button.tsx';
import { nameOf, textOf } from '../../ui/format.ts';
import type { SoundPage } from './useSoundPage.ts';

export function SoundHeader({ page }: { page: SoundPage }) {
  const { track } = page;
  const title = nameOf(track);
  return (
    <header className="flex min-h-[50px] items-center gap-2 border-b border-line bg-paper px-3.5 py-2">
      <button
        type="button"
        aria-label="Back"
        title="Back (Esc)"
        onClick={page.back}
        className="rounded-xs p-1.5 text-dim hover:bg-hair hover:text-ink"
      >
        <ArrowLeft size={16} />
      </button>
      <div className="min-w-0 flex-1">
        <h1 className="heading truncate text-[17px] leading-5">{title}</h1>
        <p className="truncate text-small text-dim">{textOf('artist', track.values.artist) || 'no artist'}</p>
      </div>
      <Button onClick={() => toggleAudition(track)}>
        {page.playing ? <Pause size={13} /> : <Play size={13} />}
        {page.playing ? 'Pause' : 'Audition'}
      </Button>
      <Button
        aria-pressed={page.clicking}
        disabled={page.grid.beats.length < 2}
        onClick={() => page.setClicking(!page.clicking)}
        className={page.clicking ? 'border-buoy! bg-chosen' : ''}
        title="A click on every beat while it plays (K)"
      >
        Metronome
      </Button>
      <Button aria-label="Zoom out" title="Zoom out (-)" onClick={() => page.zoomBy(2)} className="px-1.5!">
        <ZoomOut size={14} />
      </Button>
      <Button aria-label="Zoom in" title="Zoom in (+)" onClick={() => page.zoomBy(0.5)} className="px-1.5!">
        <ZoomIn size={14} />
      </Button>
      <Button onClick={() => page.setSpan({ from: 0, to: page.duration })} title="Show the whole track (0)">
        Whole track
      </Button>
    </header>
  );
}
