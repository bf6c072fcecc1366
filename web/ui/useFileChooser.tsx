/** A file chosen from the disk by a button of one's own. */
import { useRef, type ReactNode } from 'react';

/** @param label for assistive technology; @param accept as the attribute of the same name */
export function useFileChooser(
  label: string,
  accept: string,
  onChosen: (file: File) => void,
): { choose: () => void; input: ReactNode } {
  const box = useRef<HTMLInputElement>(null);
  const input = (
    <input
      ref={box}
      type="file"
      accept={accept}
      aria-label={label}
      className="hidden"
      onChange={(e) => {
        const chosen = e.target.files?.[0];
        e.target.value = ''; // so that the same can be chosen again
        if (chosen) onChosen(chosen);
      }}
    />
  );
  return { choose: () => box.current?.click(), input };
}
