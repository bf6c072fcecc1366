/** Which tracks the steps work on: everything, what has gaps, a folder, a list, or what was chosen in the sheet. */
import type { Selection } from '@early-set/core/api/types';
import { anyGap, DEFAULT_RULES, type GapRules } from '@early-set/core/conditions/needs';
import type { FileRef } from '@early-set/core/files/fileRef';
import { EVERYTHING, type Condition } from '@early-set/core/conditions/condition';

export type Scope =
  | { what: 'all' }
  | { what: 'gaps' }
  | { what: 'folder'; ref: FileRef; label: string }
  | { what: 'list'; id: string; name: string }
  | { what: 'chosen'; selection: Selection; label: string };

export const FIRST_SCOPE: Scope = { what: 'all' };
/** Under this name the sheet hands over what was chosen there. */
export const SCOPE = 'clean-scope';

export function scopeLabel(scope: Scope): string {
  switch (scope.what) {
    case 'all':
      return 'All tracks';
    case 'gaps':
      return 'Tracks with gaps';
    case 'folder':
      return scope.label;
    case 'list':
      return scope.name;
    case 'chosen':
      return scope.label;
  }
}

/** The tracks as the server takes them. */
export function scopeSelection(scope: Scope, rules: GapRules = DEFAULT_RULES): Selection {
  return scope.what === 'chosen' ? scope.selection : { where: whereOf(scope, rules), except: [] };
}

function whereOf(scope: Exclude<Scope, { what: 'chosen' }>, rules: GapRules): Condition {
  switch (scope.what) {
    case 'all':
      return EVERYTHING;
    case 'gaps':
      return anyGap(rules);
    case 'folder':
      return { inFolder: scope.ref, below: true };
    case 'list':
      return { inLists: [scope.id] };
  }
}
