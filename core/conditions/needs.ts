/** What is left to do on tracks: each need is a condition, counted on the left of the sheet and per stage. */
import { fieldOf, FIELDS } from '../fields/table.ts';
import type { Condition } from './condition.ts';

export interface Need {
  id: string;
  label: string;
  condition: Condition;
  stage: 'Tracks' | 'Clean' | 'Disk';
}

/** Fields that have to be filled before a track is ready. */
export interface GapRules {
  floor: string[];
  playout: string[];
}
export const DEFAULT_RULES: GapRules = {
  floor: [...FIELDS.filter((f) => f.gap).map((f) => f.id), 'bpm', 'key', 'energy'],
  playout: ['title', 'artist', 'year', 'genre', 'lufs', 'introEndSeconds', 'segueSeconds'],
};
/** What rules can ask for. */
export const RULE_CHOICES: readonly string[] = FIELDS.filter(
  (f) => f.kind !== 'file' && !['marks', 'flag'].includes(f.type),
).map((f) => f.id);

/** One of these is empty. */
export const lacksOne = (fields: readonly string[]): Condition => ({
  any: fields.map((field) => ({ field, test: 'empty' as const })),
});

/** A field that people fill, and that a rule asks for, is empty. */
export const anyGap = ({ floor, playout }: GapRules): Condition =>
  lacksOne([...new Set([...floor, ...playout])].filter((id) => ['named', 'own'].includes(fieldOf(id).kind)));

/** All needs by the rules in force, in the order in which they are shown. */
export const needsOf = (rules: GapRules): readonly Need[] => [
  { id: 'gaps', label: 'Any gap', stage: 'Clean', condition: anyGap(rules) },
  { id: 'floor', label: 'Not ready: floor', stage: 'Clean', condition: lacksOne(rules.floor) },
  { id: 'playout', label: 'Not ready: playout', stage: 'Clean', condition: lacksOne(rules.playout) },
  { id: 'name', label: 'No artist or title', stage: 'Clean', condition: lacksOne(['artist', 'title']) },
  { id: 'genre', label: 'No genre', stage: 'Clean', condition: lacksOne(['genre']) },
  { id: 'year', label: 'No year', stage: 'Clean', condition: lacksOne(['year']) },
  {
    id: 'measuring',
    label: 'Not measured',
    stage: 'Tracks',
    condition: { field: 'analysisState', test: 'one of', values: ['none', 'waiting', 'running'] },
  },
  {
    id: 'failed',
    label: 'Could not be measured',
    stage: 'Tracks',
    condition: { field: 'analysisState', test: 'one of', values: ['failed'] },
  },
  {
    id: 'unsure',
    label: 'Tempo, key unsure',
    stage: 'Tracks',
    condition: {
      any: [
        { field: 'tempoConfidence', test: 'between', high: 0.5 },
        { field: 'keyConfidence', test: 'between', high: 0.5 },
      ],
    },
  },
  {
    id: 'unwritten',
    label: 'Tags not written yet',
    stage: 'Clean',
    condition: { not: { field: 'unwritten', test: 'empty' } },
  },
  {
    id: 'missing',
    label: 'Missing file',
    stage: 'Disk',
    condition: { field: 'fileState', test: 'one of', values: ['missing'] },
  },
  {
    id: 'place',
    label: 'Out of place',
    stage: 'Disk',
    condition: { field: 'outOfPlace', test: 'is', value: true },
  },
  {
    id: 'duplicate',
    label: 'Duplicate',
    stage: 'Disk',
    condition: { field: 'duplicate', test: 'is', value: true },
  },
];

/** What there is to look at on the Disk stage. */
export const anyOnDisk = (needs: readonly Need[]): Condition => ({
  any: needs.filter((need) => need.stage === 'Disk').map((need) => need.condition),
});
