/** When the library was last backed up, and what is wrong with that. */
import { Link } from 'react-router';
import type { BackupsHere } from '@early-set/core/api/backups';
import { useBackups } from '../../data/hooks.ts';
import { dayAndTime } from '../../ui/format.ts';

export function LastBackup() {
  const { data: here } = useBackups();
  if (!here) return null;
  const { words, tone } = stateOf(here);
  return (
    <section aria-label="Last backup" className="mb-5">
      <h2 className="heading mb-1 text-[16px]">Last backup</h2>
      <p className="text-small">
        <Link to="/backups" className={`underline decoration-line underline-offset-2 hover:text-buoy-text ${tone}`}>
          {words}
        </Link>
      </p>
    </section>
  );
}

function stateOf({ trouble, backups, nextAt }: BackupsHere): { words: string; tone: string } {
  const [last] = backups;
  if (trouble) return { words: trouble, tone: 'text-flare' };
  if (!last) return { words: nextAt ? `None yet; the first one: ${dayAndTime(nextAt)}` : 'None', tone: 'text-dim' };
  const at = dayAndTime(last.madeAt);
  if (last.trouble) return { words: `${at}, cannot be restored`, tone: 'text-flare' };
  return { words: last.verifiedAt ? `${at}, verified` : `${at}, not verified yet`, tone: '' };
}
