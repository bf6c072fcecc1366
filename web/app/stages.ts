/** The stages in the order of work. */
export interface Stage {
  id: string;
  label: string;
  path: string;
  /** What stands beside the number. */ unit: string;
  /** The same beside a single one, where it differs. */ one?: string;
}

export const STAGES: readonly Stage[] = [
  { id: 'today', label: 'Today', path: '/today', unit: 'ahead' },
  { id: 'intake', label: 'Intake', path: '/intake', unit: 'not taken' },
  { id: 'tracks', label: 'Tracks', path: '/tracks', unit: 'in all' },
  { id: 'clean', label: 'Clean', path: '/clean', unit: 'with gaps' },
  { id: 'arrange', label: 'Arrange', path: '/arrange', unit: 'lists', one: 'list' },
  { id: 'disk', label: 'Disk', path: '/disk', unit: 'to look at' },
  { id: 'handover', label: 'Handover', path: '/handover', unit: 'behind' },
  { id: 'changes', label: 'Changes', path: '/changes', unit: 'this week' },
];
