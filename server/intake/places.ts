/** The places that may become roots, and looking into them. */
import type { Browsed, Place } from '@early-set/core/api/types';
import { readdir, realpath, stat } from 'node:fs/promises';
import { homedir } from 'node:os';
import { basename, dirname, extname, join } from 'node:path';
import { Setting } from '../db/models.ts';
import { isInside } from '../media/roots.ts';
import { Problem } from '../base/problem.ts';
import { kindOf } from './kinds.ts';

/** Places offered: the demo, home, its music folder, mounted drives, and those of the setting "places". */
export async function allowedPlaces(demoRoot: string | null): Promise<Place[]> {
  const setting = await Setting.findByPk('places');
  const own = Array.isArray(setting?.value) ? setting.value.filter((p): p is string => typeof p === 'string') : [];
  const wanted: Place[] = [
    ...(demoRoot ? [{ path: demoRoot, label: 'Demo music' }] : []),
    ...(demoRoot ? [{ path: join(dirname(demoRoot), 'programs'), label: 'Demo programs' }] : []),
    ...(demoRoot ? [{ path: join(dirname(demoRoot), 'laptop music'), label: 'Demo laptop' }] : []),
    ...(demoRoot ? [{ path: join(dirname(demoRoot), 'sticks'), label: 'Demo sticks' }] : []),
    ...(demoRoot ? [{ path: join(dirname(demoRoot), 'playout'), label: 'Demo playout' }] : []),
    { path: join(homedir(), 'Music'), label: 'Music' },
    { path: homedir(), label: 'Home' },
    { path: '/media', label: 'Drives' },
    { path: '/mnt', label: 'Mounted drives' },
    ...[...(process.env.EARLY_SET_PLACES ?? '').split(':').filter(Boolean), ...own].map((path) => ({
      path,
      label: basename(path),
    })),
  ];
  const places: Place[] = [];
  for (const { path, label } of wanted) {
    const real = await realpath(path).catch(() => null);
    const info = real ? await stat(real).catch(() => null) : null;
    if (real && info?.isDirectory() && !places.some((p) => p.path === real)) places.push({ path: real, label });
  }
  return places;
}

/** The resolved path of a folder in an allowed place. @throws Problem otherwise. */
export async function allowedFolder(path: string, demoRoot: string | null): Promise<string> {
  if (path.includes('\0'))
    throw new Problem(403, 'outside-places', 'That folder is outside the places Early Set may look into');
  const real = await realpath(path).catch(() => null);
  if (!real) throw new Problem(404, 'folder-not-found', `The folder ${path} is not there`);
  const places = await allowedPlaces(demoRoot);
  if (!places.some((p) => isInside(p.path, real)))
    throw new Problem(403, 'outside-places', 'That folder is outside the places Early Set may look into');
  const info = await stat(real);
  if (!info.isDirectory()) throw new Problem(400, 'not-a-folder', `${path} is a file, not a folder`);
  return real;
}

/** The resolved path of a file, or folder, that lies in an allowed place. @throws Problem otherwise; `what` names it */
export async function allowedFile(path: string, what: string, demoRoot: string | null): Promise<string> {
  const folder = await allowedFolder(dirname(path), demoRoot);
  const file = await realpath(join(folder, basename(path))).catch(() => null);
  if (file === null) throw new Problem(404, 'not-there', `${what} ${path} is not there`);
  await allowedFolder(dirname(file), demoRoot);
  return file;
}

/** Files that may be lists of tracks; texts of all kinds are not offered in thousands. */
const LIST_ENDINGS = new Set(['m3u', 'm3u8', 'pls', 'xspf', 'jspf', 'cue', 'csv', 'tsv', 'txt']);
const MAX_LISTS = 500;

/** The folders in a folder, and how much music lies in it directly. */
export async function browse(path: string, demoRoot: string | null): Promise<Browsed> {
  const folder = await allowedFolder(path, demoRoot);
  const places = await allowedPlaces(demoRoot);
  const entries = await readdir(folder, { withFileTypes: true }).catch(() => {
    throw new Problem(403, 'unreadable', `${folder} may not be read`);
  });
  const visible = entries.filter((e) => !e.name.startsWith('.'));
  const files = visible.filter((e) => e.isFile());
  const audioFiles = files.filter((e) => kindOf(e.name).kind === 'audio').length;
  const parent = dirname(folder);
  return {
    path: folder,
    parent: places.some((p) => isInside(p.path, parent)) && parent !== folder ? parent : null,
    folders: visible
      .filter((e) => e.isDirectory())
      .map((e) => ({ name: e.name, path: join(folder, e.name) }))
      .sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true })),
    lists: files
      .filter((e) => LIST_ENDINGS.has(extname(e.name).slice(1).toLowerCase()))
      .map((e) => ({ name: e.name, path: join(folder, e.name) }))
      .sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))
      .slice(0, MAX_LISTS),
    audioFiles,
    otherFiles: files.length - audioFiles,
  };
}
