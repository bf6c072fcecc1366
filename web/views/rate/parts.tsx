/** What rating by ear shows of a track: its moods, tags and notes. */
import { useState } from 'react';
import { fieldOf } from '@early-set/core/fields/table';
import { splitList } from '@early-set/core/fields/values';
import { Button } from '../../ui/Button.tsx';
import { TypeAhead } from '../../ui/TypeAhead.tsx';

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
        Change the moods on the keys
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
      <label className="mb-1.5 block font-semibold" htmlFor="rate-notes">
        Notes
      </label>
      <textarea
        id="rate-notes"
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
