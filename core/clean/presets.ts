/** Presets, steps under a name: as they are kept and exchanged, and those that come with the desk. */
import { findField } from '../fields/table.ts';
import { newStep, stepKind, type Step } from './steps.ts';
import { cut } from '../fields/cut.ts';

export interface Preset {
  name: string;
  steps: Step[];
}

const FORMAT = 'early-set-preset',
  VERSION = 1;
/** What such files were called before. */
const FORMATS = [FORMAT, 'early-set-recipe'];
const MAX_STEPS = 100;
/** Options that hold what was said by hand about names. */
const BY_HAND = ['patterns', 'splits', 'rows'];

/** A preset as a JSON file. */
export const presetText = ({ name, steps }: Preset): string =>
  `${JSON.stringify({ format: FORMAT, version: VERSION, name, steps }, null, 2)}\n`;

/**
 * Reads a preset file; a sentence when it is none. Unknown options are dropped, missing ones get their usual values.
 */
export function readPreset(text: string): Preset | string {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    return 'This is no preset: it is not JSON';
  }
  const { format, version, name, steps } = (raw ?? {}) as Record<string, unknown>;
  if (!FORMATS.includes(String(format))) return 'This file is no preset of Early Set';
  if (typeof version !== 'number' || version > VERSION) return 'This preset was written by a newer Early Set';
  if (!Array.isArray(steps) || steps.length > MAX_STEPS) return 'The steps of this preset cannot be read';
  const read = checkSteps(steps);
  return typeof read === 'string'
    ? read
    : { name: typeof name === 'string' && name.trim() ? cut(name.trim(), 200) : 'A preset', steps: read };
}

/** Steps from outside made whole; a sentence when one is not known. */
export function checkSteps(steps: readonly unknown[]): Step[] | string {
  const out: Step[] = [];
  for (const [i, raw] of steps.entries()) {
    const { id, kind, on, fields, options } = (raw ?? {}) as Record<string, unknown>;
    try {
      stepKind(String(kind));
    } catch {
      return `Step ${i + 1} is of a kind that is not known here: ${cut(String(kind), 40)}`;
    }
    const fresh = newStep(kind as Step['kind'], typeof id === 'string' && id ? cut(id, 60) : `s${i}`);
    const given = typeof options === 'object' && options !== null ? (options as Record<string, unknown>) : {};
    const usual = fresh.options as unknown as Record<string, unknown>;
    for (const key of new Set([...Object.keys(usual), ...BY_HAND]))
      if (key in given && fits(usual[key], given[key])) usual[key] = given[key];
    // Once a step cleared one field, which was kept where others say from what they copy.
    const cleared = kind === 'fields' && usual.action === 'clear' && Array.isArray(fields) && fields.length === 0;
    if ('over' in usual) usual.over = OLD_WORDS[String(usual.over)] ?? usual.over;
    out.push({
      ...fresh,
      on: on !== false,
      fields: cleared
        ? [String(usual.from)]
        : Array.isArray(fields)
          ? fields.filter((f): f is string => typeof f === 'string' && findField(f) !== undefined)
          : fresh.fields,
    } as Step);
  }
  return out;
}

/** Were steps changed since they were saved? What each is called inside the page does not count. */
export const isChanged = (saved: readonly Step[], now: readonly Step[]): boolean =>
  JSON.stringify(saved.map(told)) !== JSON.stringify(now.map(told));
const told = ({ kind, on, fields, options }: Step): unknown => [kind, on, fields, inOrder(lasting(options))];

/** Options without what was said by hand about the names of single folders. */
const lasting = (options: Step['options']): object =>
  Object.fromEntries(Object.entries(options).filter(([name]) => !BY_HAND.includes(name)));
/** Steps as they are saved: what was said by hand about names belongs to their folders. */
export const toSave = (steps: readonly Step[]): Step[] =>
  steps.map((step) => ({ ...step, options: lasting(step.options) }) as Step);

/** With the names of every object in one order, as a database may give them in another. */
const inOrder = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(inOrder)
    : typeof value === 'object' && value !== null
      ? Object.entries(value)
          .sort(([a], [b]) => (a < b ? -1 : 1))
          .map(([name, v]) => [name, inOrder(v)])
      : value;

/** Words of files that were written before. */
const OLD_WORDS: Readonly<Record<string, string>> = { gaps: 'fill gaps', all: 'replace' };

const fits = (usual: unknown, given: unknown): boolean =>
  usual === undefined
    ? typeof given === 'object'
    : typeof usual === typeof given && Array.isArray(usual) === Array.isArray(given);

/** For common messes; ids are made new when one is taken. */
export const READY_MADE: readonly Preset[] = [
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
          '{% if energy %}{{ energy }}/100 energy{% endif %}' +
          '{% if moods %}{% if energy %}, {% endif %}{{ moods }}{% endif %}',
      }),
    ],
  },
  { name: 'ReplayGain from measured loudness', steps: [newStep('gains', 'a')] },
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
