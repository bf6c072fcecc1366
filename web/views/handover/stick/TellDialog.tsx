/** Files in a list, each with why. */
import { Dialog } from '../../../ui/Dialog.tsx';

interface Props {
  title: string;
  note: string;
  lines: readonly { key: string; name: string; why?: string }[] | null;
  onClose: () => void;
}

export const TellDialog = ({ title, note, lines, onClose }: Props) => (
  <Dialog open={lines !== null} onClose={onClose} title={title} note={note} wide>
    <ul
      aria-label={title}
      tabIndex={0}
      className="max-h-[360px] w-[640px] max-w-full overflow-y-auto border border-line"
    >
      {lines?.map(({ key, name, why }) => (
        <li key={key} className="flex gap-3 border-b border-hair px-2 py-1 text-small">
          <span className="min-w-0 flex-1 break-words">{name}</span>
          {why && <span className="max-w-[50%] text-dim">{why}</span>}
        </li>
      ))}
    </ul>
  </Dialog>
);
