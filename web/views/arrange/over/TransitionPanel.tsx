/** The entry in hand: how it goes over into the next, at which tempo, and from where to where it is heard. */
import { Minus, Play, Plus, Square } from 'lucide-react';
import type { ReactNode } from 'react';
import type { Applied, ListContents, ListEntryRow } from '@early-set/core/api/types';
import type { DeskSettings } from '@early-set/core/api/settings';
import { beatsPerBar, DEFAULT_RAMP_BARS, heardPart, schedule, type Over } from '@early-set/core/arrange/schedule';
import { transition } from '@early-set/core/arrange/transition';
import type { EntryData } from '@early-set/core/changes/snapshot';
import { clockLength, readLength, readTimeOfDay } from '@early-set/core/clock/clock';
import { useMix } from '../../../audition/mix/mixPlayer.ts';
import { change, perform } from '../../../data/actions.ts';
import { patch } from '../../../data/api.ts';
import { useSettings } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { SavedInput } from '../../../ui/form/SavedInput.tsx';
import { nameOf } from '../../../ui/format.ts';
import { nextTrack, useHear } from './useHear.ts';
import { GRADES } from './grades.ts';
import { useKeys } from '../../../commands/commands.ts';

interface Props {
  list: ListContents;
  /** The entry in hand. */
  inHand: string | null;
}

const oneDigit = (value: number): string => String(Math.round(value * 100) / 100);

export function TransitionPanel({ list, inHand }: Props) {
  const { entries } = list;
  const { data: settings } = useSettings();
  const keyLock = settings?.keyLock ?? true;
  const plan = schedule(entries);
  const hear = useHear(entries, plan, keyLock);
  const index = entries.findIndex((e) => e.entryId === inHand);
  const next = index < 0 ? null : nextTrack(entries, index);
  const entry = entries[index];
  const hears = entry?.kind === 'track' && entry.id > 0 && next !== null;
  useKeys('arrange', { hear: { run: () => hear.toggle(index), disabled: !hears } });
  if (!entry) return null;
  const say = (e: ListEntryRow, wish: { [K in keyof EntryData]?: EntryData[K] | null }): void =>
    void change(patch<Applied>(`/lists/${list.id}/entries/${e.entryId}`, wish));
  return (
    <section aria-labelledby="transition-title" className="flex flex-col gap-1.5 border-t border-line pt-3 text-small">
      <h2 id="transition-title" className="heading text-[17px]">
        Transition
      </h2>
      {hears ? (
        <Into
          {...{ entry, next: entries[next]!, over: plan.over[index]!, keyLock, say }}
          tempo={plan.played[index]?.to ?? null}
          onHear={() => hear.toggle(index)}
        />
      ) : (
        <p className="text-dim">Only a track goes over into a track behind it.</p>
      )}
      <Line label="Key lock">
        <input
          type="checkbox"
          aria-label="Key lock"
          checked={keyLock}
          onChange={(e) => void perform(patch<DeskSettings>('/settings', { keyLock: e.target.checked }))}
          className="accent-ink"
        />
      </Line>
      <Edges entry={entry} say={say} />
    </section>
  );
}

const Line = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="flex items-center gap-1.5">
    <span className="flex-1">{label}</span>
    {children}
  </div>
);

type Say = (entry: ListEntryRow, wish: { [K in keyof EntryData]?: EntryData[K] | null }) => void;
interface IntoProps {
  entry: ListEntryRow;
  next: ListEntryRow;
  over: Over;
  /** Tempo at which the first one ends. */
  tempo: number | null;
  keyLock: boolean;
  say: Say;
  onHear: () => void;
}

const SELECT = 'min-w-0 rounded-xs border border-line bg-sheet px-1.5 py-0.5';

function Into({ entry, next, over, tempo, keyLock, say, onHear }: IntoProps) {
  const mix = useMix();
  const mine = mix.name === entry.entryId;
  const judged = transition(entry.values, next.values, { keyLock, tempo, bars: over.bars });
  const inBars = over.bars !== null;
  const save = (value: number | null): void =>
    say(entry, inBars ? { overlapBars: value, overlap: null } : { overlap: value, overlapBars: null });
  const perBar = beatsPerBar(entry.values);
  /** One beat longer or shorter, from what is heard. */
  const nudge = (beats: number): void => {
    const fade = mine && mix.sound ? mix.sound.mix.fade : { from: 0, to: over.seconds };
    const beat = (mine ? mix.sound?.mix.beat : null) ?? (tempo ? 60 / tempo : 0.5);
    const whole = Math.max(0, Math.round((fade.to - fade.from) / beat) + beats);
    save(inBars ? whole / perBar : whole * beat);
  };
  return (
    <>
      <p>
        <b>{GRADES[judged.grade].label}</b> into <b>{nameOf(next)}</b>: {judged.reasons.join(', ')}.
      </p>
      <Line label={`Overlap, ${inBars ? 'bars' : 'seconds'}`}>
        <SavedInput
          label={`Overlap in ${inBars ? 'bars' : 'seconds'}`}
          value={inBars ? over.bars : over.seconds}
          text={oneDigit}
          read={(text) =>
            text === '' ? null : Number.isFinite(Number(text)) && Number(text) >= 0 ? Number(text) : undefined
          }
          onSave={save}
        />
        {over.by === 'hand' ? (
          <Button kind="link" onClick={() => save(null)}>
            Reset
          </Button>
        ) : (
          <span className="w-[84px] truncate text-tiny text-dim">{BY[over.by]}</span>
        )}
      </Line>
      <Line label="Tempo of the next">
        <select
          aria-label="Tempo of the next"
          value={next.data.tempo ?? ''}
          onChange={(e) => say(next, { tempo: (e.target.value || null) as EntryData['tempo'] | null })}
          className={SELECT}
        >
          <option value="">its own</option>
          <option value="former">of the one before</option>
          <option value="ramp">slowly to its own</option>
        </select>
      </Line>
      {next.data.tempo === 'ramp' && (
        <Line label="Over so many bars">
          <SavedInput
            label="Over so many bars"
            value={next.data.rampBars ?? DEFAULT_RAMP_BARS}
            text={String}
            read={(text) => (/^[1-9]\d{0,2}$/.test(text) && Number(text) <= 256 ? Number(text) : undefined)}
            onSave={(rampBars) => say(next, { rampBars })}
          />
        </Line>
      )}
      <div className="flex items-center gap-1.5">
        <Button onClick={onHear} aria-pressed={mine && mix.state !== 'silent'}>
          {mine && mix.state !== 'silent' ? <Square size={12} /> : <Play size={12} />}
          {mine && mix.state !== 'silent' ? 'Stop' : 'Hear it'} <kbd className="text-dim">H</kbd>
        </Button>
        <Button kind="quiet" aria-label="One beat less" title="One beat less" onClick={() => nudge(-1)}>
          <Minus size={13} /> beat
        </Button>
        <Button kind="quiet" aria-label="One beat more" title="One beat more" onClick={() => nudge(1)}>
          <Plus size={13} /> beat
        </Button>
      </div>
      <p role="status" className={`min-h-[1.25em] text-tiny ${mine && mix.trouble ? 'text-flare' : 'text-dim'}`}>
        {mine && heardInWords(mix)}
      </p>
    </>
  );
}

const BY: Record<Exclude<Over['by'], 'hand'>, string> = {
  'outro and intro': 'outro and intro',
  'segue point': 'segue point',
  nothing: 'none',
};

function heardInWords({ state, trouble, sound }: ReturnType<typeof useMix>): string {
  if (trouble) return trouble;
  if (state === 'making' || !sound) return state === 'silent' ? '' : 'Making it…';
  const { mix } = sound;
  if (!mix.matched) return 'Tempi too far apart to be matched.';
  const percent = (mix.second.rate - 1) * 100;
  const apart = mix.apart === null ? '' : `, beats ${Math.round(mix.apart * 1000)} ms apart`;
  return `The next is played at ${percent < 0 ? '−' : '+'}${Math.abs(percent).toFixed(1)} %${apart}.`;
}

/** From where to where it is heard, and when it is to begin. */
function Edges({ entry, say }: { entry: ListEntryRow; say: Say }) {
  const part = heardPart(entry);
  const clock = (seconds: number): string => clockLength(seconds);
  const read = (text: string): number | null | undefined => (text === '' ? null : (readLength(text) ?? undefined));
  return (
    <>
      {entry.id > 0 && (
        <Line label="Heard from, to">
          <SavedInput
            label="Heard from"
            value={part.from}
            text={clock}
            read={read}
            onSave={(from) => say(entry, { from })}
          />
          <SavedInput label="Heard to" value={part.to} text={clock} read={read} onSave={(to) => say(entry, { to })} />
        </Line>
      )}
      <Line label="Is to begin at">
        <SavedInput
          label="Is to begin at"
          value={entry.data.at ?? null}
          text={(at) => at}
          read={(text) => (text === '' ? null : (readTimeOfDay(text) ?? undefined))}
          onSave={(at) => say(entry, { at })}
          placeholder="any time"
          className="w-[84px]"
        />
      </Line>
    </>
  );
}
