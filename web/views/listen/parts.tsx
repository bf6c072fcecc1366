/** What listening shows of a track: its line, its wave, its moods, tags and notes. */
import { Check } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { SheetRow } from '@early-set/core/api/types';
import { fieldOf } from '@early-set/core/fields/table';
import { splitList } from '@early-set/core/fields/values';
import { audition, seek, usePlayer } from '../../audition/player.ts';
import { Waveform } from '../../audition/Waveform.tsx';
import { useWaveform } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { textOf } from '../../ui/format.ts';
import { TypeAhead } from '../../ui/TypeAhead.tsx';

/** What a track is called: its title, or else its file. */
export const nameOf = (row: SheetRow): string =>
  textOf('title', row.values.title) || textOf('path', row.values.path).split('/').at(-1)!;

export function Line({
  row,
  chosen,
  judged,
  onChoose,
}: {
  row: SheetRow;
  chosen: boolean;
  judged: boolean;
  onChoose: () => void;
}) {
  const node = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (chosen) node.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  return (
    <li>
      <button
        ref={node}
        type="button"
        aria-current={chosen}
        onClick={onChoose}
        data-track={row.id}
        className={`flex w-full items-center gap-2 border-b border-hair px-3 py-1.5 text-left ${chosen ? 'bg-chosen shadow-[inset_3px_0_0_var(--buoy)]' : 'hover:bg-hair'}`}
      >
        <span className="min-w-0 flex-1">
          <span className="block truncate font-medium">{nameOf(row)}</span>
          <span className="block truncate text-small text-dim">
            {textOf('artist', row.values.artist) || 'no artist'}
          </span>
        </span>
        <span className="w-[16px]">{judged && <Check size={14} className="text-kelp" aria-label="judged" />}</span>
      </button>
    </li>
  );
}

export function Wave({ row }: { row: SheetRow }) {
  const waveform = useWaveform(row.id);
  const player = usePlayer();
  const own = player.track?.id === row.id;
  return (
    <div className="mt-3 border border-line bg-sheet p-1.5">
      <Waveform
        waveform={waveform}
        duration={Number(row.values.durationSeconds ?? 0)}
        position={own ? player.position : 0}
        beats={[]}
        firstDownbeat={null}
        beatsPerBar={4}
        height={72}
        label={`Waveform of ${nameOf(row)}`}
        onSeek={(t) => {
          if (!own) audition(row);
          seek(t);
        }}
      />
    </div>
  );
}

/** The words that lie on the keys. */
export function MoodWords({ moods, onChange }: { moods: string[]; onChange: (moods: string[]) => void }) {
  const [text, setText] = useState<string | null>(null);
  if (text === null)
    return (
      <button
        type="button"
        onClick={() => setText(moods.join('; '))}
        className="mt-1.5 text-small text-dim underline hover:text-ink"
      >
        Other words on the keys
      </button>
    );
  const save = (): void => {
    const next = splitList(text).slice(0, 30);
    if (next.length) onChange(next);
    setText(null);
  };
  return (
    <form
      className="mt-1.5 flex gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      <input
        autoFocus
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Escape') {
            e.preventDefault();
            setText(null);
          }
        }}
        aria-label="Moods, separated by semicolons"
        className="min-w-0 flex-1 rounded-xs border border-tide-deep bg-sheet px-2 py-1"
      />
      <Button type="submit">Use these</Button>
    </form>
  );
}

/** Made on the fly, with those that are there offered. */
export function FreeTags({ value, onChange }: { value: string[]; onChange: (value: string[]) => void }) {
  const [text, setText] = useState<string | null>(null);
  const keep = (now: string): void => {
    setText(null);
    const next = splitList(now);
    if (next.join(';') !== value.join(';')) onChange(next);
  };
  return (
    <div className="mt-5">
      <h3 className="mb-1.5 font-semibold">Free tags</h3>
      {text === null ? (
        <button
          type="button"
          onClick={() => setText(value.join('; '))}
          className="min-h-[26px] w-full rounded-xs border border-line bg-sheet px-2 py-1 text-left hover:border-tide-deep"
        >
          {value.join('; ') || <span className="text-dim">None; several separated by semicolons</span>}
        </button>
      ) : (
        <TypeAhead
          field={fieldOf('freeTags')}
          value={text}
          onChange={setText}
          onBlur={() => keep(text)}
          onKey={(e, now) => {
            if (e.key === 'Enter') {
              e.preventDefault();
              keep(now);
            }
            if (e.key === 'Escape') {
              e.preventDefault();
              setText(null);
            }
          }}
          className="w-full rounded-xs border border-tide-deep bg-sheet px-2 py-1"
        />
      )}
    </div>
  );
}

export function Notes({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  return (
    <div className="mt-4">
      <label className="mb-1.5 block font-semibold" htmlFor="listen-notes">
        Notes
      </label>
      <textarea
        id="listen-notes"
        rows={2}
        defaultValue={value}
        onBlur={(e) => {
          if (e.target.value.trim() !== value) onChange(e.target.value.trim());
        }}
        className="w-full rounded-xs border border-line bg-sheet px-2 py-1"
      />
    </div>
  );
}
