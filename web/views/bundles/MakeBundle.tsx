/** Making a bundle: of what, with what, and where it goes. */
import { format } from 'date-fns';
import { useMemo, useState } from 'react';
import type { BundleMake } from '@early-set/core/api/bundles';
import { CATEGORIES, type Category } from '@early-set/core/bundle/manifest';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useLists, useOverview } from '../../data/hooks.ts';
import type { Layout } from '../../data/layouts.ts';
import { isPutAway } from '../../data/listTree.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { INPUT } from '../../ui/form/fields.tsx';
import { Segmented } from '../../ui/Segmented.tsx';
import { CategoryList } from './CategoryList.tsx';
import { Part } from './Part.tsx';
import { ChosenFolder } from './ChosenFolder.tsx';

const WHOLE_ONLY: ReadonlySet<Category> = new Set<Category>(['destinations', 'history']);
const NO_LAYOUTS: Layout[] = [];

export function MakeBundle() {
  const { data: overview } = useOverview();
  const { data: lists = [] } = useLists();
  const [layouts] = useRemembered<Layout[]>('layouts', NO_LAYOUTS);
  const [of, setOf] = useState<'all' | 'lists'>('all');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [categories, setCategories] = useState<ReadonlySet<Category>>(new Set(CATEGORIES));
  const [as, setAs] = useState<'zip' | 'folder'>('zip');
  const [music, setMusic] = useState(false);
  const [name, setName] = useState(() => `Early Set ${format(new Date(), 'yyyy-MM-dd')}`);
  const [folder, setFolder] = useRemembered<string | null>('bundle-folder', null);
  const [sending, setSending] = useState(false);
  const offered = useMemo(() => lists.filter((list) => !list.removed && !isPutAway(list, lists)), [lists]);
  const ids = offered.filter((list) => chosen.has(list.id)).map((list) => list.id);
  const why =
    overview?.tracks === 0
      ? 'There is nothing in the library yet.'
      : folder === null
        ? 'Choose where it goes.'
        : name.trim() === ''
          ? 'Give it a name.'
          : of === 'lists' && ids.length === 0
            ? 'Choose a crate or playlist.'
            : null;
  const make = async (): Promise<void> => {
    if (folder === null) return;
    setSending(true);
    const wish: BundleMake = {
      ...{ folder, name: name.trim(), zip: as === 'zip', music, layouts: categories.has('settings') ? layouts : [] },
      categories: CATEGORIES.filter((c) => categories.has(c) && !(of === 'lists' && WHOLE_ONLY.has(c))),
      lists: of === 'lists' ? ids : null,
    };
    await perform(post('/bundles', wish), 'The bundle is being made');
    setSending(false);
  };
  return (
    <div className="flex max-w-[720px] flex-col gap-5">
      <Part title="What to bundle">
        <Segmented
          label="What to bundle"
          value={of}
          choices={[
            ['all', 'The whole library'],
            ['lists', 'Chosen crates and playlists'],
          ]}
          onChoose={setOf}
        />
        {of === 'all' ? (
          <p className="mt-1.5 text-small text-dim">
            {overview && `${several(overview.tracks, 'track')}, ${several(offered.length, 'list')}`}
          </p>
        ) : (
          <ul
            aria-label="Crates and playlists"
            tabIndex={0}
            className="mt-2 max-h-[180px] overflow-auto border border-line"
          >
            {offered.map((list) => (
              <li key={list.id} className="border-b border-hair px-2 py-0.5 last:border-0">
                <label className="flex items-center gap-2">
                  <input
                    type="checkbox"
                    checked={chosen.has(list.id)}
                    onChange={(e) => {
                      const next = new Set(chosen);
                      if (e.target.checked) next.add(list.id);
                      else next.delete(list.id);
                      setChosen(next);
                    }}
                    className="accent-ink"
                  />
                  <span className="min-w-0 flex-1 truncate">{list.name}</span>
                  <span className="text-small text-dim">{list.kind}</span>
                </label>
              </li>
            ))}
          </ul>
        )}
      </Part>
      <Part title="What goes with it">
        <CategoryList
          chosen={categories}
          missing={(c) => (of === 'lists' && WHOLE_ONLY.has(c) ? 'only with the whole library' : null)}
          onChange={setCategories}
        />
        <label className="flex items-baseline gap-2 py-0.5">
          <input
            type="checkbox"
            checked={music}
            onChange={(e) => {
              setMusic(e.target.checked);
              if (e.target.checked) setAs('folder');
            }}
            className="accent-ink"
          />
          <span>
            <span className="font-semibold">Music files</span>{' '}
            <span className="text-small text-dim">
              {music
                ? 'the file of each track, as it is; only into a folder'
                : 'left out: copy them with their folders; what lies elsewhere there is found again by its sound'}
            </span>
          </span>
        </label>
      </Part>
      <Part title="Where it goes">
        <ChosenFolder folder={folder} title="Where the bundle goes" onChoose={setFolder} />
        <div className="mt-2 flex items-center gap-2">
          <input
            aria-label="Name of the bundle"
            value={name}
            maxLength={120}
            onChange={(e) => setName(e.target.value)}
            className={`${INPUT} max-w-[320px]`}
          />
          <Segmented
            label="As"
            value={as}
            choices={[
              ['zip', 'One zip'],
              ['folder', 'A folder'],
            ]}
            onChoose={(form) => {
              setAs(form);
              if (form === 'zip') setMusic(false);
            }}
          />
        </div>
      </Part>
      <div className="flex items-center gap-3">
        <Button kind="main" disabled={why !== null || sending} onClick={() => void make()}>
          Make the bundle
        </Button>
        {why && <span className="text-small text-dim">{why}</span>}
      </div>
    </div>
  );
}
