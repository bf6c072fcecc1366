/** A field written by a template (Liquid), instead of what it holds, before it or behind it. */
import { findField } from '../fields/table.ts';
import { isEmpty, type FieldValue, type TrackValues } from '../fields/values.ts';
import { templates, unhurried } from '../templates/liquid.ts';
import { escaped } from './removal.ts';

export interface ComposeOptions {
  into: string;
  template: string;
  place: 'instead' | 'before' | 'behind';
}

const liquid = templates({ milliseconds: 500, memory: 1_000_000 });
/** Between what a field holds and what is put before or behind it. */
const BETWEEN = ' · ';
/** Stands for a value whose text is not known. */
const ANYTHING = '\ue000';
/** Of so many fields in a template, each may have been empty when it was last used. */
const MAX_FIELDS = 5;
/** Letters that a template has to bring along itself, so that its text is known again. */
const MIN_LETTERS = 3;

function spokenOf(id: string, value: FieldValue | undefined): string | number | boolean | null {
  if (isEmpty(value)) return null;
  if (Array.isArray(value)) return value.join(', ');
  const decimals = findField(id)?.limits.decimals;
  return typeof value === 'number' && decimals !== undefined ? Number(value.toFixed(decimals)) : value!;
}

/**
 * Makes a template ready. @returns what the field would hold for a track's values @throws Error when the template
 * cannot be read
 */
export function composer({ into, template, place }: ComposeOptions): (values: TrackValues) => string {
  const parsed = liquid.parse(template);
  const render = (values: Record<string, unknown>): string =>
    String(unhurried(() => liquid.renderSync(parsed, values)))
      .replace(/\s+/g, ' ')
      .trim();
  const spoken = (values: TrackValues): Record<string, unknown> =>
    Object.fromEntries(Object.entries(values).map(([id, v]) => [id, spokenOf(id, v)]));
  if (place === 'instead') return (values) => render(spoken(values));
  const before = earlier(template, render);
  const pattern = before.length
    ? new RegExp(
        place === 'before' ? `^(?:${before.join('|')})(?=${BETWEEN}|$)` : `(?<=${BETWEEN}|^)(?:${before.join('|')})$`,
        'u',
      )
    : null;
  return (values) => {
    const text = render(spoken(values)),
      held = values[into],
      there = isEmpty(held) ? '' : String(held);
    const rest = (pattern ? there.replace(pattern, '') : there).replace(place === 'before' ? /^ · / : / · $/, '');
    return (place === 'before' ? [text, rest] : [rest, text]).filter(Boolean).join(BETWEEN);
  };
}

/**
 * Patterns of what the template may have left when it was used before, the fullest first, so that it is replaced and
 * not put beside it.
 */
function earlier(template: string, render: (values: Record<string, unknown>) => string): string[] {
  const fields = [...new Set(template.match(/[a-zA-Z]+/g) ?? [])].filter((word) => findField(word));
  const shapes = new Set<string>();
  for (let set = 0; set < 2 ** Math.min(fields.length, MAX_FIELDS); set++) {
    try {
      shapes.add(
        render(Object.fromEntries(fields.map((f, i) => [f, i < MAX_FIELDS && (set >> i) & 1 ? null : ANYTHING]))),
      );
    } catch {
      return []; // a filter that wants a number, for example
    }
  }
  return [...shapes]
    .filter((s) => (s.match(/\p{L}/gu) ?? []).length >= MIN_LETTERS)
    .sort((a, b) => b.length - a.length)
    .map((s) => escaped(s).replaceAll(ANYTHING, `(?:(?!${BETWEEN}).){1,80}?`));
}
