/** @jest-environment node */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { runSteps } from '@early-set/core/clean/runSteps';
import { NOBODY } from '@early-set/core/clean/known';
import { newStep } from '@early-set/core/clean/steps';
import { openRules, type Rules } from './rules.ts';

let rules: Rules;
beforeAll(async () => {
  rules = await openRules();
});
afterAll(() => rules.close());
const track = { title: 'Low Cloud', artist: ['Brine Choir'], path: 'Rips/x.flac' };
const run = (source: string): Record<string, unknown> => rules.runner(source)(track);

describe("rules of one's own", () => {
  test('give back the fields that change, or nothing', () => {
    expect(run('return { title: track.title.toUpperCase(), artist: [...track.artist, "Hal Sorrow"] };')).toEqual({
      title: 'LOW CLOUD',
      artist: ['Brine Choir', 'Hal Sorrow'],
    });
    expect(run('if (track.path.startsWith("Crates")) return { title: "" };')).toEqual({});
  });
  test('what is wrong is told with its line', () => {
    expect(() => run('const a = 1;\nreturn { title: nothing.at.all };')).toThrow(/^Line 2: .*nothing/);
    expect(() => run('return {')).toThrow(/^Line \d/);
    expect(() => run('return "a word";')).toThrow('has to give back an object');
  });
  test('round in circles it is stopped', () => {
    expect(() => run('for (;;) {}')).toThrow('took longer than 250 ms');
    expect(run('return { title: "still here" };')).toEqual({ title: 'still here' });
  });
  test('it takes no memory that is not its own', async () => {
    // In a sandbox of its own: filling the memory may take the time of all tracks on a slow machine.
    const greedy = await openRules();
    const fill = greedy.runner('const a = []; for (;;) a.push("x".repeat(100000) + a.length);');
    expect(() => fill(track)).toThrow();
    greedy.close();
    expect(run('return { title: "still here" };')).toEqual({ title: 'still here' });
  });
  test.each([
    ['const f = () => f() + 1; return f();', 'stack overflow'],
    ['return { get title() { return this.title; } };', 'stack overflow'],
    ['throw undefined;', 'the rule broke'],
  ])('%s is told, and the next goes on', (source, said) => {
    expect(() => run(source)).toThrow(said);
    expect(run('return { title: "still here" };')).toEqual({ title: 'still here' });
  });
  test('what does not end for one track is stopped for all, and what it did to others is taken back', () => {
    const tracks = ['a', 'b', 'c', 'd'].map((title, i) => ({
      id: i + 1,
      rootId: 1,
      path: `${title}.mp3`,
      values: { title },
      locked: [],
    }));
    let asked = 0;
    const source = 'if (track.title === "b") for (;;) {}\nreturn { title: "new" };';
    const { changes, steps } = runSteps(tracks, [newStep('rule', 'r', { source })], {
      known: NOBODY,
      answers: {},
      rule: (text) => {
        const one = rules.runner(text);
        return (track) => {
          asked++;
          return one(track);
        };
      },
    });
    expect({ asked, changes, trouble: steps[0]!.trouble }).toEqual({
      asked: 2,
      changes: [],
      trouble: 'The rule took longer than 250 ms for one track and was stopped',
    });
  });
  test.each([
    ['return { year: "abc" };', 'Year cannot hold "abc"'],
    ['return { rating: 99 };', 'cannot hold 99'],
  ])('%s: what a field cannot hold is told', (source, said) => {
    const tracks = [{ id: 1, rootId: 1, path: 'a.mp3', values: { title: 'a', year: 2020 }, locked: [] }];
    const { changes, steps } = runSteps(tracks, [newStep('rule', 'r', { source })], {
      known: NOBODY,
      answers: {},
      rule: rules.runner,
    });
    expect(changes).toEqual([]);
    expect(steps[0]!.trouble).toContain(said);
  });
  test('there are no files, no network, no page', () => {
    expect(run('return { title: [typeof fetch, typeof process, typeof require, typeof window].join() };')).toEqual({
      title: 'undefined,undefined,undefined,undefined',
    });
  });
  test('among steps: a rule that breaks changes nothing and says why', () => {
    const tracks = [{ id: 1, rootId: 1, path: 'a.mp3', values: { title: 'a' }, locked: [] }];
    const good = runSteps(tracks, [newStep('rule', 'r', { source: 'return { title: track.title + "!" }' })], {
      known: NOBODY,
      answers: {},
      rule: rules.runner,
    });
    expect(good.changes[0]!.fields).toEqual([{ field: 'title', before: 'a', after: 'a!' }]);
    const bad = runSteps(tracks, [newStep('rule', 'r', { source: 'return { path: "elsewhere" }' })], {
      known: NOBODY,
      answers: {},
      rule: rules.runner,
    });
    expect(bad.changes).toEqual([]);
    expect(bad.steps[0]!.trouble).toBe('A rule cannot set "path"');
  });
});
