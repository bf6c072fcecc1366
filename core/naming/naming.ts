/** Where a file should lie and what it should be called: rules in Liquid, of which the first that takes it counts. */
import { matches, type Condition } from '../conditions/condition.ts';
import { findField, FIELDS } from '../fields/table.ts';
import { isEmpty, type FieldValue, type TrackValues } from '../fields/values.ts';
import { allWithin, templates } from '../templates/liquid.ts';
import { endingOf, folderOf } from '../files/paths.ts';
import { articleBehind, DEFAULT_NAME_OPTIONS, safeName, withoutSlashes, type NameOptions } from './safeNames.ts';

export interface NamingRule {
  id: string;
  name: string;
  /** What it takes; null takes everything. */
  where: Condition | null;
  /** Folders and name, with slashes between, without the ending: "{{ artist }}/{{ title }}". */
  template: string;
  on: boolean;
}
export interface Naming {
  rules: readonly NamingRule[];
  options: NameOptions;
}

/** A file that is to be named. */
export interface NamedFile {
  /** Below its root. */
  path: string;
  values: TrackValues;
  /** The name of its root, and the names of the lists that hold it. */
  root: string;
  lists: readonly string[];
  /** Names of what the first list lies in, the topmost first. */
  place?: readonly string[];
}

/** Where a file is wanted; or why nothing can be said of it. */
export type Wanted = { path: string; rule: NamingRule } | { trouble: string };

export const MAX_RULES = 20;
export const MAX_TEMPLATE = 1000;
/** One template may take so long over a file, and all of them over a library, in milliseconds. */
const ONE_MS = 200,
  ALL_MS = 120_000;

const liquid = templates({ milliseconds: ONE_MS, memory: 1_000_000 });
/** Names of persons and groups, whose article may stand behind. */
const OF_PEOPLE: ReadonlySet<string> = new Set(['artist', 'albumArtist', 'remixer', 'composer', 'conductor', 'label']);
/** What a template knows beside the fields. */
export const OTHER_VALUES = ['root', 'list', 'lists', 'place', 'now', 'counter'] as const;
/** `counter` numbers the files that come into one folder, from 1, in the order in which they are named. */
const COUNTER = /\bcounter\b/;

/** Does a rule name the lists that hold a track? */
export const namesLists = ({ template }: NamingRule): boolean => /\blists?\b/.test(template);

/** A rule that cannot be read; its message is a sentence. */
export class RuleError extends Error {
  constructor(
    readonly rule: NamingRule,
    why: string,
  ) {
    super(`The rule “${rule.name}” cannot be used: ${why}`);
  }
}

function spoken(id: string, value: FieldValue | undefined, { articlesBehind }: NameOptions): unknown {
  if (isEmpty(value)) return null;
  const text = (one: unknown): string => {
    const plain = withoutSlashes(String(one));
    return articlesBehind && OF_PEOPLE.has(id) ? articleBehind(plain) : plain;
  };
  if (Array.isArray(value)) return value.map(text).join(', ');
  if (typeof value !== 'number') return typeof value === 'string' ? text(value) : value;
  const decimals = findField(id)?.limits.decimals;
  return decimals === undefined ? value : Number(value.toFixed(decimals));
}

/** Fields that a template can ask for. */
const TOLD: ReadonlySet<string> = new Set(
  FIELDS.filter((f) => f.type !== 'marks' && f.id !== 'path' && f.id !== 'root').map((f) => f.id),
);
/** The fields that a template names. */
export const askedOf = (template: string): string[] => [
  ...new Set((template.match(/[a-zA-Z]+/g) ?? []).filter((word) => TOLD.has(word))),
];

/**
 * Makes rules ready.
 * @param takes which rule takes a file, where that is known otherwise than by its values
 * @returns where a file is wanted
 * @throws RuleError for a template that cannot be read; what is returned throws it for one that cannot be filled
 */
export function namer(
  { rules, options }: Naming,
  takes: (rule: NamingRule, file: NamedFile) => boolean = ({ where }, { values }) =>
    where === null || matches(where, values),
): (file: NamedFile) => Wanted {
  const within = allWithin(ALL_MS);
  const ready = rules
    .filter((rule) => rule.on)
    .map((rule) => {
      try {
        const counts = COUNTER.test(rule.template) ? new Map<string, number>() : null;
        return { rule, parsed: liquid.parse(rule.template), asks: askedOf(rule.template), counts };
      } catch (error) {
        throw new RuleError(rule, sentence(error));
      }
    });
  return (file) => {
    const found = ready.find(({ rule }) => takes(rule, file));
    if (!found) return { trouble: 'No rule takes it' };
    if (found.asks.includes('title') && isEmpty(file.values.title)) return { trouble: 'It has no title' };
    const known: Record<string, unknown> = {
      root: withoutSlashes(file.root),
      lists: file.lists.map(withoutSlashes),
      list: file.lists[0] === undefined ? null : withoutSlashes(file.lists[0]),
      now: withoutSlashes(file.path),
      place: file.place?.map(withoutSlashes).join('/') || null,
    };
    for (const id of found.asks) known[id] = spoken(id, file.values[id], options);
    const filled = (counter: number): string | null => {
      known.counter = counter;
      try {
        const text = within(() => String(liquid.renderSync(found.parsed, known)));
        return safePath(text, endingOf(file.path), options);
      } catch (error) {
        throw new RuleError(found.rule, sentence(error));
      }
    };
    let path = filled(1);
    if (found.counts && path !== null) {
      const folder = folderOf(path),
        counter = (found.counts.get(folder) ?? 0) + 1;
      found.counts.set(folder, counter);
      if (counter > 1) path = filled(counter);
    }
    return path === null ? { trouble: 'The rule leaves no name for it' } : { path, rule: found.rule };
  };
}

const sentence = (error: unknown): string => (error as Error).message.split('\n')[0]!;

/** Folders of which nothing is left are left out; null where no name is left for the file. */
function safePath(text: string, ending: string, options: NameOptions): string | null {
  const parts = text.split('/');
  const name = safeName(parts.pop()!, ending.toLowerCase(), options);
  if (name === null) return null;
  const folders = parts.flatMap((part) => safeName(part, '', options) ?? []);
  return [...folders, name].join('/');
}

const VARIOUS: Condition = {
  field: 'albumArtist',
  test: 'one of',
  values: ['Various Artists', 'Various artists', 'Various'],
};
const VERSION = '{% if version %} ({{ version }}){% endif %}';
const WHO = '{{ artist | default: "Unknown artist" }}';
const NUMBER = '{% if trackNumber %}{{ trackNumber | pad: 2 }} {% endif %}';
const DISC = '{% if discTotal > 1 %}{{ discNumber }}-{% endif %}';

/** Rules to begin with. */
export const READY_RULES: readonly Omit<NamingRule, 'id'>[] = [
  {
    name: 'Artist, album, number and title',
    where: null,
    on: true,
    template:
      '{% if albumArtist %}{{ albumArtist }}{% else %}' +
      `${WHO}{% endif %}/{{ album | default: "Single tracks" }}/${DISC}${NUMBER}{{ title }}${VERSION}`,
  },
  {
    name: 'Compilations',
    where: VARIOUS,
    on: true,
    template: `Compilations/{{ album | default: "No album" }}/${DISC}${NUMBER}${WHO} - {{ title }}${VERSION}`,
  },
  { name: 'All in one folder', where: null, on: true, template: `${WHO} - {{ title }}${VERSION}` },
  {
    name: 'Genre',
    where: null,
    on: true,
    template: `{{ genre | default: "No genre" }}/${WHO} - {{ title }}${VERSION}`,
  },
  {
    name: 'Year',
    where: null,
    on: true,
    template: `{{ year | default: "No year" }}/${WHO} - {{ title }}${VERSION}`,
  },
  {
    name: 'Numbered, for players that sort by name',
    where: null,
    on: true,
    template: `{{ list | default: "No list" }}/{{ counter | pad: 3 }} ${WHO} - {{ title }}${VERSION}`,
  },
  { name: 'Playout ID', where: null, on: true, template: `{{ playoutId | pad: 6 }} ${WHO} - {{ title }}${VERSION}` },
  {
    name: 'Videos',
    where: { field: 'kind', test: 'one of', values: ['video'] },
    on: true,
    template: `Videos/${WHO} - {{ title }}${VERSION}`,
  },
  {
    name: 'Spoken and jingles',
    where: { field: 'kind', test: 'one of', values: ['spoken', 'jingle', 'bed'] },
    on: true,
    template: 'On air/{{ kind }}/{{ title }}',
  },
];

export const NO_NAMING: Naming = { rules: [], options: DEFAULT_NAME_OPTIONS };
