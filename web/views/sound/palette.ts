/** How marks and sections look: names of the theme's own colours. */
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

export const SECTION_FILL: Record<string, string> = {
  intro: 'bg-hair',
  build: 'bg-tide/60',
  main: 'bg-tide-deep/70',
  breakdown: 'bg-hair',
  outro: 'bg-hair',
};
