/** Which tracks a recipe works on: everything, what has gaps, a folder, a list, or what was chosen in the sheet. */
import type { ListContents, Selection } from '@early-set/core/api/types';
import { anyGap, USUAL_RULES, type GapRules } from '@early-set/core/conditions/needs';
import { EVERYTHING } from '@early-set/core/conditions/condition';

export type Scope =
  | { what: 'all' }
  | { what: 'gaps' }
  | { what: 'folder'; path: string }
  | { what: 'list'; id: string; name: string }
  | { what: 'chosen'; selection: Selection; label: string };

export const FIRST_SCOPE: Scope = { what: 'all' };
/** Under this name the sheet hands over what was chosen there. */
export const SCOPE = 'clean-scope';

export function scopeLabel(scope: Scope): string {
  switch (scope.what) {
    case 'all': return 'All tracks';
    case 'gaps': return 'Tracks with gaps';
    case 'folder': return scope.path.replace(/\/$/, '');
    case 'list': return scope.name;
    case 'chosen': return scope.label;
  }
}

/** The tracks as the server takes them; null while the list is on its way. */
export function scopeSelection(scope: Scope, list: ListContents | undefined, rules: GapRules = USUAL_RULES): Selection | null {
  switch (scope.what) {
    case 'all': return { where: EVERYTHING, except: [] };
    case 'gaps': return { where: anyGap(rules), except: [] };
    case 'folder': return { where: { field: 'path', test: 'begins', text: scope.path }, except: [] };
    case 'list': return list?.id === scope.id ? { ids: [...new Set(list.entries.map((e) => e.id))] } : null;
    case 'chosen': return scope.selection;
  }
}
