/** What has to be so before some screens have anything to show. */
import { copyFileSync, existsSync, renameSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { NotFound, Quarantine } from '@early-set/core/api/disk';
import type { Overview, RootLine, SheetPage } from '@early-set/core/api/types';
import { settled, type App } from './app.ts';

/** One file is moved behind the desk's back, once. */
export async function loseOne(app: App): Promise<void> {
  const { rows } = await app.get<SheetPage>('/tracks?limit=1');
  const path = join(app.music, String(rows[0]!.values.path));
  if (!existsSync(path)) return;
  renameSync(path, join(dirname(path), 'elsewhere.mp3'));
  const [root] = await app.get<RootLine[]>('/roots');
  await app.post(`/roots/${root!.id}/scan`);
  await settled(
    () => app.get<NotFound>('/disk/not-found'),
    ({ lines }) => lines.length === 1,
  );
}

/** A file is there twice. */
export async function doubleOne(app: App): Promise<void> {
  const { rows } = await app.get<SheetPage>('/tracks?limit=10');
  const path = rows.map(({ values }) => String(values.path)).find((p) => existsSync(join(app.music, p)))!;
  const again = join(app.music, dirname(path), `again ${basename(path)}`);
  if (existsSync(again)) return;
  const before = await app.get<Overview>('/overview');
  copyFileSync(join(app.music, path), again);
  const [root] = await app.get<RootLine[]>('/roots');
  await app.post(`/roots/${root!.id}/scan`);
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.tracks > before.tracks && o.measured === o.tracks,
  );
}

/** One file lies in quarantine. */
export async function retireOne(app: App): Promise<void> {
  const { files } = await app.get<Quarantine>('/disk/quarantine');
  if (files.length > 0) return;
  const { rows } = await app.get<SheetPage>('/tracks?limit=50');
  const there = rows.find(({ values }) => values.fileState === 'here')!;
  await app.post('/files/relocate', { wishes: [{ trackId: there.id, mode: 'retire' }] });
}

/** A bundle that says something else than the library, once. @returns its id as a destination */
export async function aBundle(app: App): Promise<number> {
  const folder = dirname(app.music);
  const path = join(folder, 'programs', 'Loft');
  if (!existsSync(path)) {
    const wish = { folder: dirname(path), name: 'Loft', zip: false, music: false, lists: null, layouts: [] };
    await app.post('/bundles', { ...wish, categories: ['tracks', 'lists'] });
    await settled(
      () => Promise.resolve(existsSync(path)),
      (isThere) => isThere,
    );
    const { rows } = await app.get<SheetPage>('/tracks?limit=1');
    await app.post('/fields', { selection: { ids: [rows[0]!.id] }, field: 'notes', value: 'said since' });
  }
  return (await app.post<{ id: number }>('/bundles/compare', { path, folders: [] })).id;
}
