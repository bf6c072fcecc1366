/** What is backed up: the library, or the music files. */
import { useNavigate } from 'react-router';
import { Segmented } from '../../ui/Segmented.tsx';

export function BackupTabs({ of }: { of: 'library' | 'music' }) {
  const navigate = useNavigate();
  return (
    <Segmented
      label="Backups of"
      value={of}
      choices={[
        ['library', 'Library'],
        ['music', 'Music files'],
      ]}
      onChoose={(next) => void navigate(next === 'music' ? '/backups/music' : '/backups')}
    />
  );
}
