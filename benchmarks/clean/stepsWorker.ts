/**
 * Ten steps for 10,000 tracks with names in many habits, run in a worker of the browser that asks for it.
 */
import { knownNames } from '@early-set/core/clean/known';
import { runSteps, type CleanTrack } from '@early-set/core/clean/runSteps';
import { newStep } from '@early-set/core/clean/steps';
import { HABITS } from '../names/habits.ts';
import { KNOWN, songsFor } from '../names/songs.ts';

const tracks: CleanTrack[] = [];
for (let folder = 0; tracks.length < 10_000; folder++) {
  const habit = HABITS[folder % HABITS.length]!;
  for (const s of songsFor(habit.songs, folder)) {
    const messy = tracks.length % 3 === 0;
    tracks.push({
      id: tracks.length + 1,
      rootId: 1,
      path: `${habit.folder} ${folder}/${habit.write(s)}.mp3`,
      locked: [],
      values: messy
        ? { title: null, artist: null }
        : {
            title: `${s.artist.toUpperCase()} - ${s.title}_(Club Mix) feat. Ines Tollard [www.tidepool.example]`,
            artist: [s.artist.toLowerCase()],
            album: `${s.album} (${s.year})`,
            genre: ['deep house/Dub'],
            comment: 'ripped by somebody',
          },
    });
  }
}
const steps = [
  newStep('names', '1'),
  newStep('marks', '2'),
  newStep('characters', '3'),
  newStep('remove', '4'),
  newStep('trackNumbers', '5'),
  newStep('versions', '6', { bare: true }),
  newStep('capitals', '7', { onlyOneCase: false }),
  newStep('replace', '8', { find: 'the', with: 'The', words: true }),
  newStep('genres', '9', { table: [{ from: 'Deep House', to: ['House', 'Deep House'] }] }),
  newStep('numbers', '10'),
];
const context = { known: knownNames(KNOWN.map((a) => [a, 5] as const)), answers: {} };

export interface StepsTimes {
  runs: number[];
  changed: number;
  questions: number;
  steps: { step: string; ms: number }[];
}

const timed = <T>(work: () => T): { ms: number; result: T } => {
  const start = performance.now(),
    result = work();
  return { ms: performance.now() - start, result };
};

onmessage = () => {
  const runs = [1, 2, 3].map(() => timed(() => runSteps(tracks, steps, context)));
  const times: StepsTimes = {
    runs: runs.map((r) => r.ms),
    changed: runs[0]!.result.changes.length,
    questions: runs[0]!.result.questions.length,
    steps: steps.map((step) => ({ step: step.kind, ms: timed(() => runSteps(tracks, [step], context)).ms })),
  };
  postMessage(times);
};
