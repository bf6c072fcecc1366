/** How sections look: names of the theme's own colours. */
export const SECTION_FILL: Record<string, string> = {
  intro: 'bg-hair',
  build: 'bg-tide/60',
  main: 'bg-tide-deep/70',
  breakdown: 'bg-hair',
  outro: 'bg-hair',
};
