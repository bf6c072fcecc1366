/** Colours that people choose for marks and lists: names of the theme's own. */
import type { MARK_COLOURS } from '@early-set/core/fields/marks';

const THEME: Record<(typeof MARK_COLOURS)[number], string> = {
  buoy: 'buoy',
  kelp: 'kelp',
  sodium: 'sodium',
  tide: 'tide-deep',
  flare: 'flare',
  slate: 'dim',
};

/** The theme's name of a mark's colour. */
export const markColour = (name: string | undefined): string => THEME[name as keyof typeof THEME] ?? 'buoy';

/** Names of colours for people. */
export const COLOUR_NAMES: Record<(typeof MARK_COLOURS)[number], string> = {
  buoy: 'orange',
  kelp: 'green',
  sodium: 'yellow',
  tide: 'blue',
  flare: 'red',
  slate: 'grey',
};
