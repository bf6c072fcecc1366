/** Files in a list, each with why. */
import { Link } from 'react-router';
import { Dialog } from '../../../ui/Dialog.tsx';

interface Props {
  title: string;
  note: string;
  lines: readonly { key: string; name: string; why?: string; link?: { to: string; words: string } }[] | null;
  /** Below the lines: what can be done with all of them. */
  all?: { to: string; words: string } | null;
  onClose: () => void;
}

export const TellDialog = ({ title, note, lines, all = null, onClose }: Props) => (
  <Dialog open={lines !== null} onClose={onClose} title={title} note={note} wide>
    {lines !== null && lines.length > 0 && (
      <ul aria-label={title} tabIndex={0} className="max-h-[360px] w-full overflow-y-auto border border-line">
        {lines.map(({ key, name, why, link }) => (
          <li key={key} className="flex gap-3 border-b border-hair px-2 py-1 text-small">
            <span className="min-w-0 flex-1 break-words">{name}</span>
            {why && <span className="max-w-[50%] text-dim">{why}</span>}
            {link && (
              <Link to={link.to} className="shrink-0 font-semibold text-buoy-text hover:underline">
                {link.words}
              </Link>
            )}
          </li>
        ))}
      </ul>
    )}
    {all && (
      <p className="mt-3 flex justify-end">
        <Link to={all.to} className="border border-line bg-sheet px-2.5 py-1 font-semibold hover:border-ink">
          {all.words}
        </Link>
      </p>
    )}
  </Dialog>
);
