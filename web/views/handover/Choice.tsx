/** One of several, under its label. */
import { INPUT } from '../../ui/form/fields.tsx';

interface Props<T extends string> {
  label: string;
  value: T;
  choices: readonly (readonly [T, string])[];
  onChoose: (value: T) => void;
}

export const Choice = <T extends string>({ label, value, choices, onChoose }: Props<T>) => (
  <label className="mb-1 block">
    <span className="mb-0.5 block text-tiny text-dim">{label}</span>
    <select value={value} onChange={(e) => onChoose(e.target.value as T)} className={INPUT}>
      {choices.map(([id, words]) => (
        <option key={id} value={id}>
          {words}
        </option>
      ))}
    </select>
  </label>
);
