/** The sheet as an order to play in, which holds as well when another page is shown. */
import type { SheetPage } from '@early-set/core/api/types';
import type { PlayOrder } from '../../../audition/player.ts';
import { get } from '../../../data/api.ts';
import type { Sheet } from './useSheet.ts';

/** @param query what the sheet shows, as the server is asked; @param at place of the track in hand */
export const playOrder = (query: string, sheet: Sheet, at: number | null): PlayOrder | null =>
  at === null
    ? null
    : {
        name: query,
        at,
        rowAt: async (index) =>
          sheet.row(index) ?? (await get<SheetPage>(`/tracks?${query}&offset=${index}&limit=1`)).rows[0],
      };
