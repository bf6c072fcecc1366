import type { ChosenPolicy } from '@early-set/core/fields/merge';
import { Choice } from '../controls.tsx';

const POLICIES = [
  ['fill gaps', 'keep it'],
  ['replace', 'write over it'],
] as const;

/** What becomes of a value that is there. */
export const Over = ({ value, onChange }: { value: ChosenPolicy; onChange: (over: ChosenPolicy) => void }) => (
  <Choice label="Where there is a value" value={value} choices={POLICIES} onChange={onChange} />
);
