/** What steps ask before they do it. */
import { describe, expect, test } from '@jest/globals';
import { context, track } from '../testing/cleanSamples.ts';
import { runSteps, WHOLE, type CleanContext } from './runSteps.ts';
import { newStep } from './steps.ts';

describe('questions', () => {
  const steps = [newStep('remove', 'r', { what: 'artist' })];
  const album = track({ title: 'The Boatyard Tapes', artist: ['The Boatyard Tapes'] }),
    fine = track({ title: 'Vesna Rook - Ferry Clerk', artist: ['Vesna Rook'] });
  const run = (answers: CleanContext['answers']) => runSteps([album, fine], steps, { ...context, answers });
  test('a step that would empty a field leaves it and asks', () => {
    const { changes, questions, steps: reports } = run({});
    expect(changes.map((c) => c.id)).toEqual([fine.id]);
    expect(questions).toEqual([
      {
        about: 'emptied',
        stepId: 'r',
        trackId: album.id,
        field: 'title',
        before: 'The Boatyard Tapes',
        reason: '“Remove the artist from title and album” would leave the title empty',
        answer: null,
      },
    ]);
    expect(reports[0]).toMatchObject({ tracks: 1, trouble: null });
  });
  test('an answer for one, or for all of the step', () => {
    expect(run({ [`r:${album.id}:title`]: 'go' }).changes[0]).toEqual({
      id: album.id,
      fields: [{ field: 'title', before: 'The Boatyard Tapes', after: null }],
    });
    expect(run({ 'r:*': 'go' }).changes).toHaveLength(2);
    expect(run({ 'r:*': 'go', [`r:${album.id}:title`]: 'keep' }).changes.map((c) => c.id)).toEqual([fine.id]);
  });
  test('of two fields one can go and one can stay', () => {
    const both = track({ title: 'Vesna Rook', artist: ['Vesna Rook'], album: 'Vesna Rook' });
    const one = track({ title: 'Vesna Rook - Tidal', artist: ['Vesna Rook'], album: 'Vesna Rook' });
    const { changes, questions } = runSteps([both, one], steps, context);
    expect(questions.map((q) => [q.trackId, q.field])).toEqual([
      [both.id, 'title'],
      [both.id, 'album'],
      [one.id, 'album'],
    ]);
    expect(changes).toEqual([
      { id: one.id, fields: [{ field: 'title', before: 'Vesna Rook - Tidal', after: 'Tidal' }] },
    ]);
    const answers = { [`r:${both.id}:title`]: 'keep', [`r:${both.id}:album`]: 'go' } as const;
    expect(runSteps([both], steps, { ...context, answers }).changes).toEqual([
      { id: both.id, fields: [{ field: 'album', before: 'Vesna Rook', after: null }] },
    ]);
  });
  test('what went into another field comes back as a whole', () => {
    const t = track({ title: '(Night Mix)', artist: ['X'] });
    const moved = runSteps([t], [newStep('versions', 'v', { bare: true })], context);
    expect(moved.changes).toEqual([]);
    expect(moved.questions.map((q) => q.field)).toEqual(['title']);
  });
  test('two tracks that would be the same are asked about; the first changes, the second waits', () => {
    const a = track({ title: 'Rain (take one)', artist: ['X'] }),
      b = track({ title: 'Rain (take two)', artist: ['X'] });
    const drop = [newStep('characters', 'c', { round: 'drop with content' }, ['title'])];
    const { changes, questions } = runSteps([a, b], drop, context);
    expect(changes.map((c) => c.id)).toEqual([a.id]);
    expect(questions).toMatchObject([{ stepId: WHOLE, trackId: b.id }]);
    expect(runSteps([a, b], drop, { ...context, answers: { [`${WHOLE}:*`]: 'go' } }).changes).toHaveLength(2);
    const twins = [track({ title: 'A_b', artist: ['X'] }), track({ title: 'A_b', artist: ['X'] })];
    expect(runSteps(twins, [newStep('characters', 'c')], context).questions).toEqual([]);
  });
});

describe('names that are understood unsurely', () => {
  const [odd, fine] = [
    track({}, 'Inbox/Hal Sorrow - Low Cloud.mp3'),
    track({}, 'Inbox/02 - Vesna Rook - Ferry Clerk.mp3'),
  ] as const;
  const run = (answers: CleanContext['answers'], options: object = {}) =>
    runSteps([odd, fine], [newStep('names', 'n', options)], { ...context, answers });
  test('are asked about, name by name, and applied when somebody says so', () => {
    const { changes, questions } = run({});
    expect(changes.map((c) => c.id)).toEqual([fine.id]);
    expect(questions).toMatchObject([
      {
        stepId: 'n',
        trackId: odd.id,
        field: 'fileName',
        before: 'Hal Sorrow - Low Cloud',
        about: 'unsure',
        reason: expect.stringContaining('unsure (confidence 0.'),
      },
    ]);
    expect(run({ [`n:${odd.id}:fileName`]: 'go' }).changes.map((c) => c.id)).toEqual([odd.id, fine.id]);
    expect(run({ 'n:*': 'keep' }).changes.map((c) => c.id)).toEqual([fine.id]);
  });
  test('a pattern set by hand is not asked about, and fills what its parts say', () => {
    const { changes, questions } = run({}, { patterns: { '1:Inbox\ntext|text': ['label', 'title'] } });
    expect(questions).toEqual([]);
    expect(changes[0]!.fields.map(({ field, after }) => [field, after])).toEqual([
      ['title', 'Low Cloud'],
      ['label', 'Hal Sorrow'],
    ]);
  });
  test('what was split by hand is not split again by later steps', () => {
    const dub = track({}, 'Rips/99 Buoys (Dub) feat. Hal Sorrow.mp3');
    const steps = (splits: Record<number, string[]>) => [
      newStep('names', 'n', { splits }),
      newStep('trackNumbers', 't'),
      newStep('versions', 'v'),
    ];
    const titles = (splits: Record<number, string[]>) =>
      runSteps([dub], steps(splits), { ...context, answers: { 'n:*': 'go' } }).changes[0]!.fields;
    expect(titles({ [dub.id]: ['99 Buoys (Dub) feat. Hal Sorrow'] })).toEqual([
      { field: 'title', before: null, after: '99 Buoys (Dub) feat. Hal Sorrow' },
    ]);
    expect(titles({}).map((f) => f.field)).toContain('version');
  });
});
