import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { TrackValues } from '../fields/values.ts';
import { context, track } from '../testing/cleanSamples.ts';
import { PLACES, runSteps, type CleanContext, type CleanTrack } from './runSteps.ts';
import { READY_MADE } from './presets.ts';
import { newStep, STEP_KINDS, type Step, type StepKindId } from './steps.ts';
import { stepTitle } from './stepTitle.ts';

const after = (values: TrackValues, steps: Step[], path?: string): TrackValues => {
  const t = track(values, path),
    { changes } = runSteps([t], steps, context);
  return { ...t.values, ...Object.fromEntries((changes[0]?.fields ?? []).map((f) => [f.field, f.after])) };
};

test('from name to tags: the usual mess in one go', () => {
  const steps = READY_MADE[0]!.steps;
  expect(after({}, steps, 'Inbox/03_low_tide_assembly-bladderwrack cuts_(instrumental)_promo.mp3')).toEqual({
    title: 'Bladderwrack Cuts',
    artist: ['Low Tide Assembly'],
    version: 'Instrumental',
    trackNumber: 3,
  });
  expect(
    after({ title: '07. Dry Dock www.free-promos.example', artist: ['MARROW & PINE'] }, steps, 'Inbox/07 dry dock.mp3'),
  ).toEqual({ title: 'Dry Dock', artist: ['Marrow & Pine'], trackNumber: 7 });
  expect(after({ title: 'Half a Mile of Rope feat. Vesna Rook', artist: ['Brine Choir'] }, steps)).toMatchObject({
    title: 'Half a Mile of Rope',
    artist: ['Brine Choir', 'Vesna Rook'],
  });
});

describe('a field by a template', () => {
  const energy = READY_MADE.find((r) => r.name.startsWith('Energy'))!.steps;
  test('goes behind what is there, and replaces what an earlier run put there', () => {
    expect(after({ energy: 71 }, energy)).toMatchObject({ comment: '71/100 energy' });
    expect(after({ energy: 71, moods: ['dark', 'slow'], comment: 'From the boathouse' }, energy).comment).toBe(
      'From the boathouse · 71/100 energy, dark, slow',
    );
    expect(after({ energy: 40, moods: ['calm'], comment: 'From the boathouse · 71/100 energy' }, energy).comment).toBe(
      'From the boathouse · 40/100 energy, calm',
    );
    expect(after({ energy: 40, comment: 'From the boathouse · 71/100 energy, dark, slow' }, energy).comment).toBe(
      'From the boathouse · 40/100 energy',
    );
    expect(after({ comment: 'From the boathouse · 71/100 energy' }, energy).comment).toBe('From the boathouse');
    expect(after({ comment: 'Energy drink' }, energy).comment).toBe('Energy drink');
  });
  test('running it twice is running it once, wherever it is put', () => {
    fc.assert(
      fc.property(
        fc.option(fc.integer({ min: 0, max: 100 })),
        fc.array(fc.constantFrom('dark', 'calm', 'sunny'), { maxLength: 3 }),
        fc.constantFrom('', 'A note', 'x · y'),
        fc.constantFrom('before' as const, 'behind' as const),
        (value, moods, comment, place) => {
          const steps = [
            newStep('compose', 'a', {
              into: 'comment',
              place,
              template: '{% if energy %}Energy {{ energy }}{% endif %}{% if moods %} Moods {{ moods }}{% endif %}',
            }),
          ];
          const once = after({ energy: value, moods: [...new Set(moods)], comment }, steps);
          expect(after(once, steps).comment ?? '').toBe(once.comment ?? '');
          const other = after({ ...once, energy: 33, moods: ['loud'] }, steps);
          expect(String(other.comment).match(/Energy/g)).toHaveLength(1);
        },
      ),
    );
  });
  test('numbers are said with as many places as their fields have, and a broken template is told', () => {
    expect(
      after({ bpm: 123.456789, title: 'Ebb' }, [newStep('compose', 'a', { template: '{{ title }} {{ bpm }}' })]).title,
    ).toBe('Ebb 123.46');
    expect(
      runSteps([track({ title: 'a' })], [newStep('compose', 'a', { template: '{{ title' })], context).steps[0]!.trouble,
    ).toBeTruthy();
  });
});

describe('names of files', () => {
  const named = (name: string, values: TrackValues = {}, folder = 'Inbox/'): CleanTrack =>
    track({ ...values, fileName: name }, `${folder}${name}.mp3`);
  const naming = READY_MADE.find((r) => r.name.startsWith('File names'))!.steps;
  const namesAfter = (tracks: CleanTrack[], answers: CleanContext['answers'] = {}, steps = naming) => {
    const result = runSteps(tracks, steps, { ...context, answers });
    return {
      names: tracks.map(
        (t) => result.changes.find((c) => c.id === t.id)?.fields.find((f) => f.field === 'fileName')?.after ?? null,
      ),
      asked: result.questions.map((q) => q.trackId),
    };
  };
  test('follow the fields, without what disks do not take', () => {
    expect(namesAfter([named('01_x', { artist: ['Brine Choir'], title: 'Salt / Sand: a "round"?' })]).names).toEqual([
      'Brine Choir - Salt Sand a round',
    ]);
    expect(namesAfter([named('x_y__z')], {}, [newStep('characters', 'c', {}, ['fileName'])]).names).toEqual(['x y z']);
    expect(namesAfter([named('Why?')], {}, [newStep('characters', 'c', {}, ['fileName'])]).names).toEqual([null]);
  });
  test('are never given twice in a folder: the second is asked about, keeps its own or gets a number', () => {
    const same = { artist: ['Pell'], title: 'Rope' };
    const tracks = [
      named('a', { ...same, album: 'One' }),
      named('b', { ...same, album: 'Two' }),
      named('pell - ROPE', { ...same, album: 'Three' }),
      named('c', { ...same, album: 'Four' }, 'Other/'),
    ];
    tracks[2]!.locked = ['fileName'];
    expect(namesAfter(tracks)).toEqual({
      names: [null, null, null, 'Pell - Rope'],
      asked: [tracks[0]!.id, tracks[1]!.id],
    });
    expect(namesAfter(tracks, { [`${PLACES}:*`]: 'go' }).names).toEqual([
      'Pell - Rope (2)',
      'Pell - Rope (3)',
      null,
      'Pell - Rope',
    ]);
  });
});

test('of how many tracks and discs, only where an album is whole', () => {
  const step = [newStep('numbers', 'n', { action: 'totals' })];
  const album = (n: number | null, disc: number | null, folder = 'A/', name = 'Tapes'): CleanTrack =>
    track({ title: `t${n}${disc}`, album: name, trackNumber: n, discNumber: disc }, `${folder}${n}-${disc}.mp3`);
  const totals = (tracks: CleanTrack[]) => {
    const { changes } = runSteps(tracks, step, context);
    return tracks.map(
      (t) =>
        changes
          .find((c) => c.id === t.id)
          ?.fields.map((f) => [f.field, f.after])
          .flat() ?? [],
    );
  };
  expect(totals([album(1, null), album(2, null), album(3, null)])).toEqual(Array(3).fill(['trackTotal', 3]));
  expect(totals([album(1, null), album(3, null)])).toEqual([[], []]);
  expect(totals([album(1, null), album(1, null, 'B/')])).toEqual([
    ['trackTotal', 1],
    ['trackTotal', 1],
  ]);
  expect(totals([album(1, 1), album(2, 1), album(1, 2)])).toEqual([
    ['trackTotal', 2, 'discTotal', 2],
    ['trackTotal', 2, 'discTotal', 2],
    ['trackTotal', 1, 'discTotal', 2],
  ]);
  expect(totals([album(null, null)])).toEqual([[]]);
});

describe('gains for players', () => {
  const step = [newStep('gains', 'g')];
  let name = 0;
  const song = (lufs: number | null, truePeakDbtp: number | null, album: string | null, seconds = 100, folder = 'A/') =>
    track({ title: `t${++name}`, lufs, truePeakDbtp, durationSeconds: seconds, album }, `${folder}${name}.flac`);
  const set = (tracks: CleanTrack[], steps = step) => {
    const { changes } = runSteps(tracks, steps, context);
    return tracks.map((t) =>
      Object.fromEntries((changes.find((c) => c.id === t.id)?.fields ?? []).map((f) => [f.field, f.after])),
    );
  };
  test('of a track: what is missing to −18 LUFS, and its peak as a share of full scale', () => {
    expect(set([song(-9.4, -0.5, null), song(-23, null, null), song(null, -1, null)])).toEqual([
      { trackGainDb: -8.6, trackPeak: 0.944061 },
      { trackGainDb: 5 },
      {},
    ]);
  });
  test('of an album: its mean power by length and its highest peak, where all of it is measured', () => {
    const [a, b] = set([song(-8, -1, 'Tapes', 300), song(-14, 0, 'Tapes', 100)]);
    expect(a).toMatchObject({ trackGainDb: -10, albumPeak: 1 });
    expect(b!.albumGainDb).toBe(a!.albumGainDb);
    expect(a!.albumGainDb as number).toBeCloseTo(-18 - 10 * Math.log10((300 * 10 ** -0.8 + 100 * 10 ** -1.4) / 400), 1);
    expect(set([song(-8, -1, 'Tapes'), song(null, null, 'Tapes')])[0]).toEqual({
      trackGainDb: -10,
      trackPeak: 0.891251,
    });
    expect(
      set([song(-8, -1, 'Tapes'), song(-8, -1, 'Tapes', 100, 'B/')], [newStep('gains', 'g', { album: false })])[0],
    ).toEqual({ trackGainDb: -10, trackPeak: 0.891251 });
  });
  test('what is said already is no change', () => {
    const once = track({ ...song(-9.4, -0.5, null).values, trackGainDb: -8.6, trackPeak: 0.944061 });
    expect(set([once])).toEqual([{}]);
  });
});

test('locked fields stay and are counted; steps that are off do nothing', () => {
  const locked = track({ title: 'a_b', album: 'c_d' }, 'x.mp3', ['title']);
  const { changes, lockedTracks } = runSteps([locked], [newStep('characters', 'c')], context);
  expect(changes[0]!.fields.map((f) => f.field)).toEqual(['album']);
  expect(lockedTracks).toBe(1);
  expect(runSteps([locked], [{ ...newStep('characters', 'c'), on: false }], context).changes).toEqual([]);
});

describe('single steps', () => {
  test.each<[string, Step, TrackValues, TrackValues]>([
    [
      'copy fills gaps only',
      newStep('fields', 's', { action: 'copy', from: 'albumArtist', to: 'artist' }),
      { albumArtist: 'A', artist: ['B'] },
      { albumArtist: 'A', artist: ['B'] },
    ],
    [
      'copy over',
      newStep('fields', 's', { action: 'copy', from: 'albumArtist', to: 'artist', over: 'replace' }),
      { albumArtist: 'A', artist: ['B'] },
      { albumArtist: 'A', artist: ['A'] },
    ],
    [
      'move',
      newStep('fields', 's', { action: 'move', from: 'comment', to: 'label' }),
      { comment: 'Tarn' },
      { comment: null, label: 'Tarn' },
    ],
    [
      'swap',
      newStep('fields', 's', { action: 'swap', from: 'title', to: 'artist' }),
      { title: 'Vesna Rook', artist: ['Ferry Clerk'] },
      { title: 'Ferry Clerk', artist: ['Vesna Rook'] },
    ],
    [
      'clear several',
      { ...newStep('fields', 's', { action: 'clear' }), fields: ['comment', 'year'] } as Step,
      { comment: 'x', year: 2020, title: 'a' },
      { comment: null, year: null, title: 'a' },
    ],
    ['template', newStep('compose', 's'), { title: 'Rain', version: 'Dub' }, { title: 'Rain (Dub)', version: 'Dub' }],
    [
      'replace whole words',
      newStep('replace', 's', { find: 'the', with: 'a', words: true }),
      { title: 'The other the' },
      { title: 'a other a' },
    ],
    [
      'replace by pattern',
      newStep('replace', 's', { find: '^(\\w+) (\\w+)$', with: '$2 $1', pattern: true }),
      { title: 'Dock Dry' },
      { title: 'Dry Dock' },
    ],
    [
      'replace plainly',
      newStep('replace', 's', { find: '$1.', with: '$&' }),
      { title: 'Win $1.00' },
      { title: 'Win $&00' },
    ],
    ['year out', newStep('numbers', 's'), { album: 'Harbour Wall (2014)' }, { album: 'Harbour Wall', year: 2014 }],
    [
      'another year stays',
      newStep('numbers', 's'),
      { album: 'Harbour Wall (2014)', year: 2001 },
      { album: 'Harbour Wall (2014)', year: 2001 },
    ],
    [
      'pad',
      newStep('numbers', 's', { action: 'pad' }, ['title']),
      { title: 'Part 3 of 1.5' },
      { title: 'Part 03 of 1.5' },
    ],
    [
      'number into its field',
      newStep('trackNumbers', 's'),
      { title: '07. Dry Dock' },
      { title: 'Dry Dock', trackNumber: 7 },
    ],
    [
      'remixer',
      newStep('versions', 's'),
      { title: 'Parallel Rule (Vesna Rook Remix)' },
      { title: 'Parallel Rule', version: 'Vesna Rook Remix', remixer: ['Vesna Rook'] },
    ],
  ])('%s', (_name, step, before, wanted) => expect(after(before, [step])).toEqual(wanted));

  test('a pattern or template that cannot be read says so and changes nothing', () => {
    for (const step of [
      newStep('replace', 's', { find: '(', pattern: true }),
      newStep('compose', 's', { template: '{{ title | nonsense }}{% if %}' }),
    ]) {
      const { changes, steps } = runSteps([track({ title: 'x' })], [step], context);
      expect(changes).toEqual([]);
      expect(steps[0]!.trouble).toBeTruthy();
    }
  });
  test('a rule gets the fields and sets what it may; what it breaks at is told', () => {
    const rule = () => (t: TrackValues) =>
      t.title === 'bad' ? { path: 'x' } : { title: String(t.title).toUpperCase(), year: '1999' };
    const { changes, steps } = runSteps(
      [track({ title: 'good' }), track({ title: 'bad' })],
      [newStep('rule', 's', { source: 'x' })],
      { ...context, rule },
    );
    expect(changes[0]!.fields).toEqual([
      { field: 'title', before: 'good', after: 'GOOD' },
      { field: 'year', before: null, after: 1999 },
    ]);
    expect(steps[0]).toMatchObject({ tracks: 1, trouble: 'A rule cannot set "path"' });
  });
});

test('every kind of step says what it is, and twice is as good as once', () => {
  const text = fc.string({
    unit: fc.constantFrom('a', 'B', ' ', '_', '-', '(', ')', '.', '1', 'Mix', ' feat. ', 'Rook'),
    maxLength: 12,
  });
  for (const kind of STEP_KINDS) expect(stepTitle(newStep(kind.id, 'x')).length).toBeGreaterThan(5);
  const settled: StepKindId[] = ['marks', 'characters', 'capitals', 'genres'];
  fc.assert(
    fc.property(fc.constantFrom(...settled), text, fc.array(text, { maxLength: 2 }), (kind, title, artist) => {
      const once = after({ title, artist }, [newStep(kind, 's')]);
      const twice = after(once, [newStep(kind, 's')]);
      if (kind !== 'marks') expect(twice).toEqual(once);
    }),
  );
});

test('undefined stays undefined: no step invents values for an empty track', () => {
  for (const kind of STEP_KINDS)
    if (kind.id !== 'names') expect(runSteps([track({})], [newStep(kind.id, 's')], context).changes).toEqual([]);
});

test('a file keeps its name where nothing is known to name it by', () => {
  const naming = READY_MADE.find((r) => r.name.startsWith('File names'))!.steps;
  const { changes, questions } = runSteps(
    [track({ fileName: '03 - unknown' }, 'Inbox/03 - unknown.mp3')],
    naming,
    context,
  );
  expect([changes, questions]).toEqual([[], []]);
});
