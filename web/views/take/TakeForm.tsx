/** What is in the basket, how it is taken, and what comes over with it. */
import { X } from 'lucide-react';
import { useState } from 'react';
import type { TakeLook, TakeWish } from '@early-set/core/api/take';
import type { PutNames } from '@early-set/core/files/put';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { usePresets, useRoots } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Segmented } from '../../ui/Segmented.tsx';
import { INPUT } from '../../ui/form/fields.tsx';
import { NoRule, useNoRule } from '../put/NoRule.tsx';
import { NamesField, PlaceFields } from '../put/PlaceFields.tsx';
import type { BasketHand } from './basket.ts';

interface Props {
  look: TakeLook | undefined;
  basket: BasketHand;
  onBegun: () => void;
}

/** So many of what is in the basket are named. */
const NAMED = 8;

export function TakeForm({ look, basket, onBegun }: Props) {
  const { data: roots = [] } = useRoots();
  const { data: presets = [] } = usePresets();
  const there = roots.filter((r) => !r.awaySince && r.purpose === 'library');
  const [copies, setCopies] = useState(true);
  const [rootId, setRootId] = useState<number | null>(null);
  const [into, setInto] = useState<string | null>(null);
  const [names, setNames] = useState<PutNames>('own');
  const [over, setOver] = useState<TakeWish['over']>('replace');
  const [fromComments, setFromComments] = useState(false);
  const [presetId, setPresetId] = useState<number | null>(null);
  const [crate, setCrate] = useState('');
  const [busy, setBusy] = useState(false);
  const root = there.find((r) => r.id === rootId) ?? there[0];
  const copying = copies || look?.onThisMachine === false;
  const folder = into ?? (look ? `From ${look.name}` : '');
  const unnamed = useNoRule(names);
  const noRule = copying && unnamed;
  const empty = basket.tracks.length + basket.lists.length === 0;
  const take = async (): Promise<void> => {
    if (!look || empty || busy || (copying && (!root || noRule))) return;
    setBusy(true);
    const wish: TakeWish = {
      source: look.source,
      tracks: basket.tracks.map((t) => t.id),
      lists: basket.lists.map((l) => l.id),
      copy: copying ? { rootId: root!.id, into: folder, names } : null,
      ...{ over, fromComments, presetId, crate: crate.trim() || null },
    };
    const begun = await perform(post('/take', wish), `Taking from ${look.name}`).finally(() => setBusy(false));
    if (begun) onBegun();
  };
  return (
    <aside aria-label="Basket" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      <section>
        <div className="flex items-baseline gap-2">
          <h2 className="heading flex-1 text-[17px]">Basket</h2>
          {!empty && (
            <Button kind="link" onClick={basket.clear}>
              Empty it
            </Button>
          )}
        </div>
        {empty ? (
          <p className="mt-1 text-dim">
            Nothing is in it yet. Choose tracks and press <kbd>B</kbd>, or put a whole list in.
          </p>
        ) : (
          <ul className="mt-1">
            {basket.lists.map((l) => (
              <Line
                key={l.id}
                name={l.name}
                what={`list, ${several(l.tracks, 'track')}`}
                onRemove={() => basket.remove('lists', [l.id])}
              />
            ))}
            {basket.tracks.slice(0, NAMED).map((t) => (
              <Line key={t.id} name={t.name} onRemove={() => basket.remove('tracks', [t.id])} />
            ))}
            {basket.tracks.length > NAMED && (
              <li className="py-1 text-small text-dim">and {several(basket.tracks.length - NAMED, 'more track')}</li>
            )}
          </ul>
        )}
      </section>
      <form
        className="flex flex-col gap-3 border-t border-line pt-3"
        onSubmit={(e) => {
          e.preventDefault();
          void take();
        }}
      >
        {look?.onThisMachine !== false && (
          <Segmented
            label="Files"
            value={copying ? 'copy' : 'stay'}
            onChoose={(v) => setCopies(v === 'copy')}
            choices={[
              ['copy', 'Copy them'],
              ['stay', 'Leave them there'],
            ]}
          />
        )}
        {copying ? (
          <>
            <PlaceFields
              roots={there}
              rootId={root?.id ?? null}
              onRoot={setRootId}
              path={folder}
              onPath={setInto}
              stacked
            />
            <NamesField names={names} onNames={setNames} stacked />
            {noRule && <NoRule />}
          </>
        ) : (
          <p className="text-small text-dim">
            The folders that they lie in become library folders; what else lies there is left out.
          </p>
        )}
        <label className="block">
          <span className="mb-0.5 block text-small text-dim">Where file tags say something else</span>
          <select value={over} onChange={(e) => setOver(e.target.value as TakeWish['over'])} className={INPUT}>
            <option value="replace">{look?.name ?? 'The collection'} counts</option>
            <option value="fill gaps">The file tags count</option>
          </select>
        </label>
        {(look?.inComments ?? 0) > 0 && (
          <label className="flex items-start gap-2">
            <input
              type="checkbox"
              checked={fromComments}
              onChange={(e) => setFromComments(e.target.checked)}
              className="mt-0.5 accent-ink"
            />
            <span>
              Energy and moods out of comments{' '}
              <span className="text-small text-dim">({several(look!.inComments, 'track')} of this collection)</span>
            </span>
          </label>
        )}
        <label className="block">
          <span className="mb-0.5 block text-small text-dim">Clean new tracks with</span>
          <select
            value={presetId ?? ''}
            onChange={(e) => setPresetId(e.target.value === '' ? null : Number(e.target.value))}
            className={INPUT}
          >
            <option value="">nothing</option>
            {presets.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        </label>
        <label className="block">
          <span className="mb-0.5 block text-small text-dim">Put them into the crate</span>
          <input
            value={crate}
            maxLength={200}
            placeholder="none"
            onChange={(e) => setCrate(e.target.value)}
            className={INPUT}
          />
        </label>
        {look && !empty && look.basket.fresh < look.basket.tracks && (
          <p className="text-small">
            {several(look.basket.tracks - look.basket.fresh, 'track')} of the basket{' '}
            {look.basket.tracks - look.basket.fresh === 1 ? 'is' : 'are'} in the library already.
          </p>
        )}
        <p className="text-small text-dim">
          What is in the library already is recognised, also by its sound, and not taken twice: only its gaps are
          filled. Undo takes new tracks out again.
        </p>
        <Button type="submit" kind="main" disabled={empty || busy || !look || (copying && (!root || noRule))}>
          {empty || !look ? 'Take' : `Take ${several(look.basket.tracks, 'track')}`}
        </Button>
      </form>
    </aside>
  );
}

const Line = ({ name, what, onRemove }: { name: string; what?: string; onRemove: () => void }) => (
  <li className="flex items-center gap-2 border-b border-hair py-1">
    <span className="min-w-0 flex-1 truncate">
      {name} {what && <span className="text-small text-dim">{what}</span>}
    </span>
    <button
      type="button"
      aria-label={`Take ${name} out of the basket`}
      onClick={onRemove}
      className="text-dim hover:text-ink"
    >
      <X size={14} />
    </button>
  </li>
);
