/** Rules of an hour: what must or should hold between tracks, across the hours before and after too. */
import type { Condition } from '../conditions/condition.ts';

/** A hard rule is never broken by filling; a wished one costs its weight each time. */
export interface Strength {
  hard: boolean;
  weight: number;
}

export const APART = ['artist', 'title', 'label', 'remixer'] as const;
export const IN_A_ROW = ['genre', 'decade', 'tempo', 'mood'] as const;

export type HourRule = Strength &
  (
    | { rule: 'apart'; what: (typeof APART)[number]; minutes: number }
    /** The track itself has not been on air for so many days. */
    | { rule: 'rested'; days: number }
    | { rule: 'in a row'; what: (typeof IN_A_ROW)[number]; most: number }
    /** So many tracks of the hour came into the library in the last days. */
    | { rule: 'new'; days: number; count: number }
    /** Share of an hour's tracks that meet a condition, 0 … 1. */
    | { rule: 'share'; name: string; from: Condition; least?: number; most?: number }
    /** What is spoken follows a track without vocals. */
    | { rule: 'instrumental before link' }
    /** The track after a link has as much intro as the link wants. */
    | { rule: 'intro for link' }
    /** What ends cold is not followed by what begins softly. */
    | { rule: 'cold end before soft start' }
    /** Loudness from one track to the next, in LU. */
    | { rule: 'loudness step'; most: number }
  );

const minutes = (n: number): string => (n % 60 === 0 && n >= 120 ? `${n / 60} hours` : `${n} min`);
const several = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;
const percent = (share: number): string => `${Math.round(share * 100)} %`;

/** A rule as people read it. */
export function ruleText(rule: HourRule): string {
  switch (rule.rule) {
    case 'apart':
      return `Same ${rule.what} not within ${minutes(rule.minutes)}`;
    case 'rested':
      return `Not on air for ${several(rule.days, 'day')}`;
    case 'in a row':
      return `At most ${rule.most} of a ${rule.what} in a row`;
    case 'new':
      return `${several(rule.count, 'track')} new in the last ${several(rule.days, 'day')}`;
    case 'share': {
      const bounds = [
        rule.least === undefined ? '' : `at least ${percent(rule.least)}`,
        rule.most === undefined ? '' : `at most ${percent(rule.most)}`,
      ].filter(Boolean);
      return `${bounds.join(', ')} ${rule.name}`;
    }
    case 'instrumental before link':
      return 'Instrumental before a link';
    case 'intro for link':
      return 'Intro long enough for the link';
    case 'cold end before soft start':
      return 'No cold end before a soft start';
    case 'loudness step':
      return `Loudness steps of at most ${rule.most} LU`;
  }
}
