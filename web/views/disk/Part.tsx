/** One part of what is listed, with its number: a press shows only that. */
interface Props {
  label: string;
  count: number;
  /** Said below the label. */
  note?: string | null;
  on: boolean;
  onPress: () => void;
}

export const Part = ({ label, count, note = null, on, onPress }: Props) => (
  <li>
    <button
      type="button"
      aria-pressed={on}
      onClick={onPress}
      className="flex w-full gap-2 border-b border-line px-1.5 py-1.5 text-left hover:bg-hair aria-pressed:bg-inverse aria-pressed:text-inverse-ink"
    >
      <span className="min-w-0 flex-1">
        <span className="block font-semibold break-words">{label}</span>
        {note !== null && <span className="figures block text-small opacity-80">{note}</span>}
      </span>
      <span className="figures">{count.toLocaleString('en-GB')}</span>
    </button>
  </li>
);
