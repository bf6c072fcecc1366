/** A condition as it is built by clicking: rows in groups, in groups. */
import { SEARCHED, type Condition } from '@early-set/core/conditions/condition';
import { ALL_KEYS } from '@early-set/core/fields/keys';
import { FIELDS, findField, type Field } from '@early-set/core/fields/table';

export const MODES = ['all', 'any', 'none'] as const;
export type Mode = (typeof MODES)[number];

export interface Group {
  mode: Mode;
  parts: Part[];
}
export interface Row {
  /** The test must not hold. */
  negated: boolean;
  leaf: Leaf;
}
export type Leaf = Exclude<Condition, { all: Condition[] } | { any: Condition[] } | { not: Condition }>;
export type Part = Group | Row;
export const isGroup = (part: Part): part is Group => 'parts' in part;

/** What rows can be about: a field, any text, a list, a folder. */
export const ANY_TEXT = 'any text',
  IN_LIST = 'list',
  IN_FOLDER = 'folder',
  ON_DATE = 'on date',
  OF_SCAN = 'scan';
export const SUBJECTS: readonly Field[] = FIELDS.filter((f) => f.type !== 'marks' && f.id !== 'folder');

/** What a test says, and what its opposite says. */
export const TESTS = {
  words: ['contains', 'does not contain'],
  'one of': ['is one of', 'is none of'],
  begins: ['begins with', 'does not begin with'],
  empty: ['is empty', 'is filled'],
  between: ['is from', 'is not from'],
  tempo: ['is from, half and double too', 'is not from, half and double too'],
  'near key': ['is near', 'is not near'],
  'in the last': ['is in the last', 'is not in the last'],
  is: ['is yes', 'is no'],
  'by hand': ['is typed by hand', 'is not typed by hand'],
  list: ['is', 'is not'],
  folder: ['is', 'is not'],
  date: ['is', 'is not'],
  scan: ['is', 'is not'],
  days: ['is from day to day', 'is not from day to day'],
} as const;
export type TestName = keyof typeof TESTS;

export function subjectOf(leaf: Leaf): string {
  if ('inLists' in leaf) return IN_LIST;
  if ('onDates' in leaf) return ON_DATE;
  if ('ofScan' in leaf) return OF_SCAN;
  if ('inFolder' in leaf) return IN_FOLDER;
  return leaf.field ?? ANY_TEXT;
}
export function testOf(leaf: Leaf): TestName {
  if ('inLists' in leaf) return 'list';
  if ('onDates' in leaf) return 'date';
  if ('ofScan' in leaf) return 'scan';
  return 'inFolder' in leaf ? 'folder' : leaf.test;
}

/** The tests that suit a subject; the first is where a new row begins. */
export function testsFor(subject: string): readonly TestName[] {
  const field = findField(subject);
  const tests = testsOfType(subject, field);
  return field?.editable && field.kind !== 'file' ? [...tests, 'by hand'] : tests;
}

function testsOfType(subject: string, field: Field | undefined): readonly TestName[] {
  if (subject === ANY_TEXT) return ['words'];
  if (subject === IN_LIST) return ['list'];
  if (subject === IN_FOLDER) return ['folder'];
  if (subject === ON_DATE) return ['date'];
  if (subject === OF_SCAN) return ['scan'];
  if (!field) return ['empty'];
  const contains: TestName[] = SEARCHED.some((f) => f.id === subject) ? ['words'] : [];
  switch (field.type) {
    case 'number':
    case 'integer':
    case 'seconds':
      return field.id === 'bpm' ? ['between', 'tempo', 'empty'] : ['between', 'empty'];
    case 'key':
      return ['near key', 'one of', 'empty'];
    case 'date':
      return ['in the last', 'days', 'empty'];
    case 'flag':
      return ['is'];
    case 'choice':
      return ['one of', 'empty'];
    case 'texts':
      return ['one of', ...contains, 'empty'];
    default:
      return [...contains, 'one of', 'begins', 'empty'];
  }
}

/** A row's test as it begins. */
export function leafOf(subject: string, test: TestName = testsFor(subject)[0]!): Leaf {
  switch (test) {
    case 'words':
      return subject === ANY_TEXT ? { test, text: '' } : { test, text: '', field: subject };
    case 'one of':
      return { field: subject, test, values: [] };
    case 'begins':
      return { field: subject, test, text: '' };
    case 'empty':
    case 'by hand':
      return { field: subject, test };
    case 'between':
      return { field: subject, test };
    case 'tempo':
      return { field: subject, test, low: 118, high: 126 };
    case 'near key':
      return { field: subject, test, key: ALL_KEYS.find((k) => k === 'A minor') ?? ALL_KEYS[0]!, reach: 1 };
    case 'in the last':
      return { field: subject, test, days: 30 };
    case 'is':
      return { field: subject, test, value: true };
    case 'list':
      return { inLists: [] };
    case 'date':
      return { onDates: [] };
    case 'scan':
      return { ofScan: 0, as: 'taken' };
    case 'days':
      return { field: subject, test };
    case 'folder':
      return { inFolder: { rootId: 0, path: '' }, below: true };
  }
}

export const newRow = (subject = 'genre'): Row => ({ negated: false, leaf: leafOf(subject) });

/** Has a row all that it needs? What has not is left out until it has. */
export function isWhole({ leaf }: Row): boolean {
  if ('inLists' in leaf) return leaf.inLists.length > 0;
  if ('onDates' in leaf) return leaf.onDates.length > 0;
  if ('ofScan' in leaf) return leaf.ofScan > 0;
  if ('inFolder' in leaf) return leaf.inFolder.rootId > 0;
  switch (leaf.test) {
    case 'words':
    case 'begins':
      return leaf.text.trim() !== '';
    case 'one of':
      return leaf.values.length > 0;
    case 'days':
      return leaf.from !== undefined || leaf.to !== undefined;
    case 'between':
      return leaf.low !== undefined || leaf.high !== undefined;
    default:
      return true;
  }
}

/** A condition taken apart into a group. */
export function toGroup(condition: Condition): Group {
  const part = toPart(condition);
  return isGroup(part) ? part : { mode: 'all', parts: [part] };
}

function toPart(condition: Condition): Part {
  if ('all' in condition) return { mode: 'all', parts: condition.all.map(toPart) };
  if ('any' in condition) return { mode: 'any', parts: condition.any.map(toPart) };
  if (!('not' in condition)) return { negated: false, leaf: condition };
  const inner = toPart(condition.not);
  if (!isGroup(inner)) return { ...inner, negated: !inner.negated };
  return inner.mode === 'any' ? { mode: 'none', parts: inner.parts } : { mode: 'none', parts: [inner] };
}

/** The condition that a part stands for; null while nothing in it is whole. */
export function toCondition(part: Part): Condition | null {
  if (!isGroup(part)) return isWhole(part) ? (part.negated ? { not: part.leaf } : part.leaf) : null;
  const parts = part.parts.flatMap((p) => toCondition(p) ?? []);
  if (parts.length === 0) return null;
  if (part.mode === 'none') return { not: { any: parts } };
  if (parts.length === 1) return parts[0]!;
  return part.mode === 'all' ? { all: parts } : { any: parts };
}
