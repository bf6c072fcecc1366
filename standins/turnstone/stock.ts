/** What is offered to Turnstone, what it refuses of that, what it has, and what it plays. */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  appendFileSync,
  copyFileSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { readWave, type Wave } from './wave.ts';

export type Row = Record<string, string>;
export interface Item {
  file: string;
  row: Row;
  wave: Wave;
  hash: string;
}
export interface Offered {
  items: Item[];
  /** As sentences, each with the file it is about. */
  refused: string[];
}

const COLUMNS = [
  ...['path', 'id', 'title', 'artist', 'album', 'category', 'daypart', 'valid from', 'valid to', 'language'],
  ...['explicit', 'hash'],
];
const MARKS = ['AUDs', 'INTe', 'SEGs', 'AUDe'] as const;
const TARGET = { lufs: -23, within: 0.2, dbtp: -1 };

/** Cells as RFC 4180 has them. */
export function readCsv(text: string): string[][] {
  const rows: string[][] = [];
  let row: string[] = [],
    cell = '',
    quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!;
    if (quoted && c === '"' && text[i + 1] === '"') {
      cell += '"';
      i++;
    } else if (c === '"') quoted = !quoted;
    else if (!quoted && (c === ',' || c === '\n')) {
      row.push(cell.replace(/\r$/, ''));
      cell = '';
      if (c === '\n') {
        rows.push(row);
        row = [];
      }
    } else cell += c;
  }
  if (quoted) throw new Error('a cell has no end');
  if (cell !== '' || row.length > 0) rows.push([...row, cell]);
  return rows;
}
const cellOf = (text: string): string => (/[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
const lineOf = (cells: readonly string[]): string => `${cells.map(cellOf).join(',')}\n`;

function rowsIn(path: string): Row[] {
  if (!existsSync(path)) return [];
  const [columns = [], ...lines] = readCsv(readFileSync(path, 'utf8').replace(/^\uFEFF/, ''));
  return lines.map((cells) => Object.fromEntries(columns.map((c, i) => [c.toLowerCase(), cells[i] ?? ''])));
}
export const inStock = (data: string): Row[] => rowsIn(join(data, 'stock/catalogue.csv'));

/** Everything in the drop folder, and what is wrong with it. */
export function offered(data: string): Offered {
  const drop = join(data, 'drop'),
    refused: string[] = [];
  let rows: Row[] = [];
  try {
    rows = rowsIn(join(drop, 'catalogue.csv'));
  } catch (error) {
    refused.push(`catalogue.csv: ${(error as Error).message}`);
  }
  const byPath = new Map(rows.map((r) => [r.path, r]));
  const known = new Map(inStock(data).map((r) => [r.id, r]));
  const items: Item[] = [];
  const ids = new Map<string, string>();
  const names = existsSync(drop) ? readdirSync(drop).filter((n) => !n.startsWith('.') && /\.wav$/i.test(n)) : [];
  for (const file of names.sort()) {
    const row = byPath.get(file),
      wave = readWave(join(drop, file));
    const wrong =
      row === undefined ? ['is not in the catalogue'] : typeof wave === 'string' ? [wave] : wrongWith(wave, row);
    if (typeof wave !== 'string' && row !== undefined && wrong.length === 0) {
      const other = ids.get(row.id!) ?? (known.get(row.id!)?.path !== file ? known.get(row.id!)?.path : undefined);
      if (other !== undefined) wrong.push(`has the ID of ${other}`);
      ids.set(row.id!, file);
      if (wrong.length === 0) wrong.push(...wrongWithLevel(join(drop, file), wave));
    }
    for (const why of wrong) refused.push(`${file}: it ${why}`);
    if (wrong.length === 0) items.push({ file, row: row!, wave: wave as Wave, hash: hashOf(join(drop, file)) });
  }
  for (const { path } of rows)
    if (!names.includes(path!)) refused.push(`${path}: it is in the catalogue, and not there`);
  return { items, refused };
}
const hashOf = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');

const DAY = /^(?:\d{4}-\d\d-\d\d)?$/;
function wrongWith({ coding, bits, hertz, channels, samples, cart, bext }: Wave, row: Row): string[] {
  const wrong: string[] = [];
  if (coding !== 1 || (bits !== 16 && bits !== 24)) wrong.push('is no PCM of 16 or 24 bits');
  if (hertz !== 48_000) wrong.push(`has ${hertz} Hz`);
  if (channels !== 1 && channels !== 2) wrong.push(`has ${channels} channels`);
  if (!cart) return [...wrong, 'has no cart chunk'];
  if (!bext) wrong.push('has no bext chunk');
  if (!cart.title || !row.title) wrong.push('has no title');
  if (!cart.artist || !row.artist) wrong.push('has no artist');
  if (!/^\d{6}$/.test(cart.id)) wrong.push(`has no ID of six digits: “${cart.id}”`);
  else if (cart.id !== row.id) wrong.push(`has the ID ${cart.id}, and in the catalogue ${row.id}`);
  const places = MARKS.map((use) => cart.timers[use]);
  if (places.some((p) => p === undefined))
    wrong.push(`lacks a mark: ${MARKS.filter((u) => !(u in cart.timers)).join(', ')}`);
  else if (places.some((p, i) => p! > samples || (i > 0 && p! < places[i - 1]!)))
    wrong.push(`has marks that are not in order: ${places.join(', ')} of ${samples}`);
  for (const column of ['valid from', 'valid to'])
    if (!DAY.test(row[column] ?? '')) wrong.push(`is ${column} no day: “${row[column]}”`);
  if (!['', 'yes', 'no'].includes(row.explicit ?? '')) wrong.push(`is explicit “${row.explicit}”`);
  return wrong;
}

/** As ffmpeg's meter says (EBU R 128), and as its bext chunk does. */
function wrongWithLevel(path: string, { bext }: Wave): string[] {
  const args = ['-hide_banner', '-nostats', '-i', path, '-af', 'ebur128=peak=true', '-f', 'null', '-'];
  const { stderr, status } = spawnSync('ffmpeg', args, { encoding: 'utf8', maxBuffer: 1 << 26 });
  const summary = stderr.slice(stderr.lastIndexOf('Summary:'));
  const lufs = Number(/I:\s+(-?[\d.]+) LUFS/.exec(summary)?.[1]);
  const dbtp = Number(/Peak:\s+(-?[\d.]+) dBFS/.exec(summary)?.[1]);
  if (status !== 0 || !Number.isFinite(lufs)) return ['cannot be measured'];
  const wrong: string[] = [];
  if (Math.abs(lufs - TARGET.lufs) > TARGET.within) wrong.push(`has ${lufs} LUFS`);
  if (dbtp > TARGET.dbtp) wrong.push(`has a true peak of ${dbtp} dBTP`);
  if (Math.abs(bext!.lufs - lufs) > TARGET.within) wrong.push(`says ${bext!.lufs} LUFS and has ${lufs}`);
  return wrong;
}

/** Takes what is not refused; what it has with the same bytes and words is passed over. */
export function take(data: string): { taken: string[]; refused: string[] } {
  const { items, refused } = offered(data);
  const stock = new Map(inStock(data).map((r) => [r.id!, r]));
  const taken: string[] = [];
  mkdirSync(join(data, 'stock'), { recursive: true });
  for (const { file, row, hash } of items) {
    const own = { ...row, hash };
    const before = stock.get(row.id!);
    if (before && COLUMNS.every((c) => (before[c] ?? '') === ((own as Row)[c] ?? ''))) continue;
    copyFileSync(join(data, 'drop', file), join(data, 'stock', `${row.id}.wav`));
    stock.set(row.id!, own);
    taken.push(row.id!);
  }
  const text = [COLUMNS, ...[...stock.values()].map((r) => COLUMNS.map((c) => r[c] ?? ''))].map(lineOf).join('');
  writeFileSync(join(data, 'stock/.catalogue.csv'), text);
  renameSync(join(data, 'stock/.catalogue.csv'), join(data, 'stock/catalogue.csv'));
  return { taken, refused };
}

/** Plays a log: each item from its segue on the next, none outside its dates. */
export function play(data: string, name: string): { played: number; refused: string[] } {
  const refused: string[] = [];
  const stock = new Map(inStock(data).map((r) => [r.id!, r]));
  const lines: [day: string, line: string][] = [];
  for (const { time = '', id = '' } of rowsIn(join(data, 'logs', name))) {
    const row = stock.get(id),
      day = time.slice(0, 10);
    if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d/.test(time)) refused.push(`${name}: “${time}” is no time`);
    else if (!row) refused.push(`${name}: there is no item ${id}`);
    else if ((row['valid from'] && day < row['valid from']) || (row['valid to'] && day > row['valid to']))
      refused.push(`${name}: ${id} may not be played on ${day}`);
    else {
      const wave = readWave(join(data, 'stock', `${id}.wav`)) as Wave;
      const { AUDs = 0, SEGs = wave.samples } = wave.cart!.timers;
      const seconds = ((SEGs - AUDs) / wave.hertz).toFixed(1);
      lines.push([day, lineOf([time, row.title!, row.artist!, seconds, id])]);
    }
  }
  mkdirSync(join(data, 'played'), { recursive: true });
  for (const [day, line] of lines) {
    const file = join(data, 'played', `${day}.csv`);
    if (!existsSync(file)) writeFileSync(file, 'time,title,artist,seconds,playout ID\n');
    appendFileSync(file, line);
  }
  return { played: lines.length, refused };
}
