/** What a library has to be for a bundle to be read into it: nothing that somebody made may be in the way. */
export const HOLDS = `SELECT EXISTS (SELECT 1 FROM tracks) OR EXISTS (SELECT 1 FROM lists)
  OR EXISTS (SELECT 1 FROM dates) OR EXISTS (SELECT 1 FROM change_sets) OR EXISTS (SELECT 1 FROM destinations)
  OR EXISTS (SELECT 1 FROM sticks) OR EXISTS (SELECT 1 FROM presets) AS holds`;

export const NOT_EMPTY = 'There are tracks, lists, destinations, presets or changes here already';
