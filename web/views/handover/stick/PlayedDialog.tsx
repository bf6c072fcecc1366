/** What came of reading what was on air. */
import type { PlayedRead } from '@early-set/core/api/stick';
import { several } from '../../../data/actions.ts';
import { TellDialog } from './TellDialog.tsx';

interface Props {
  read: PlayedRead | null;
  onClose: () => void;
}

export function PlayedDialog({ read, onClose }: Props) {
  const { days = [], unmatched = [], failed = [] } = read ?? {};
  const sum = (of: 'read' | 'known' | 'matched'): number => days.reduce((n, day) => n + day[of], 0);
  const other = sum('read') - sum('matched');
  const note = [
    sum('read') > 0 && `${several(sum('matched'), 'track')} counted as played`,
    sum('known') > 0 && `${sum('known').toLocaleString('en-GB')} known from before`,
    other > 0 && `${other.toLocaleString('en-GB')} not in the library`,
  ];
  return (
    <TellDialog
      title={
        sum('read') > 0
          ? `${several(sum('read'), 'line')} of ${several(days.length, 'day')} read`
          : 'Nothing new was played'
      }
      note={`${note.filter(Boolean).join(', ') || 'No day could be read'}.${sum('read') > 0 ? ' Can be undone, a day at a time.' : ''}`}
      lines={
        read && [
          ...failed.map((f) => ({ key: f.day, name: f.day, why: f.reason })),
          ...unmatched.map((name) => ({ key: `- ${name}`, name, why: 'is not in the library' })),
        ]
      }
      all={{ to: '/arrange/airplay', words: 'Open Airplay' }}
      onClose={onClose}
    />
  );
}
