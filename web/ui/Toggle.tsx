/** Something that is on or off, at once. */
import { Switch } from 'radix-ui';

interface Props {
  label: string;
  on: boolean;
  onChange: (on: boolean) => void;
}

export const Toggle = ({ label, on, onChange }: Props) => (
  <Switch.Root
    checked={on}
    onCheckedChange={onChange}
    aria-label={label}
    className="h-[16px] w-[28px] shrink-0 rounded-full bg-tide-deep p-[2px] data-[state=checked]:bg-kelp"
  >
    <Switch.Thumb className="block size-[12px] rounded-full bg-sheet transition-transform data-[state=checked]:translate-x-[12px]" />
  </Switch.Root>
);
