/** Names of one folder that are built alike: what each part means, for all of them or for some. */
import { useState } from 'react';
import { needsLook, type Meaning, type NameGroup } from '@early-set/core/clean/nameGroup';
import type { Step } from '@early-set/core/clean/steps';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';

const MEANINGS: [Meaning, string][] = [
  ['artist', 'Artist'],
  ['title', 'Title'],
  ['version', 'Version'],
  ['album', 'Album'],
  ['albumArtist', 'Album artist'],
  ['trackNumber', 'Track number'],
  ['discAndTrack', 'Disc and track'],
  ['year', 'Year'],
  ['catalogueNumber', 'Catalogue no.'],
  ['label', 'Label'],
  ['nothing', 'Not used'],
  ['undefined', 'Undefined'],
];
const SAMPLES = 4;

export type NamesStep = Step & { kind: 'names' };
/** A record without some of its keys. */
const TONES: Partial<Record<Meaning, string>> = { undefined: 'text-sodium-text', nothing: 'text-dim' };
const toneOf = (meaning: Meaning): string => TONES[meaning] ?? 'text-kelp';

const without = <T,>(
  of: Readonly<Record<string, T>> | undefined,
  keys: readonly (string | number)[],
): Record<string, T> =>
  Object.fromEntries(Object.entries(of ?? {}).filter(([key]) => !keys.some((k) => String(k) === key)));

export function Group({
  group,
  step,
  set,
}: {
  group: NameGroup;
  step: NamesStep;
  set: (options: Partial<NamesStep['options']>) => void;
}) {
  const [all, setAll] = useState(false);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [splitting, setSplitting] = useState<number | null>(null);
  const { options } = step;
  const members = all ? group.members.slice(0, 500) : group.members.slice(0, SAMPLES);
  const toggle = (id: number): void => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  const mean = (at: number, meaning: Meaning): void => {
    // No two parts mean the same: the other one gets what this one was.
    const alone = meaning !== 'nothing' && meaning !== 'undefined';
    const pattern = group.pattern.map((m, i) => (i === at ? meaning : alone && m === meaning ? group.pattern[at]! : m));
    if (chosen.size === 0 || chosen.size === group.members.length) {
      set({ patterns: { ...options.patterns, [group.key]: pattern } });
      return;
    }
    set({ rows: { ...options.rows, ...Object.fromEntries([...chosen].map((id) => [id, pattern])) } });
    setChosen(new Set());
  };
  const split = (id: number, text: string): void => {
    const parts = text
      .split('|')
      .map((p) => p.trim())
      .filter(Boolean);
    set({ splits: { ...options.splits, [id]: parts }, rows: without(options.rows, [id]) });
    setSplitting(null);
  };
  const byHand =
    group.key in (options.patterns ?? {}) ||
    group.members.some((m) => m.id in (options.rows ?? {}) || m.id in (options.splits ?? {}));
  const asFound = (): void => {
    const ids = group.members.map((m) => m.id);
    set({
      patterns: without(options.patterns, [group.key]),
      rows: without(options.rows, ids),
      splits: without(options.splits, ids),
    });
  };
  return (
    <article
      aria-label={`${group.folder || 'The folder itself'}: ${group.pattern.join(', ')}`}
      className="border-b border-line px-3.5 py-3"
    >
      <div className="mb-1.5 flex items-baseline gap-3">
        <h2 className="min-w-0 truncate font-semibold" title={group.folder}>
          {group.folder || 'The folder itself'}
        </h2>
        <span className="text-small whitespace-nowrap text-dim">{several(group.members.length, 'name')}</span>
        <span className="flex-1" />
        <span className={`text-small whitespace-nowrap ${needsLook(group) ? 'text-sodium-text' : 'text-dim'}`}>
          confidence {group.sure.toFixed(2)}: {group.reason}
        </span>
        {needsLook(group) && !group.pattern.includes('undefined') && (
          <Button onClick={() => set({ patterns: { ...options.patterns, [group.key]: group.pattern } })}>
            Confirm
          </Button>
        )}
        {byHand && (
          <Button kind="link" onClick={asFound}>
            Reset
          </Button>
        )}
      </div>
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-small">
          <thead>
            <tr>
              <th className="w-[26px]">
                <span className="sr-only">Choose</span>
              </th>
              {group.pattern.map((meaning, i) => (
                <th key={i} className="border border-line bg-paper p-1 text-left font-normal">
                  <select
                    aria-label={`Part ${i + 1} is`}
                    value={meaning}
                    onChange={(e) => mean(i, e.target.value as Meaning)}
                    className={`w-full bg-transparent font-semibold ${toneOf(meaning)}`}
                  >
                    {MEANINGS.map(([id, label]) => (
                      <option key={id} value={id}>
                        {label}
                      </option>
                    ))}
                  </select>
                </th>
              ))}
              <th className="w-[52px]">
                <span className="sr-only">Split</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {members.map((m) => (
              <tr key={m.id} className={chosen.has(m.id) ? 'bg-chosen' : ''}>
                <td className="text-center">
                  <input
                    type="checkbox"
                    aria-label={`Choose ${m.stem}`}
                    checked={chosen.has(m.id)}
                    onChange={() => toggle(m.id)}
                    className="accent-ink"
                  />
                </td>
                {splitting === m.id ? (
                  <td colSpan={group.pattern.length} className="border border-hair p-1">
                    <SplitName
                      stem={m.stem}
                      parts={m.parts}
                      onSplit={(text) => split(m.id, text)}
                      onLeave={() => setSplitting(null)}
                    />
                  </td>
                ) : (
                  m.parts.map((part, i) => (
                    <td
                      key={i}
                      className={`border border-hair px-2 py-0.5 ${group.pattern[i] === 'nothing' ? 'text-dim' : ''}`}
                    >
                      {part}
                    </td>
                  ))
                )}
                <td className="pl-2 text-right">
                  <Button
                    kind="link"
                    className="text-tiny!"
                    aria-label={`Split ${m.stem} by hand`}
                    onClick={() => setSplitting(splitting === m.id ? null : m.id)}
                  >
                    Split
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-1 flex gap-3 text-small text-dim">
        {group.members.length > SAMPLES && (
          <button type="button" onClick={() => setAll(!all)} className="underline hover:text-ink">
            {all ? 'Fewer' : `All ${group.members.length.toLocaleString('en-GB')}`}
          </button>
        )}
        {chosen.size > 0 && (
          <span>
            {several(chosen.size, 'name')} chosen: what you set above goes to {chosen.size === 1 ? 'it' : 'them'} only.
          </span>
        )}
      </p>
    </article>
  );
}

function SplitName({
  stem,
  parts,
  onSplit,
  onLeave,
}: {
  stem: string;
  parts: readonly string[];
  onSplit: (text: string) => void;
  onLeave: () => void;
}) {
  const [text, setText] = useState(parts.join(' | '));
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (text.split('|').some((p) => p.trim())) onSplit(text);
      }}
    >
      <input
        autoFocus
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Escape') onLeave();
        }}
        aria-label={`Parts of ${stem}, separated by |`}
        className="min-w-0 flex-1 rounded-xs border border-tide-deep bg-sheet px-1.5 py-0.5"
      />
      <span className="text-tiny whitespace-nowrap text-dim">| between parts</span>
      <Button type="submit">Split</Button>
    </form>
  );
}
