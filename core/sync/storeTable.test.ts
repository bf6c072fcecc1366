/** docs/formats/destinations.md says what the descriptions say; EARLY_SET_TABLES=1 writes it anew. */
import { expect, test } from '@jest/globals';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PROGRAMS } from '../exchange/programs.ts';
import { storeTable } from './storeTable.ts';

const FILE = join(process.cwd(), 'docs/formats/destinations.md');
const MARK = '<!-- from the descriptions -->\n';

/** One table for all: what it is, and how each stores it. */
function tables(): string {
  const programs = Object.values(PROGRAMS).map((format) => format.describe);
  const rows = programs.map((about) => new Map(storeTable(about)));
  const line = (cells: readonly string[]): string => `|${cells.map((c) => (c ? ` ${c} ` : ' ')).join('|')}|\n`;
  return [
    line(['', ...programs.map((p) => p.name)]),
    line(['', ...programs].map(() => '---')),
    ...[...rows[0]!.keys()].map((what) => line([what, ...rows.map((r) => r.get(what)!)])),
  ].join('');
}

test('the table in the docs is that of the descriptions', () => {
  const text = readFileSync(FILE, 'utf8');
  const [before] = text.split(MARK);
  const wanted = `${before}${MARK}\n${tables()}`;
  if (process.env.EARLY_SET_TABLES === '1') writeFileSync(FILE, wanted);
  else expect(text.replace(/ +\|/g, ' |').replace(/-{3,}/g, '---')).toBe(wanted);
});
