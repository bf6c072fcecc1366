/** What is left to do on tracks: each need is a condition, counted on the left of the sheet and per stage. */
import { FIELDS } from '../fields/table.ts';
import type { Condition } from './condition.ts';

export interface Need { id: string; label: string; condition: Condition; stage: 'Tracks' | 'Clean' | 'Disk' }

/** A field that ought to be filled is not. */
export const ANY_GAP: Condition = { any: FIELDS.filter((f) => f.gap).map((f) => ({ field: f.id, test: 'empty' })) };

/** All needs, in the order in which they are shown. */
export const NEEDS: readonly Need[] = [
  { id: 'gaps', label: 'Any gap', stage: 'Clean', condition: ANY_GAP },
  { id: 'name', label: 'No artist or title', stage: 'Clean', condition: { any: [{ field: 'artist', test: 'empty' }, { field: 'title', test: 'empty' }] } },
  { id: 'genre', label: 'No genre', stage: 'Clean', condition: { field: 'genre', test: 'empty' } },
  { id: 'year', label: 'No year', stage: 'Clean', condition: { field: 'year', test: 'empty' } },
  { id: 'measuring', label: 'Not measured', stage: 'Tracks', condition: { field: 'analysisState', test: 'one of', values: ['none', 'waiting', 'running'] } },
  { id: 'failed', label: 'Could not be measured', stage: 'Tracks', condition: { field: 'analysisState', test: 'one of', values: ['failed'] } },
  { id: 'unsure', label: 'Tempo, key unsure', stage: 'Tracks', condition: { any: [{ field: 'tempoConfidence', test: 'between', high: 0.5 }, { field: 'keyConfidence', test: 'between', high: 0.5 }] } },
  { id: 'unwritten', label: 'Not in the file yet', stage: 'Clean', condition: { not: { field: 'unwritten', test: 'empty' } } },
  { id: 'missing', label: 'File not found', stage: 'Disk', condition: { field: 'fileState', test: 'one of', values: ['missing'] } },
];
