/** Ten steps over 10,000 tracks, as the page's worker runs them. */
import { knownNames } from '@early-set/core/clean/known';
import { runRecipe, type CleanTrack } from '@early-set/core/clean/recipe';
import { newStep } from '@early-set/core/clean/steps';
import { HABITS, KNOWN, songsFor } from './names/habits.ts';
import { table } from './table.ts';

const tracks: CleanTrack[] = [];
for (let folder = 0; tracks.length < 10_000; folder++) {
  const habit = HABITS[folder % HABITS.length]!;
  for (const s of songsFor(habit.songs, folder)) {
    const messy = tracks.length % 3 === 0;
    tracks.push({
      id: tracks.length + 1, path: `${habit.folder} ${folder}/${habit.write(s)}.mp3`, locked: [],
      values: messy ? { title: null, artist: null } : { title: `${s.artist.toUpperCase()} - ${s.title}_(Club Mix) feat. Ines Tollard [www.tidepool.example]`, artist: [s.artist.toLowerCase()], album: `${s.album} (${s.year})`, genre: ['deep house/Dub'], comment: 'ripped by somebody' },
    });
  }
}
const steps = [
  newStep('names', '1'), newStep('marks', '2'), newStep('characters', '3'), newStep('remove', '4'), newStep('trackNumbers', '5'), newStep('versions', '6', { bare: true }),
  newStep('capitals', '7', { onlyOneCase: false }), newStep('replace', '8', { find: 'the', with: 'The', words: true }), newStep('genres', '9', { table: [{ from: 'Deep House', to: ['House', 'Deep House'] }] }), newStep('numbers', '10'),
];
const context = { known: knownNames(KNOWN.map((a) => [a, 5] as const)), answers: {} };
const rows: (string | number)[][] = [];
for (const what of ['first run', 'second run', 'third run']) {
  const start = performance.now();
  const result = runRecipe(tracks, steps, context);
  rows.push([what, tracks.length, steps.length, result.changes.length, result.questions.length, `${((performance.now() - start) / 1000).toFixed(2)} s`]);
}
console.log('A recipe of ten steps\n');
table(['', 'tracks', 'steps', 'changed', 'questions', 'time'], rows);
const each = steps.map((step) => { const start = performance.now(); runRecipe(tracks, [step], context); return [step.kind, `${(performance.now() - start).toFixed(0)} ms`]; });
console.log('\nSteps alone\n');
table(['step', 'time'], each);
