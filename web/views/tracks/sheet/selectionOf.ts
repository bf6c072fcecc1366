import type { Selection } from '@early-set/core/api/types';
import type { Condition } from '@early-set/core/conditions/condition';
import type { Chosen } from '../../../ui/grid/choice.ts';

/** What is chosen, as the server takes it. @param where what the sheet shows */
export const toSelection = (c: Chosen, where: Condition): Selection =>
  c.all ? { where, except: [...c.ids] } : { ids: [...c.ids] };
