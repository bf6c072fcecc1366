/** A draft of the Disk stage, at the foot of the panel on the right. */
import { Button } from '../../ui/Button.tsx';

interface Props {
  label: string;
  title: string;
  note: string;
  disabled?: boolean;
  onDiscard: () => void;
  onApply: () => void;
}

export const DraftCard = ({ label, title, note, disabled = false, onDiscard, onApply }: Props) => (
  <>
    <span className="flex-1" />
    <section aria-label={label} className="sticky -bottom-3.5 border border-ink bg-chosen p-3">
      <p className="font-semibold">{title}</p>
      <p className="mt-1 text-small text-dim">{note}</p>
      <div className="mt-2.5 flex justify-end gap-2">
        <Button onClick={onDiscard}>Discard</Button>
        <Button kind="main" disabled={disabled} onClick={onApply}>
          Apply
        </Button>
      </div>
    </section>
  </>
);
