/** The places of a track that are measured and can be moved, as the page shows them. */
export const EDGES = [
  { field: 'audibleStartSeconds', label: 'Audible start', flag: 'start', top: 214, colour: 'dim' },
  { field: 'introEndSeconds', label: 'Intro end', flag: 'intro ends', top: 196, colour: 'kelp' },
  { field: 'outroStartSeconds', label: 'Outro start', flag: 'outro', top: 196, colour: 'kelp' },
  { field: 'segueSeconds', label: 'Segue point', flag: 'segue', top: 178, colour: 'buoy' },
  { field: 'audibleEndSeconds', label: 'Audible end', flag: 'end', top: 214, colour: 'dim' },
] as const;
