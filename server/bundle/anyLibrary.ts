/** Libraries drawn by chance, as the parts of a bundle: for tests. */
import fc from 'fast-check';
import type { BundledFolder } from '@early-set/core/bundle/manifest';
import { setFieldKind } from '@early-set/core/changes/kinds/setField';
import { ALL_KEYS } from '@early-set/core/fields/keys';
import { FIELDS, type Field } from '@early-set/core/fields/table';
import { TABLE_PARTS } from './parts.ts';

export interface Library {
  parts: Record<string, object[]>;
  folders: BundledFolder[];
}

/** Whatever a database can hold, line ends of others and several alphabets too. */
const text = fc
  .string({ unit: 'grapheme', minLength: 1, maxLength: 12 })
  .map((drawn) => drawn.replaceAll('\0', '') || 'x')
  .filter((drawn) => drawn.trim() !== '' && drawn.isWellFormed());
const odd = fc.constantFrom(
  'line\nend',
  'other\u2028end',
  '"quoted"',
  'back\\slash',
  '\u00e9',
  'e\u0301',
  '👩🏽‍🎤',
  '{}',
  ' ',
);
const words = fc.oneof({ weight: 4, arbitrary: text }, { weight: 1, arbitrary: odd.filter((o) => o.trim() !== '') });
const moment = fc
  .integer({ min: Date.UTC(1999, 0), max: Date.UTC(2030, 0) })
  .map((ms) => new Date(ms).toISOString().replace('Z', '+00:00'));
const number = fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((n) => n + 0 || 0);
const seconds = fc.double({ min: 0, max: 1e5, noNaN: true });
const orNull = <T>(one: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(one, { nil: null });
const bytes = fc.uint8Array({ maxLength: 200 }).map((b) => Buffer.from(b).toString('base64'));

function valueOf(field: Field): fc.Arbitrary<unknown> {
  switch (field.type) {
    case 'texts':
      return fc.array(words, { minLength: 1, maxLength: 3 });
    case 'number':
    case 'seconds':
      return number;
    case 'integer':
      return fc.integer({ min: -9, max: 1e9 });
    case 'key':
      return fc.constantFrom(...ALL_KEYS);
    case 'date':
      return moment;
    case 'flag':
      return fc.boolean();
    case 'marks':
      return fc.constant('[{"at":1.5,"name":"Drop"}]');
    default:
      return words;
  }
}

const MADE = ['addedAt', 'fileName', 'folder', 'playoutId', 'unwritten'];
const APART = new Set([...MADE, 'path', 'fileSize', 'fileState', 'root']);
const optional = FIELDS.filter(({ id }) => !APART.has(id) && id !== 'analysisState');
const values = fc.record(
  {
    path: words,
    fileSize: fc.nat(1e9),
    fileState: fc.constantFrom('here', 'missing'),
    root: words,
    analysisState: fc.constantFrom('none', 'done', 'failed'),
    ...Object.fromEntries(optional.map((field) => [field.id, valueOf(field)])),
  },
  { requiredKeys: ['path', 'fileSize', 'fileState', 'root', 'analysisState'] },
);

const times = <T>(n: number, one: (at: number) => fc.Arbitrary<T>): fc.Arbitrary<T[]> =>
  n === 0 ? fc.constant([]) : fc.tuple(...Array.from({ length: n }, (_, at) => one(at + 1)));
const record = (shape: Record<string, fc.Arbitrary<unknown>>): fc.Arbitrary<object> => fc.record(shape);
const uuid = (kind: number, at: number): string =>
  `${String(kind).padStart(8, '0')}-0000-4000-8000-${String(at).padStart(12, '0')}`;
const some = (n: number): fc.Arbitrary<number> => fc.integer({ min: 1, max: n });
const maybe = (n: number): fc.Arbitrary<number | null> => (n === 0 ? fc.constant(null) : orNull(some(n)));

const sizes = fc.record({
  ...{ folders: fc.integer({ min: 1, max: 3 }), tracks: fc.nat(7), lists: fc.nat(6), changes: fc.nat(4) },
  presets: fc.nat(2),
});

/** In it everything finds what it refers to. */
export const anyLibrary: fc.Arbitrary<Library> = sizes.chain(({ folders, tracks, lists, changes, presets }) => {
  const listId = (at: number | null): string | null => (at === null ? null : uuid(1, at));
  const parts: Record<string, fc.Arbitrary<object[]>> = {
    presets: times(presets, (id) =>
      record({ id: fc.constant(id), name: words.map((w) => `${w}${id}`), steps: fc.constant([]), updatedAt: moment }),
    ),
    settings: fc.constant([{ name: 'desk', value: { keyLock: false, quarantineDays: null } }]),
    folders: times(folders, (id) =>
      record({
        ...{ id: fc.constant(id), path: fc.constant(`/nowhere/${id}`), label: words, createdAt: moment },
        ...{ scannedAt: orNull(moment), measure: fc.boolean(), purpose: fc.constantFrom('library', 'destination') },
        ...{ removed: fc.boolean(), watch: fc.boolean(), presetId: maybe(presets), putByRules: fc.boolean() },
      }),
    ),
    tracks: times(tracks, (id) =>
      record({
        ...{
          id: fc.constant(id),
          folder: some(folders),
          values: values.map((v) => ({ ...v, path: `${v.path}/${id}` })),
        },
        origins: fc.constant({ title: { origin: 'typed', at: '2026-01-01', locked: true } }),
        ...{ unwritten: orNull(fc.array(words, { maxLength: 2 })), art: fc.constant(null), added: moment },
        playoutId: fc.constant(1000 + id),
        analysis: record({ reason: orNull(words), engine: orNull(fc.nat(9)) }),
        ...{ modifiedMs: seconds, changedMs: orNull(seconds) },
      }),
    ),
    files: times(tracks, (id) =>
      record({
        ...{
          id: fc.constant(uuid(2, id)),
          trackId: fc.constant(id),
          rootId: some(folders),
          path: fc.constant(`${id}.mp3`),
        },
        ...{ role: fc.constant('main'), companion: fc.constant(null), state: fc.constantFrom('here', 'missing') },
        ...{ stateSince: moment, size: fc.nat(), modifiedMs: seconds, changedMs: orNull(seconds) },
        ...{ container: orNull(words), codec: orNull(words), bitrate: orNull(fc.nat()), sampleRate: orNull(fc.nat()) },
        ...{ channels: orNull(fc.nat(8)), durationSeconds: orNull(seconds), audioHash: orNull(words) },
      }),
    ),
    analyses: times(tracks, (id) =>
      record({
        ...{ trackId: fc.constant(id), engine: fc.nat(9), analysedAt: moment, waveform: bytes },
        ...{ result: fc.jsonValue().map((json) => ({ json: tidy(json) })), fingerprint: orNull(bytes) },
        waveformForm: fc.integer({ min: 0, max: 2 }),
      }),
    ),
    duplicates: fc.constant(
      tracks > 1 ? [{ first: 1, second: 2, relation: 'same', offsetSeconds: 0.25, partsAt: null }] : [],
    ),
    lists: times(lists, (id) =>
      record({
        ...{ id: fc.constant(uuid(1, id)), kind: fc.constantFrom('crate', 'playlist'), name: words, position: number },
        // Parents may come behind their children.
        parentId: maybe(lists).map((up) => (up === id ? null : listId(up))),
        ...{
          removed: fc.boolean(),
          startsAt: orNull(words),
          createdAt: moment,
          updatedAt: moment,
          shape: orNull(words),
        },
        ...{ rule: fc.constant(null), colour: orNull(words), note: orNull(words), wishedSeconds: orNull(fc.nat(9e6)) },
        ...{ reserveId: maybe(lists).map(listId), mirror: fc.constant(null), mirrorOf: fc.constant(null) },
        ...{ clock: orNull(words), onAirAt: orNull(seconds) },
      }),
    ),
    entries:
      lists === 0
        ? fc.constant([])
        : times(Math.min(9, lists * 2), (at) =>
            maybe(tracks).chain((trackId) =>
              record({
                ...{ id: fc.constant(uuid(3, at)), listId: fc.constant(uuid(1, 1 + (at % lists))) },
                ...{ trackId: fc.constant(trackId), kind: fc.constant(trackId === null ? 'pause' : 'track') },
                ...{ position: fc.nat(99), data: fc.constantFrom({}, { gap: null }) },
              }),
            ),
          ).map((all) => all.sort(byListAndPlace)),
    dates: times(2, (id) =>
      record({
        ...{ id: fc.constant(id), name: words, kind: fc.constantFrom('gig', 'show'), day: fc.constant('2026-12-04') },
        ...{ startsAt: fc.constant('22:00'), asks: fc.constant('floor'), counted: fc.boolean() },
        listIds: fc.constant(lists > 0 ? [uuid(1, 1)] : []),
      }),
    ),
    destinations: fc.constant([
      {
        ...{ id: 4, kind: 'plover', name: 'Laptop', folder: '/nowhere/1/plover', settings: { maps: [] } },
        ...{ synced: uuid(9, 1), syncedAt: '2026-10-01T10:00:00+00:00' },
      },
    ]),
    changes: times(changes, (id) =>
      record({
        ...{ id: fc.constant(id), title: words, madeAt: moment, done: fc.nat(99), conflicts: fc.nat(9) },
        ...{ undoOf: maybe(changes), undoneBy: maybe(changes) },
      }),
    ),
    changeLines: times(changes, (id) =>
      record({
        ...{ changeSetId: fc.constant(id), seq: fc.nat(9), state: fc.constantFrom('done', 'conflict', 'failed') },
        item: record({
          kind: fc.constant(setFieldKind.kind),
          trackId: fc.nat(),
          before: orNull(words),
          after: orNull(words),
        }),
        ...{
          reason: orNull(words),
          undoneBy: maybe(changes),
          area: fc.constant('fields'),
          trackId: orNull(fc.nat(99)),
        },
        ...{ listId: maybe(lists).map(listId), dateId: orNull(fc.nat(9)), searched: words },
        ...{ restoresSet: maybe(changes), restoresSeq: orNull(fc.nat(9)) },
      }),
    ),
    removed: fc.constant([{ trackId: 99, removedAt: '2026-10-01T10:00:00+00:00', kept: { track: { title: null } } }]),
  };
  for (const { name } of TABLE_PARTS) parts[name] ??= fc.constant([]);
  return record(parts).map((drawn): Library => {
    const lines = drawn as Record<string, object[]>;
    const named = lines.folders as { id: number; label: string; path: string; purpose: 'library' | 'destination' }[];
    return {
      parts: lines,
      folders: named.map(({ id, label, path, purpose }) => ({ id, label, path, purpose, tracks: 0 })),
    };
  });
});

/** JSON as the database keeps it: without zero bytes and half characters, and with one kind of zero. */
function tidy(json: unknown): unknown {
  const said = JSON.stringify(json, (_, value: unknown) =>
    typeof value === 'string' ? value.replaceAll('\0', '').toWellFormed() : value === 0 ? 0 : value,
  );
  return JSON.parse(said.replaceAll('\\u0000', '')) as unknown;
}

function byListAndPlace(a: object, b: object): number {
  const [x, y] = [a, b] as { listId: string; position: number; id: string }[];
  if (x!.listId !== y!.listId) return x!.listId < y!.listId ? -1 : 1;
  return x!.position - y!.position || (x!.id < y!.id ? -1 : 1);
}
