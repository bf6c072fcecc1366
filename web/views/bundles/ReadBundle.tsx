/** Reading a bundle: which one, what of it, and where its folders are here. */
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { BundleLine, BundleLook } from '@early-set/core/api/bundles';
import { CATEGORIES, type Category } from '@early-set/core/bundle/manifest';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useBundleLook, useBundlesIn, useBundleSteps, useRuns } from '../../data/hooks.ts';
import { readLayout, type Layout } from '../../data/layouts.ts';
import { useRemembered } from '../../data/remembered.ts';
import { withNames } from '../../data/settingsFile.ts';
import { Button } from '../../ui/Button.tsx';
import { Trouble } from '../../ui/Empty.tsx';
import { bytes, dayAndTime } from '../../ui/format.ts';
import { CategoryList } from './CategoryList.tsx';
import { ChosenFolder } from './ChosenFolder.tsx';
import { Part } from './Part.tsx';

export function ReadBundle() {
  const [folder, setFolder] = useRemembered<string | null>('bundle-folder', null);
  const { data: bundles, error } = useBundlesIn(folder);
  const [path, setPath] = useState<string | null>(null);
  const { data: look, error: unreadable } = useBundleLook(path);
  return (
    <div className="flex max-w-[720px] flex-col gap-5">
      <Part title="Which one">
        <ChosenFolder folder={folder} title="Where the bundle is" onChoose={setFolder} />
        {error && folder && <Trouble error={error} />}
        {bundles?.length === 0 && !error && <p className="mt-2 text-dim">No bundle lies in this folder.</p>}
        {bundles && bundles.length > 0 && (
          <ul aria-label="Bundles here" className="mt-2 border-t border-hair">
            {bundles.map((bundle) => (
              <Bundle key={bundle.path} bundle={bundle} chosen={bundle.path === path} onChoose={setPath} />
            ))}
          </ul>
        )}
      </Part>
      {path && unreadable && <Trouble error={unreadable} />}
      {path && look?.path === path && <Look key={look.path} look={look} />}
    </div>
  );
}

function Bundle(props: { bundle: BundleLine; chosen: boolean; onChoose: (path: string) => void }) {
  const { bundle, chosen, onChoose } = props;
  return (
    <li className="border-b border-hair">
      <button
        type="button"
        aria-pressed={chosen}
        disabled={bundle.trouble !== null}
        onClick={() => onChoose(bundle.path)}
        className={`flex w-full items-baseline gap-3 border-l-[3px] px-2 py-1.5 text-left ${chosen ? 'border-buoy bg-chosen' : 'border-transparent hover:bg-hair'}`}
      >
        <span className="min-w-0 flex-1 truncate font-semibold">{bundle.name}</span>
        <span className={`text-small ${bundle.trouble ? 'text-flare' : 'text-dim'}`}>
          {bundle.trouble ?? `${several(bundle.tracks, 'track')}, ${bundle.computer}, ${dayAndTime(bundle.madeAt)}`}
        </span>
      </button>
    </li>
  );
}

const NO_LAYOUTS: Layout[] = [];

function Look({ look: { path, manifest, here, empty, bytes: size } }: { look: BundleLook }) {
  const had = new Set(manifest.categories);
  const [categories, setCategories] = useState<ReadonlySet<Category>>(new Set(manifest.categories));
  const [music, setMusic] = useState(true);
  const navigate = useNavigate();
  const [places, setPlaces] = useState<Record<number, string>>({});
  const [layouts, storeLayouts] = useRemembered<Layout[]>('layouts', NO_LAYOUTS);
  const { data: runs = [] } = useRuns();
  const { data: after } = useBundleSteps();
  const [adding, setAdding] = useState(false);
  const isRead = !empty && after?.read?.name === path.split('/').at(-1);
  const reading = runs.some((run) => run.kind === 'bundle' && run.state === 'running');
  const folders = Object.entries(places).map(([id, place]) => ({ id: Number(id), path: place }));
  const compare = async (): Promise<void> => {
    setAdding(true);
    const added = await perform(post<{ id: number }>('/bundles/compare', { path, folders }), 'Compared on its page');
    setAdding(false);
    if (added) void navigate(`/handover/${added.id}`);
  };
  const read = async (): Promise<void> => {
    const wish = {
      path,
      categories: CATEGORIES.filter((c) => categories.has(c)),
      folders,
      music: music && manifest.music !== undefined,
    };
    if (!(await perform(post('/bundles/read', wish), 'The bundle is being read')) || !categories.has('settings'))
      return;
    const brought = (manifest.layouts ?? []).map((layout) => readLayout(layout as Record<string, unknown>));
    if (brought.length > 0) storeLayouts(withNames(layouts, brought));
  };
  return (
    <>
      <p className="text-small text-dim">
        {[
          `Made on ${manifest.computer || 'another computer'}, ${dayAndTime(manifest.madeAt)}`,
          manifest.lists && `only of ${several(manifest.lists.length, 'list')}`,
          size !== null && bytes(size),
        ]
          .filter(Boolean)
          .join(', ')}
      </p>
      {empty && (
        <Part title="What to read">
          <CategoryList
            chosen={categories}
            missing={(c) => (had.has(c) ? null : 'not in this bundle')}
            onChange={setCategories}
          />
          {manifest.music && (
            <label className="flex items-baseline gap-2 py-0.5">
              <input
                type="checkbox"
                checked={music}
                onChange={(e) => setMusic(e.target.checked)}
                className="accent-ink"
              />
              <span>
                <span className="font-semibold">Music files</span>{' '}
                <span className="text-small text-dim">
                  {several(manifest.music.files, 'file')}, copied into the folders that are here; what lies there stays
                </span>
              </span>
            </label>
          )}
          <p className="mt-1.5 text-small text-dim">Settings of the bundle replace those that are here.</p>
        </Part>
      )}
      <Part title="Where its folders are here">
        <ul>
          {manifest.folders.map((folder) => {
            const place = places[folder.id];
            return (
              <li key={folder.id} className="flex items-center gap-3 border-b border-hair py-1">
                <span className="w-[180px] shrink-0">
                  <span className="block truncate font-semibold">{folder.label}</span>
                  <span className="block text-small text-dim">{several(folder.tracks, 'track')}</span>
                </span>
                <span className="min-w-0 flex-1">
                  <ChosenFolder
                    folder={place ?? folder.path}
                    title={`Where is ${folder.label} here?`}
                    label={`Another folder for ${folder.label}`}
                    onChoose={(chosen) => setPlaces({ ...places, [folder.id]: chosen })}
                  />
                </span>
                <span className={`text-small ${place || here.includes(folder.id) ? 'text-kelp' : 'text-sodium-text'}`}>
                  {place || here.includes(folder.id) ? 'is here' : 'not here yet'}
                </span>
              </li>
            );
          })}
        </ul>
        <p className="mt-1.5 text-small text-dim">
          A folder that is not here yet can be given its place later, under Intake. Files are compared when it is there.
        </p>
      </Part>
      <div className="flex items-center gap-3">
        {empty ? (
          <Button kind="main" disabled={reading} onClick={() => void read()}>
            Read the bundle
          </Button>
        ) : (
          <Button kind="main" disabled={adding || reading} onClick={() => void compare()}>
            {adding ? 'Reading it…' : 'Compare with the library'}
          </Button>
        )}
        {isRead && !reading && <span className="text-small text-kelp">It is read.</span>}
        {!empty && !isRead && !reading && (
          <span className="text-small text-dim">
            The library is not empty: what differs is shown line by line, and taken over as you choose. Nothing is
            written into the bundle.
          </span>
        )}
      </div>
    </>
  );
}
