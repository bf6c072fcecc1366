/** Conditions as people read them. */
import { format, parseISO } from 'date-fns';
import { fieldOf, type Field } from '../fields/table.ts';
import { clockLength } from '../clock/clock.ts';
import type { Condition, ScanPart } from './condition.ts';
import type { Limit, Rule } from './rule.ts';

/** Names of what conditions know by number only. */
export interface Known {
  list: (id: string) => string | undefined;
  root: (id: number) => string | undefined;
  date: (id: number) => string | undefined;
}

/** What a scan did with a track. */
export const SCAN_WORDS: Record<ScanPart, string> = {
  taken: 'taken in',
  changed: 'found changed',
  returned: 'found again',
  missing: 'found missing',
};

const either = (values: readonly string[], last = 'or'): string =>
  values.length < 2 ? (values[0] ?? 'nothing') : `${values.slice(0, -1).join(', ')} ${last} ${values.at(-1)!}`;

const figure = (field: Field, n: number): string => (field.type === 'seconds' ? clockLength(n) : String(n));

function between(field: Field, low: number | undefined, high: number | undefined): string {
  if (low === undefined && high === undefined) return 'any';
  if (low === undefined) return `at most ${figure(field, high!)}`;
  if (high === undefined) return `at least ${figure(field, low)}`;
  return low === high ? figure(field, low) : `${figure(field, low)} to ${figure(field, high)}`;
}

const days = (n: number): string => (n === 0 ? 'today' : n === 1 ? 'since yesterday' : `in the last ${n} days`);
function daySpan({ from, to }: { from?: string; to?: string }): string {
  const [first, last] = [from, to].map((day) => day && format(parseISO(day), 'd MMM yyyy'));
  if (first === last && first) return `on ${first}`;
  return first && last ? `from ${first} to ${last}` : first ? `since ${first}` : last ? `until ${last}` : 'on any day';
}
const fifths = (n: number): string => (n === 0 ? 'as' : `at most ${n === 1 ? 'one fifth' : `${n} fifths`} from`);

/** A condition as a phrase, "BPM 118 to 126"; parts that are themselves joined stand in brackets. */
export function conditionWords(condition: Condition, known: Known): string {
  const part = (c: Condition): string => {
    const joined = ('all' in c && c.all.length > 1) || ('any' in c && c.any.length > 1);
    return joined ? `(${conditionWords(c, known)})` : conditionWords(c, known);
  };
  if ('all' in condition) return condition.all.length ? condition.all.map(part).join(' and ') : 'all tracks';
  if ('any' in condition) return condition.any.length ? condition.any.map(part).join(' or ') : 'no track';
  if ('not' in condition) {
    const { not } = condition;
    if ('test' in not && not.test === 'empty') return `${fieldOf(not.field).label} filled`;
    return `not ${part(not)}`;
  }
  if ('inLists' in condition) return `in ${either(condition.inLists.map((id) => known.list(id) ?? 'a removed list'))}`;
  if ('onDates' in condition)
    return `in the playlists of ${either(condition.onDates.map((id) => known.date(id) ?? 'a removed date'))}`;
  if ('ofScan' in condition) return `${SCAN_WORDS[condition.as]} by a scan`;
  if ('inFolder' in condition) {
    const { rootId, path } = condition.inFolder;
    const folder = [known.root(rootId) ?? 'a library folder', path].filter(Boolean).join(' / ');
    return `in ${folder}${condition.below ? ' and below' : ''}`;
  }
  if (condition.test === 'words')
    return `${condition.field === undefined ? 'any text' : fieldOf(condition.field).label} contains “${condition.text}”`;
  const field = fieldOf(condition.field);
  const { label } = field;
  switch (condition.test) {
    case 'between':
      return `${label} ${between(field, condition.low, condition.high)}`;
    case 'one of':
      return `${label} ${either(condition.values.map((v) => field.choices?.[v] ?? v))}`;
    case 'empty':
      return `${label} empty`;
    case 'begins':
      return `${label} begins with “${condition.text}”`;
    case 'is':
      return `${condition.value ? '' : 'not '}${label}`;
    case 'by hand':
      return `${label} typed by hand`;
    case 'in the last':
      return `${label} ${days(condition.days)}`;
    case 'days':
      return `${label} ${daySpan(condition)}`;
    case 'near key':
      return `${label} ${fifths(condition.reach)} ${condition.key}`;
    case 'tempo':
      return `tempo ${condition.low} to ${condition.high}, in half or double time too`;
  }
}

/** What a limit takes: "the first 50 by Added, last first". */
export const limitWords = (limit: Limit): string =>
  'seed' in limit
    ? `${limit.count} of them at random`
    : `the first ${limit.count} by ${fieldOf(limit.by).label}${limit.descending ? ', highest first' : ''}`;

export const ruleWords = ({ where, limit }: Rule, known: Known): string => {
  const words = conditionWords(where, known);
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}${limit ? `; ${limitWords(limit)}` : ''}`;
};
