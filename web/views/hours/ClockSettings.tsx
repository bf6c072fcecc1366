/** What holds for a format clock as a whole: its length, explicit words, names that are one artist. */
import { useState } from 'react';
import { clockLength, readLength, readTimeOfDay } from '@early-set/core/clock/clock';
import { splitList } from '@early-set/core/fields/values';
import type { KeptClock } from '@early-set/core/hours/kept';
import { SavedInput } from '../../ui/form/SavedInput.tsx';

interface Props {
  clock: KeptClock;
  onSave: (wish: Partial<KeptClock>) => void;
}

export function ClockSettings({ clock, onSave }: Props) {
  return (
    <section aria-label="About this clock" className="flex flex-col gap-2">
      <h3 className="text-small font-semibold text-dim">About this clock</h3>
      <label className="flex items-center gap-2">
        <span className="flex-1">Length of the hour</span>
        <SavedInput
          value={clock.seconds}
          text={clockLength}
          read={(text) => readLength(text) || undefined}
          onSave={(seconds) => seconds && onSave({ seconds })}
          className="w-[76px]"
        />
      </label>
      <label className="flex items-center gap-2">
        <span className="flex-1">Explicit words not before</span>
        <SavedInput
          value={clock.explicitFrom ?? null}
          text={(time) => time}
          read={(text) => (text === '' ? null : (readTimeOfDay(text) ?? undefined))}
          onSave={(explicitFrom) => onSave({ explicitFrom: explicitFrom ?? undefined })}
          placeholder="any time"
          className="w-[76px]"
        />
      </label>
      <Aliases
        key={JSON.stringify(clock.aliases ?? [])}
        aliases={clock.aliases ?? []}
        onSave={(aliases) => onSave({ aliases: aliases.length > 0 ? aliases : undefined })}
      />
    </section>
  );
}

type Groups = readonly (readonly string[])[];

/** A line for each artist, its names separated by semicolons; saved on leaving, Esc brings back what was there. */
function Aliases({ aliases, onSave }: { aliases: Groups; onSave: (aliases: Groups) => void }) {
  const shown = aliases.map((names) => names.join('; ')).join('\n');
  const [text, setText] = useState(shown);
  const save = (): void => {
    const groups = text
      .split('\n')
      .map(splitList)
      .filter((names) => names.length > 1);
    if (JSON.stringify(groups) !== JSON.stringify(aliases)) onSave(groups);
    else setText(shown);
  };
  return (
    <label className="flex flex-col gap-1">
      <span>Names that are one artist</span>
      <textarea
        rows={text ? 3 : 1}
        value={text}
        maxLength={20_000}
        placeholder="Vesna Rook; V. Rook"
        onChange={(e) => setText(e.target.value)}
        onBlur={save}
        onKeyDown={(e) => {
          if (e.key === 'Escape') setText(shown);
        }}
        className="resize-y rounded-xs border border-line bg-sheet px-1.5 py-1 placeholder:text-dim"
      />
      <span className="text-tiny text-dim">A line for each artist, names separated by semicolons.</span>
    </label>
  );
}
