/** What a change did, line by line, as a spreadsheet: for files the old name, the new one, and why. */
import { Readable, type Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { stringify } from 'csv-stringify';
import { wordsOf, type ChangeItem } from '@early-set/core/changes/items';
import { relocation } from '@early-set/core/changes/kinds/relocateFile';
import { fieldOf } from '@early-set/core/fields/table';
import type { ChangeLine } from '@early-set/core/api/types';
import type { Database } from '../db/database.ts';
import { changeLines, changeSetDetails } from './history.ts';

const COLUMNS = ['Name', 'What', 'Before', 'After', 'State', 'Why'] as const;
type Row = Record<(typeof COLUMNS)[number], string>;
const BATCH = 1000;

const STATES: Record<ChangeLine['state'], string> = {
  waiting: 'waits for its turn',
  done: 'done',
  conflict: 'left as it was',
  failed: 'left as it was',
  cancelled: 'cancelled',
};
const text = (value: unknown): string => (Array.isArray(value) ? value.join('; ') : String(value ?? ''));

function inWords(item: ChangeItem): Pick<Row, 'What' | 'Before' | 'After'> {
  const words = wordsOf(item);
  switch (words.show) {
    case 'sentence':
      return { What: words.text, Before: '', After: '' };
    case 'texts':
      return { What: words.label, Before: words.before, After: words.after };
    case 'field':
      return {
        What: `${fieldOf(words.field).label}${words.lock ? ` ${words.lock}` : ''}`,
        Before: text(words.before),
        After: text(words.after),
      };
  }
}

const rowOf = ({ name, item, state, reason, undone }: ChangeLine): Row => ({
  Name: name ?? '',
  ...inWords(item),
  State: undone ? 'undone' : STATES[state],
  Why: reason ?? relocation(item)?.why ?? '',
});

/** All lines of a change, ready to be written. @throws Problem when there is no such change */
export async function changeCsv(database: Database, id: number): Promise<(out: Writable) => Promise<void>> {
  await changeSetDetails(database, id);
  const csv = stringify({ bom: true, escape_formulas: true, header: true, columns: [...COLUMNS] });
  // Whoever goes away has enough; nothing is read for them any more.
  return (out) => pipeline(Readable.from(rowsOf(database, id)), csv, out).catch(() => undefined);
}

async function* rowsOf(database: Database, id: number): AsyncGenerator<Row> {
  for (let after = -1; ;) {
    const lines = await changeLines(database, id, after, BATCH);
    yield* lines.map(rowOf);
    if (lines.length < BATCH) return;
    after = lines.at(-1)!.seq;
  }
}
