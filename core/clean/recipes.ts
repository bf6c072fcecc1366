/** Recipes as they are kept and exchanged, and those that come with the desk. */
import { findField } from '../fields/table.ts';
import { newStep, stepKind, type Step } from './steps.ts';

export interface Recipe {
  name: string;
  steps: Step[];
}

const FORMAT = 'early-set-recipe',
  VERSION = 1;
const MAX_STEPS = 100;

/** A recipe as a JSON file. */
export const recipeText = ({ name, steps }: Recipe): string =>
  `${JSON.stringify({ format: FORMAT, version: VERSION, name, steps }, null, 2)}\n`;

/** Reads a recipe file; a sentence when it is none. Unknown options are dropped, missing ones get their usual values. */
export function readRecipe(text: string): Recipe | string {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    return 'This is no recipe: it is not JSON';
  }
  const { format, version, name, steps } = (raw ?? {}) as Record<string, unknown>;
  if (format !== FORMAT) return 'This file is no recipe of Early Set';
  if (typeof version !== 'number' || version > VERSION) return 'This recipe was written by a newer Early Set';
  if (!Array.isArray(steps) || steps.length > MAX_STEPS) return 'The steps of this recipe cannot be read';
  const read = checkSteps(steps);
  return typeof read === 'string'
    ? read
    : { name: typeof name === 'string' && name.trim() ? name.trim().slice(0, 200) : 'A recipe', steps: read };
}

/** Steps from outside made whole; a sentence when one is not known. */
export function checkSteps(steps: readonly unknown[]): Step[] | string {
  const out: Step[] = [];
  for (const [i, raw] of steps.entries()) {
    const { id, kind, on, fields, options } = (raw ?? {}) as Record<string, unknown>;
    try {
      stepKind(String(kind));
    } catch {
      return `Step ${i + 1} is of a kind that is not known here: ${String(kind).slice(0, 40)}`;
    }
    const fresh = newStep(kind as Step['kind'], typeof id === 'string' && id ? id.slice(0, 60) : `s${i}`);
    const given = typeof options === 'object' && options !== null ? (options as Record<string, unknown>) : {};
    const usual = fresh.options as unknown as Record<string, unknown>;
    for (const key of new Set([...Object.keys(usual), 'patterns', 'splits', 'rows']))
      if (key in given && fits(usual[key], given[key])) usual[key] = given[key];
    if ('over' in usual) usual.over = OLD_WORDS[String(usual.over)] ?? usual.over;
    out.push({
      ...fresh,
      on: on !== false,
      fields: Array.isArray(fields)
        ? fields.filter((f): f is string => typeof f === 'string' && findField(f) !== undefined)
        : fresh.fields,
    } as Step);
  }
  return out;
}

/** Words of files that were written before. */
const OLD_WORDS: Readonly<Record<string, string>> = { gaps: 'fill gaps', all: 'replace' };

const fits = (usual: unknown, given: unknown): boolean =>
  usual === undefined
    ? typeof given === 'object'
    : typeof usual === typeof given && Array.isArray(usual) === Array.isArray(given);

/** For common messes; ids are made new when one is taken. */
export const READY_MADE: readonly Recipe[] = [
  {
    name: 'Downloads, from name to tags',
    steps: [
      newStep('names', 'a'),
      newStep('marks', 'b'),
      newStep('characters', 'c', { square: 'drop marks' }),
      newStep('remove', 'd'),
      newStep('trackNumbers', 'e'),
      newStep('versions', 'f'),
      newStep('capitals', 'g'),
    ],
  },
  {
    name: 'Promo pack',
    steps: [
      newStep('marks', 'a'),
      newStep('characters', 'b'),
      newStep('versions', 'c', { bare: true }),
      newStep('capitals', 'd'),
    ],
  },
  {
    name: 'Album rips',
    steps: [
      newStep('names', 'a', { folders: true }, [
        'title',
        'artist',
        'album',
        'albumArtist',
        'trackNumber',
        'discNumber',
        'year',
      ]),
      newStep('characters', 'b'),
      newStep('trackNumbers', 'c'),
      newStep('fields', 'd', { action: 'copy', from: 'albumArtist', to: 'artist' }),
      newStep('numbers', 'e', { action: 'year' }),
      newStep('capitals', 'f'),
    ],
  },
  {
    name: 'Guests and versions apart',
    steps: [
      newStep('versions', 'a', { split: { feat: true, versus: true, times: true, presents: true, ampersand: true } }),
    ],
  },
  { name: 'Version back into the title', steps: [newStep('compose', 'a')] },
  {
    name: 'Energy and moods into the comment',
    steps: [
      newStep('compose', 'a', {
        into: 'comment',
        place: 'behind',
        template:
          '{% if energy %}Energy {{ energy }}{% endif %}{% if moods %}{% if energy %}, {% endif %}{{ moods }}{% endif %}',
      }),
    ],
  },
  { name: 'ReplayGain from measuring', steps: [newStep('gains', 'a')] },
  {
    name: 'File names from fields',
    steps: [
      newStep('compose', 'a', {
        into: 'fileName',
        template: '{% if artist %}{{ artist }} - {% endif %}{{ title }}{% if version %} ({{ version }}){% endif %}',
      }),
    ],
  },
];
