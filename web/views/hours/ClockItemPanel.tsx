/** The item of a format clock in hand, with what can be said of it. */
import { useState } from 'react';
import type { ListLine } from '@early-set/core/api/types';
import { clockLength, readLength } from '@early-set/core/clock/clock';
import type { ClockItem, FixedTime } from '@early-set/core/hours/clock';
import { fileOfItem } from '@early-set/core/hours/stationFiles';
import { useStationFiles } from '../../data/hooks.ts';
import { isPutAway } from '../../data/listTree.ts';
import { Button } from '../../ui/Button.tsx';
import { SavedInput } from '../../ui/form/SavedInput.tsx';
import { FromDialog } from './FromDialog.tsx';
import { fromWords } from './fromWords.ts';

interface Props {
  item: ClockItem;
  lists: readonly ListLine[];
  onSave: (item: ClockItem) => void;
}

const ROW = 'flex items-center gap-2';
const whole =
  (low: number, high: number) =>
  (text: string): number | null | undefined => {
    if (text === '') return null;
    const n = Number(text);
    return Number.isInteger(n) && n >= low && n <= high ? n : undefined;
  };
const readSeconds = (text: string): number | null | undefined => (text === '' ? null : (readLength(text) ?? undefined));

/** Sets a part of an item, or takes it away. */
function withPart<I extends ClockItem, K extends keyof I>(item: I, part: K, value: I[K] | null): I {
  const next = { ...item };
  if (value === null) delete next[part];
  else next[part] = value;
  return next;
}

export function ClockItemPanel({ item, lists, onSave }: Props) {
  const [choosing, setChoosing] = useState(false);
  const fixed = (wish: Partial<FixedTime>): void =>
    onSave(withPart(item, 'fixed', { at: 0, when: 'exact', ...item.fixed, ...wish }));
  const crates = lists.filter((l) => (l.kind === 'crate' || l.kind === 'playlist') && !isPutAway(l, lists));
  const nameOf = (id: string): string | undefined => lists.find((l) => l.id === id)?.name;
  return (
    <section aria-label="Item in hand" className="flex flex-col gap-2">
      <h2 className="heading text-[17px]">{item.name}</h2>
      <label className={ROW}>
        <span className="w-[92px]">Name</span>
        <SavedInput
          value={item.name}
          text={(t) => t}
          read={(t) => t || undefined}
          onSave={(name) => name && onSave({ ...item, name })}
          words
          className="min-w-0 flex-1"
        />
      </label>
      <label className={ROW}>
        <span className="flex-1">Begins at</span>
        <SavedInput
          value={item.fixed?.at ?? null}
          text={clockLength}
          read={readSeconds}
          onSave={(at) => (at === null ? onSave(withPart(item, 'fixed', null)) : fixed({ at }))}
          placeholder="after that"
          className="w-[98px]"
        />
      </label>
      {item.fixed && (
        <label className={ROW}>
          <span className="flex-1">That is</span>
          <select
            value={item.fixed.when}
            onChange={(e) => fixed({ when: e.target.value as FixedTime['when'] })}
            className="rounded-xs border border-line bg-sheet px-1.5 py-1"
          >
            <option value="exact">exact</option>
            <option value="not before">not before</option>
          </select>
        </label>
      )}
      {'seconds' in item && (
        <>
          <FileHint item={item} />
          <label className={ROW}>
            <span className="flex-1">Length</span>
            <SavedInput
              value={item.seconds}
              text={clockLength}
              read={(text) => readLength(text) || undefined}
              onSave={(seconds) => seconds && onSave({ ...item, seconds })}
            />
          </label>
          <label className={ROW}>
            <span className="flex-1">Over the intro of the next</span>
            <SavedInput
              value={item.overIntro ?? null}
              text={clockLength}
              read={readSeconds}
              onSave={(overIntro) => onSave(withPart(item, 'overIntro', overIntro))}
              placeholder="none"
            />
          </label>
          <label className={ROW}>
            <span className="w-[92px]">Bed under it</span>
            <SavedInput
              value={item.bed ?? null}
              text={(t) => t}
              read={(t) => t || null}
              onSave={(bed) => onSave(withPart(item, 'bed', bed))}
              placeholder="none"
              words
              className="min-w-0 flex-1"
            />
          </label>
        </>
      )}
      {!('seconds' in item) && (
        <>
          <label className={ROW}>
            <span className="w-[60px]">From</span>
            <select
              value={item.from && 'inLists' in item.from ? (item.from.inLists[0] ?? '') : item.from ? 'own' : ''}
              onChange={(e) => {
                if (e.target.value === 'own') setChoosing(true);
                else onSave(withPart(item, 'from', e.target.value ? { inLists: [e.target.value] } : null));
              }}
              className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1.5 py-1"
            >
              <option value="">all tracks</option>
              <option value="own">conditions…</option>
              {crates.map((l) => (
                <option key={l.id} value={l.id}>
                  {l.name}
                </option>
              ))}
            </select>
          </label>
          {item.from && !('inLists' in item.from) && (
            <p className="text-small text-dim">
              {fromWords(item.from, nameOf)}{' '}
              <Button kind="link" onClick={() => setChoosing(true)}>
                Change
              </Button>
            </p>
          )}
        </>
      )}
      {item.item === 'filler' && (
        <label className={ROW}>
          <span className="flex-1">Tracks at most</span>
          <SavedInput
            value={item.most}
            text={String}
            read={(t) => whole(1, 40)(t) ?? undefined}
            onSave={(most) => most && onSave({ ...item, most })}
          />
        </label>
      )}
      {item.item === 'track' && (
        <>
          <label className={ROW}>
            <span className="flex-1">Wished energy</span>
            <SavedInput
              value={item.energy ?? null}
              text={String}
              read={whole(0, 100)}
              onSave={(energy) => onSave(withPart(item, 'energy', energy))}
              placeholder="any"
            />
          </label>
          <label className={ROW}>
            <span className="flex-1">Wished BPM</span>
            <SavedInput
              value={item.bpm ?? null}
              text={String}
              read={whole(20, 400)}
              onSave={(bpm) => onSave(withPart(item, 'bpm', bpm))}
              placeholder="any"
            />
          </label>
        </>
      )}
      {!('seconds' in item) && (
        <FromDialog
          open={choosing}
          name={item.name}
          from={item.from ?? null}
          onClose={() => setChoosing(false)}
          onSave={(from) => onSave(withPart(item, 'from', from))}
        />
      )}
    </section>
  );
}

/** From which file hours will play an item. */
function FileHint({ item }: { item: ClockItem }) {
  const { data: files } = useStationFiles();
  if (!files) return null;
  const file = fileOfItem(item, files);
  return (
    <p className="text-small text-dim">
      {file
        ? `Hours play the file “${file.title}”, ${clockLength(file.seconds)}, and give it that length.`
        : 'No file of the kind jingle or spoken has this name: hours take the length given here.'}
    </p>
  );
}
