/** Lines that `early-set measure --jsonl --tags` prints, read as tracks. */
import { readFileSync } from 'node:fs';
import { parseKey } from '@early-set/core/fields/keys';
import { FIELDS, type Field } from '@early-set/core/fields/table';
import type { FieldValue, TrackValues } from '@early-set/core/fields/values';

/** A track, or why a line is none; lines are counted from 0. */
export type MeasuredLine = { index: number } & ({ file: string; values: TrackValues } | { reason: string });

/** Reads a file, or standard input where it is called "-". @throws Error when it cannot be read */
export function readMeasured(file: string): MeasuredLine[] {
  return readFileSync(file === '-' ? 0 : file, 'utf8')
    .replace(/^\uFEFF/, '')
    .split(/\r?\n/)
    .filter((l) => l.trim())
    .map((text, index) => ({ index, ...trackOf(text, index) }));
}

/** A value of a line as its field takes it; null for what is no such value. */
function valueOf({ type, id }: Field, said: unknown): FieldValue {
  switch (type) {
    case 'number':
    case 'integer':
    case 'seconds':
      return typeof said === 'number' && Number.isFinite(said) ? said : null;
    case 'flag':
      return typeof said === 'boolean' ? said : null;
    case 'texts':
      return typeof said === 'string' ? [said] : Array.isArray(said) ? said.map(String) : null;
    case 'key':
      return typeof said === 'string' ? parseKey(said) : null;
    default:
      return typeof said === 'string' || (id === 'rating' && typeof said === 'number') ? said : null;
  }
}

function trackOf(text: string, index: number): { file: string; values: TrackValues } | { reason: string } {
  let line: Record<string, unknown>;
  try {
    line = JSON.parse(text) as Record<string, unknown>;
  } catch {
    return { reason: 'this is not JSON' };
  }
  if (line === null || typeof line !== 'object' || Array.isArray(line)) return { reason: 'this is not a track' };
  if (line.ok === false) return { reason: String(line.error ?? 'it could not be measured') };
  const tags = (typeof line.tags === 'object' && line.tags !== null ? line.tags : {}) as Record<string, unknown>;
  const file = String(line.file ?? `line ${index}`);
  return {
    file,
    values: {
      path: file,
      ...Object.fromEntries(FIELDS.map((f) => [f.id, valueOf(f, line[f.id] ?? tags[f.id])])),
      // What is measured counts before what a tag says; a file that was measured is there.
      fileState: 'here',
      // Of no field yet: when a track may be played (docs/formats/clock.md).
      ...Object.fromEntries(ALSO.flatMap((id) => (line[id] === undefined ? [] : [[id, line[id] as FieldValue]]))),
    },
  };
}
const ALSO = ['playFrom', 'playTo', 'dayparts', 'explicit'];
