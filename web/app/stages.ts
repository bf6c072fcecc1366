/** The stages in the order of work. */
export interface Stage {
  id: string;
  label: string;
  path: string;
  built: boolean;
  /** What stands beside the number. */ unit: string;
  /** The same beside a single one, where it differs. */ one?: string;
  /** For stages not built yet: what will be there. */ later?: string;
}

export const STAGES: readonly Stage[] = [
  { id: 'today', label: 'Today', path: '/today', built: true, unit: 'ahead' },
  { id: 'intake', label: 'Intake', path: '/intake', built: true, unit: 'not taken' },
  { id: 'tracks', label: 'Tracks', path: '/tracks', built: true, unit: 'in all' },
  { id: 'clean', label: 'Clean', path: '/clean', built: true, unit: 'with gaps' },
  { id: 'arrange', label: 'Arrange', path: '/arrange', built: true, unit: 'lists', one: 'list' },
  { id: 'disk', label: 'Disk', path: '/disk', built: true, unit: 'to look at' },
  {
    id: 'handover',
    label: 'Handover',
    path: '/handover',
    built: false,
    unit: 'not here yet',
    later:
      'Lists, cues and fields given to performance programs, the playout system and sticks, after a dry run that says what they can hold.',
  },
  { id: 'changes', label: 'Changes', path: '/changes', built: true, unit: 'this week' },
];
