/** The kinds of cleaning steps, each with its options and what it does to a track. */
import { CLEAN_FIELDS, NAMES } from './stepFields.ts';
import { goesIn, type ChosenPolicy } from '../fields/merge.ts';
import { cut } from '../fields/cut.ts';
import { fieldOf } from '../fields/table.ts';
import { isEmpty, type FieldValue } from '../fields/values.ts';
import { capitals, type CapitalOptions } from './capitals.ts';
import { tidyCharacters, type CharacterOptions } from './characters.ts';
import { composer, type ComposeOptions } from './compose.ts';
import { nameGroups } from './fileNames.ts';
import { doubtOf, needsLook, type NameGroup, type NameOptions } from './nameGroup.ts';
import { fieldsOfFolder, fieldsOfName } from './nameFields.ts';
import { gainsOf } from './gains.ts';
import { genreTable, tidyGenres, type GenreRow } from './genres.ts';
import { dropMarks, type MarkOptions } from './marks.ts';
import { remembering } from './memo.ts';
import { replacement } from './patterns.ts';
import { escaped, leadingNumber, withoutName } from './removal.ts';
import { remixerIn, splitArtists, unique } from './versions.ts';
import { moveOut, totalsOf, yearOut, type PartOptions } from './titleParts.ts';
import { fitting, type CleanContext, type Working } from './workingTrack.ts';

/** Options of each kind of step. */
export interface StepOptions {
  names: NameOptions & { over: ChosenPolicy };
  marks: MarkOptions;
  characters: CharacterOptions;
  remove: { what: string };
  trackNumbers: { into: boolean };
  versions: PartOptions;
  compose: ComposeOptions;
  capitals: CapitalOptions;
  replace: { find: string; with: string; pattern: boolean; words: boolean; matchCase: boolean };
  fields: { action: 'copy' | 'move' | 'swap' | 'clear'; from: string; to: string; over: ChosenPolicy };
  numbers: { action: 'pad' | 'unpad' | 'year' | 'totals'; digits: number };
  genres: { table: GenreRow[]; split: boolean };
  gains: { album: boolean };
  rule: { source: string };
}
export type StepKindId = keyof StepOptions;

interface StepOf<K extends StepKindId> {
  id: string;
  kind: K;
  on: boolean;
  fields: string[];
  options: StepOptions[K];
}
export type Step = { [K in StepKindId]: StepOf<K> }[StepKindId];

interface Prepared {
  apply: (w: Working) => void;
  groups?: NameGroup[];
}
interface StepKind<K extends StepKindId> {
  id: K;
  label: string;
  /** Fields it may be about; none where the options say which. */
  choices: readonly string[];
  fields: string[];
  options: StepOptions[K];
  prepare(step: StepOf<K>, workings: readonly Working[], context: CleanContext): Prepared;
  /** Each field is changed by itself: one can stay as it is while another goes. */
  fieldByField?: true;
  /** Emptying this field is what was asked for. */
  mayEmpty?(step: StepOf<K>, field: string): boolean;
}

const NAMES_AND_FILES = [...NAMES, 'fileName'] as const;
function onTexts(fields: readonly string[], change: (text: string) => string): Prepared {
  const changed = remembering(change);
  return {
    apply(w) {
      for (const f of fields) w.each(f, changed);
    },
  };
}
const NOTHING: Record<string, string | number> = {};
/** Between the names of a list that is looked up as one text. */
const BETWEEN = '\u0001';

const KINDS: { [K in StepKindId]: StepKind<K> } = {
  names: {
    id: 'names',
    label: 'Take fields from file names',
    choices: [
      'title',
      'artist',
      'album',
      'albumArtist',
      'version',
      'year',
      'trackNumber',
      'discNumber',
      'catalogueNumber',
      'label',
    ],
    fields: ['title', 'artist', 'album', 'trackNumber', 'year'],
    options: { separators: 'loose', folders: false, over: 'fill gaps' },
    prepare({ fields, options }, workings, { known }) {
      const groups = nameGroups(
        workings.map((w) => w.track),
        options,
        known,
      );
      const said = new Map<number, { of: NameGroup; fields: Record<string, string | number> }>();
      for (const group of groups)
        for (const m of group.members)
          said.set(m.id, { of: group, fields: fieldsOfName(m.parts, group.pattern, known) });
      return {
        groups,
        apply(w) {
          const name = said.get(w.track.id),
            inName = name?.fields ?? NOTHING;
          const found = options.folders ? { ...fieldsOfFolder(w.track.path, known), ...inName } : inName;
          // What a part was set to by hand goes in, whichever fields the step is about; discs come with their tracks.
          const wanted = name?.of.byHand ? [...new Set([...fields, ...Object.keys(inName)])] : fields;
          const numbered = wanted.includes('trackNumber') && !wanted.includes('discNumber');
          for (const field of numbered ? [...wanted, 'discNumber'] : wanted) {
            const value = found[field];
            if (value !== undefined && goesIn(w.values[field], options.over)) w.set(field, value);
          }
          if (options.splits?.[w.track.id]) for (const field of Object.keys(inName)) w.splitByHand.add(field);
          if (name && needsLook(name.of)) w.doubt = doubtOf(name.of);
        },
      };
    },
  },
  marks: {
    id: 'marks',
    label: 'Remove web addresses and promo marks',
    choices: NAMES_AND_FILES,
    fields: ['title', 'artist', 'album', 'version', 'comment'],
    options: { web: true, promo: true, encoder: true },
    fieldByField: true,
    prepare: ({ fields, options }) => onTexts(fields, (t) => dropMarks(t, options)),
    mayEmpty: (_step, field) => field === 'comment' || field === 'version',
  },
  characters: {
    id: 'characters',
    label: 'Tidy characters',
    choices: NAMES_AND_FILES,
    fields: ['title', 'artist', 'album', 'version'],
    options: { underscores: true, round: 'keep', square: 'keep', spaces: true, quotes: true, control: true, own: [] },
    fieldByField: true,
    prepare: ({ fields, options }) => onTexts(fields, (t) => tidyCharacters(t, options)),
  },
  remove: {
    id: 'remove',
    label: 'Remove one field from others',
    choices: NAMES_AND_FILES,
    fields: ['title', 'album'],
    options: { what: 'artist' },
    fieldByField: true,
    prepare({ fields, options: { what } }) {
      return {
        apply(w) {
          const list = w.list(what);
          const names = unique([
            ...(list.length > 1 ? [list.join(' & '), list.join(', '), list.join('; ')] : []),
            ...list,
          ]).sort((a, b) => b.length - a.length);
          for (const field of fields) if (field !== what) w.takeOut(field, (t) => names.reduce(withoutName, t));
        },
      };
    },
  },
  trackNumbers: {
    id: 'trackNumbers',
    label: 'Remove leading track numbers',
    choices: ['title', 'artist', 'album', 'fileName'],
    fields: ['title'],
    options: { into: true },
    prepare: ({ fields, options }) => ({
      apply(w) {
        const own = typeof w.values.trackNumber === 'number' ? w.values.trackNumber : null;
        for (const field of fields) {
          w.takeOut(field, (text) => {
            const found = leadingNumber(text, own);
            if (found && options.into && found.number !== null && own === null && field === 'title')
              w.set('trackNumber', found.number);
            return found ? found.rest : text;
          });
        }
      },
    }),
  },
  versions: {
    id: 'versions',
    label: 'Move version and guests to their own fields',
    choices: ['title', 'artist'],
    fields: ['title', 'artist'],
    options: {
      versions: true,
      guests: true,
      remixers: true,
      bare: false,
      split: { feat: true, versus: false, times: false, presents: false, ampersand: false },
    },
    prepare({ fields, options }, _workings, { known }) {
      const split = remembering((artists) => splitArtists(artists.split(BETWEEN), options.split, known));
      const remixer = remembering((version) => remixerIn(version, known));
      return {
        apply(w) {
          const artists = w.list('artist');
          if (fields.includes('artist') && artists.length && !w.splitByHand.has('artist'))
            w.set('artist', split(artists.join(BETWEEN)));
          if (fields.includes('title') && !w.splitByHand.has('title')) moveOut(w, options, known, remixer);
        },
      };
    },
  },
  compose: {
    id: 'compose',
    label: 'Write a field by a template',
    choices: [],
    fields: [],
    options: { into: 'title', template: '{{ title }}{% if version %} ({{ version }}){% endif %}', place: 'instead' },
    prepare({ options }) {
      const text = composer(options);
      return { apply: (w) => w.set(options.into, text(w.values)) };
    },
  },
  capitals: {
    id: 'capitals',
    label: 'Capitals',
    choices: NAMES_AND_FILES,
    fields: ['title', 'artist', 'album', 'version'],
    options: { mode: 'title', known: true, onlyOneCase: true },
    prepare: ({ fields, options }, _workings, { known }) => onTexts(fields, (t) => capitals(t, options, known)),
  },
  replace: {
    id: 'replace',
    label: 'Find and replace',
    choices: NAMES_AND_FILES,
    fields: ['title'],
    options: { find: '', with: '', pattern: false, words: false, matchCase: false },
    fieldByField: true,
    prepare({ fields, options: { find, pattern, words, matchCase, ...options } }) {
      if (!find) return onTexts([], (t) => t);
      const replaced = pattern
        ? replacement(find, options.with, { matchCase, words })
        : replacement(escaped(find), options.with.replaceAll('$', '$$$$'), { matchCase, words });
      return onTexts(fields, (t) => {
        const out = replaced(t);
        return out === t ? t : out.replace(/ {2,}/g, ' ').trim();
      });
    },
  },
  fields: {
    id: 'fields',
    label: 'Copy, move, swap or clear fields',
    choices: CLEAN_FIELDS.filter((f) => f !== 'fileName'),
    fields: [],
    options: { action: 'copy', from: 'albumArtist', to: 'artist', over: 'fill gaps' },
    prepare: ({ fields, options: { action, from, to, over } }) => ({
      apply(w) {
        const a = w.values[from] ?? null,
          b = w.values[to] ?? null;
        if (action === 'clear') {
          for (const field of fields) w.set(field, null);
          return;
        }
        if (action === 'swap') {
          w.set(from, b);
          w.set(to, a);
          return;
        }
        if (isEmpty(a) || !goesIn(b, over)) return;
        w.set(to, a);
        if (action === 'move') w.set(from, null);
      },
    }),
    mayEmpty: ({ options: { action, from } }, field) =>
      action === 'swap' || action === 'clear' || (field === from && action === 'move'),
  },
  numbers: {
    id: 'numbers',
    label: 'Years, totals, zeros',
    choices: NAMES_AND_FILES,
    fields: ['album'],
    options: { action: 'year', digits: 2 },
    prepare: ({ fields, options: { action, digits } }, workings) =>
      action === 'totals'
        ? { apply: totalsOf(workings) }
        : action === 'year'
          ? {
              apply: (w) => {
                for (const f of fields) yearOut(w, f);
              },
            }
          : onTexts(fields, (t) =>
              t.replace(/(?<![\d.,:])\d{1,6}(?![\d.,:]*\d)/g, (n) =>
                action === 'pad' ? n.replace(/^0+(?=\d)/, '').padStart(digits, '0') : n.replace(/^0+(?=\d)/, ''),
              ),
            ),
  },
  genres: {
    id: 'genres',
    label: 'Tidy genres',
    choices: ['genre'],
    fields: ['genre'],
    options: { table: [], split: true },
    prepare({ options }) {
      const wanted = genreTable(options.table);
      const tidy = remembering((genres) => tidyGenres(genres.split(BETWEEN), wanted, options.split));
      return {
        apply(w) {
          const genres = w.list('genre');
          if (genres.length) w.set('genre', tidy(genres.join(BETWEEN)));
        },
      };
    },
    mayEmpty: ({ options }) => options.table.some((row) => row.to.length === 0),
  },
  gains: {
    id: 'gains',
    label: 'ReplayGain from measured loudness',
    choices: [],
    fields: [],
    options: { album: true },
    prepare: ({ options }, workings) => ({ apply: gainsOf(workings, options) }),
  },
  rule: {
    id: 'rule',
    label: 'A rule of your own',
    choices: [],
    fields: [],
    options: { source: '' },
    prepare({ options: { source } }, _workings, { rule }) {
      if (!source.trim()) return { apply: () => undefined };
      if (!rule) throw new Error('Rules cannot be run here');
      const run = rule(source);
      return {
        apply(w) {
          for (const [field, value] of Object.entries(run({ ...w.values, path: w.track.path }))) {
            if (!CLEAN_FIELDS.includes(field)) throw new Error(`A rule cannot set "${field}"`);
            const to = value === undefined ? null : (value as FieldValue);
            if (!isEmpty(to) && fitting(field, to) === null)
              throw new Error(`${fieldOf(field).label} cannot hold ${cut(JSON.stringify(to), 60)}`);
            w.set(field, to);
          }
        },
      };
    },
  },
};

/** The kind of a step. @throws Error for one that is not known */
export function stepKind(id: string): StepKind<StepKindId> {
  const kind = (KINDS as Record<string, unknown>)[id];
  if (!kind) throw new Error(`There is no step "${id}"`);
  return kind as StepKind<StepKindId>;
}

export const STEP_KINDS = Object.values(KINDS) as unknown as readonly StepKind<StepKindId>[];

/** A new step with its usual options. */
export function newStep<K extends StepKindId>(
  kind: K,
  id: string,
  options: Partial<StepOptions[K]> = {},
  fields?: string[],
): Step {
  const { fields: usual, options: defaults } = KINDS[kind];
  return {
    id,
    kind,
    on: true,
    fields: [...(fields ?? usual)],
    options: { ...structuredClone(defaults), ...options },
  } as unknown as Step;
}
