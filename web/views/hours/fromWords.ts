import type { Condition } from '@early-set/core/conditions/condition';
import { conditionWords } from '@early-set/core/conditions/words';

/** From which tracks a place takes its own. */
export const fromWords = (from: Condition, nameOf: (listId: string) => string | undefined): string =>
  conditionWords(from, { list: nameOf, root: () => undefined, date: () => undefined });
