/** A format clock to begin with: news, music, headlines at half past. */
import type { FormatClock } from '@early-set/core/hours/clock';
import { CLOCK_VERSION } from '@early-set/core/hours/readClock';

const clock: FormatClock & { version: number } = {
  version: CLOCK_VERSION,
  name: 'New format clock',
  seconds: 3600,
  items: [
    { item: 'spoken', name: 'News', seconds: 120, fixed: { at: 0, when: 'exact' } },
    { item: 'link', name: 'Link', seconds: 30, overIntro: 10 },
    { item: 'filler', name: 'Music', most: 8 },
    { item: 'spoken', name: 'Headlines', seconds: 60, fixed: { at: 1800, when: 'exact' } },
    { item: 'filler', name: 'Music', most: 8 },
  ],
  rules: [
    { rule: 'apart', what: 'artist', minutes: 60, hard: true, weight: 10 },
    { rule: 'rested', days: 1, hard: true, weight: 10 },
  ],
};
export const NEW_CLOCK = { clock, times: [] };
