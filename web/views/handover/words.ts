/** Lines of a comparison in words. */
import type { ComparisonAnswer, DestinationLine, SyncStep } from '@early-set/core/api/handover';
import type { Line } from '@early-set/core/sync/compareTracks';
import { findField } from '@early-set/core/fields/table';
import type { FieldValue } from '@early-set/core/fields/values';
import { valueText } from '../../ui/format.ts';

const OTHERS: Readonly<Record<string, string>> = {
  file: 'File',
  cover: 'Cover',
  track: 'New track',
  list: 'List',
  name: 'Name',
  place: 'Lies in',
  order: 'Tracks in order',
};

export const fieldLabel = (field: string): string => OTHERS[field] ?? findField(field)?.label ?? field;

/** Is it a picture that is known here? */
export const isPicture = (value: FieldValue): value is string =>
  typeof value === 'string' && /^[0-9a-f]{40}$/.test(value);

/** A value as its side says it; a dash for nothing. */
export function sideText(field: string, value: FieldValue): string {
  if (field === 'cover' && value !== null) return isPicture(value) ? 'a picture' : String(value);
  const known = OTHERS[field] ? undefined : findField(field);
  const text = known ? valueText(known, value) : value === null ? '' : String(value);
  return text === '' ? '–' : text;
}

/** What both sides will say, or why nothing happens. */
export function willText(line: Line, destination: string): string {
  if (line.will === null) return line.reason ? `stays: ${line.reason}` : 'stays as it is';
  if (line.field === 'track') return `added to ${destination}`;
  if (line.field === 'list') return listText(line, destination);
  if (line.field === 'file') return line.reason ?? '';
  const text = sideText(line.field, line.will === 'both' ? line.joined : line[line.will]);
  return line.reason ? `${text}, ${line.reason}` : text;
}

function listText({ here, there, base, will, reason }: Line, destination: string): string {
  if (will === 'here' && here === null) return `removed from ${destination}`;
  if (will === 'there' && there === null) return 'removed here';
  const made = will === 'here' ? (base === null ? (reason ?? 'made') : 'made again') : 'made here';
  return will === 'there' && reason ? `${made}; ${reason}` : made;
}

/** What of a destination is said in its lines. */
export type Told = Pick<DestinationLine, 'name' | 'readOnly'>;

/** Where a line goes. */
export function goesText({ group, will }: Line, { name: destination, readOnly }: Told): string {
  if (will === 'both') return readOnly ? 'joined here' : 'both ways';
  if (will === 'here') return `to ${destination}`;
  if (will === 'there') return readOnly ? 'taken over' : `from ${destination}`;
  return group === 'clash' ? 'choose' : 'stays';
}

/** Both say the same and were never synced: worth writing down, so that the next look knows who changed what. */
export const onlyToRemember = (
  { syncedAt, readOnly }: Pick<DestinationLine, 'syncedAt' | 'readOnly'>,
  { made, counts }: Pick<ComparisonAnswer, 'made' | 'counts'>,
): boolean => !readOnly && made.lines === 0 && syncedAt === null && counts.tied > 0;

const count = (n: number): string => n.toLocaleString('en-GB');

/** How far it is. */
export function stepText({ what, done, total }: SyncStep): string {
  if (what === 'writing') return 'writing…';
  if (what === 'reading back') return 'reading back what was written…';
  if (what === 'writing covers') return `writing covers: ${count(done)} of ${count(total ?? done)}…`;
  const tracks = total === null ? `${count(done)} tracks` : `${count(done)} of ${count(total)} tracks`;
  return done === 0 ? `${what}…` : `${what} ${tracks}…`;
}

/** Is there something to apply? */
export const canApply = (
  destination: Pick<DestinationLine, 'syncedAt' | 'readOnly'>,
  comparison: Pick<ComparisonAnswer, 'made' | 'counts'>,
): boolean => comparison.made.lines > 0 || onlyToRemember(destination, comparison);
