/**
 * What a bundle is made of (docs/formats/bundle.md): parts of JSON Lines, each with its sum, by categories that can be
 * left out when it is written and when it is read.
 */
import Joi from 'joi';

export const BUNDLE_FORMAT = 'early-set-bundle';
export const BUNDLE_VERSION = 1;
export const MANIFEST = 'bundle.json';

/** What can be chosen; each needs the first. */
export const CATEGORIES = ['tracks', 'analyses', 'covers', 'lists', 'destinations', 'settings', 'history'] as const;
export type Category = (typeof CATEGORIES)[number];

export interface BundlePart {
  /** The file is `<name>.jsonl`. */
  name: string;
  lines: number;
  sha256: string;
}
export interface BundledFolder {
  id: number;
  label: string;
  /** Where it was. */
  path: string;
  tracks: number;
  purpose: 'library' | 'destination';
}
/** What `bundle.json` says. */
export interface BundleManifest {
  format: typeof BUNDLE_FORMAT;
  version: number;
  madeAt: string;
  /** Of the computer it was made on. */
  computer: string;
  /** Null: the whole library. */
  lists: string[] | null;
  categories: Category[];
  parts: BundlePart[];
  /** Files beside the parts: covers, and what is kept of destinations; `files.jsonl` lists them. */
  files: number;
  folders: BundledFolder[];
  /** Music that goes along: how many files, and how many were not there when it was made. */
  music?: { files: number; left: number };
  /** Arrangements of the page, as the browser kept them. */
  layouts?: object[];
}

const count = Joi.number().integer().min(0);
const schema = Joi.object<BundleManifest>({
  format: Joi.valid(BUNDLE_FORMAT),
  version: Joi.number().integer().min(1),
  madeAt: Joi.string().isoDate(),
  computer: Joi.string().allow('').max(300),
  lists: Joi.array().items(Joi.string().allow('')).allow(null),
  // Of a later version some may be unknown here.
  categories: Joi.array().items(Joi.string().max(60)),
  parts: Joi.array().items(
    Joi.object({
      name: Joi.string().pattern(/^[A-Za-z]{1,40}$/),
      lines: count,
      sha256: Joi.string().pattern(/^[0-9a-f]{64}$/),
    }).unknown(),
  ),
  files: count,
  music: Joi.object({ files: count, left: count }).unknown().optional(),
  layouts: Joi.array().items(Joi.object()).max(200).optional(),
  folders: Joi.array().items(
    Joi.object({
      id: count,
      label: Joi.string().allow(''),
      path: Joi.string(),
      tracks: count,
      purpose: Joi.valid('library', 'destination'),
    }).unknown(),
  ),
}).options({ presence: 'required', allowUnknown: true });

export type ReadManifest = { ok: true; manifest: BundleManifest } | { ok: false; reason: string };

/** Reads `bundle.json`; in words what is wrong with it. */
export function readManifest(text: string): ReadManifest {
  let said: unknown;
  try {
    said = JSON.parse(text);
  } catch {
    return { ok: false, reason: `${MANIFEST} cannot be read` };
  }
  const { format, version } = (said ?? {}) as Partial<BundleManifest>;
  if (format !== BUNDLE_FORMAT) return { ok: false, reason: 'This is no bundle of Early Set' };
  if (typeof version === 'number' && version > BUNDLE_VERSION)
    return { ok: false, reason: 'This bundle was made by a newer version of Early Set' };
  const { value, error } = schema.validate(said);
  return error ? { ok: false, reason: `${MANIFEST} is not right: ${error.message}` } : { ok: true, manifest: value };
}

/** Where a folder of another computer lies here. */
export interface FolderPlace {
  id: number;
  path: string;
}
