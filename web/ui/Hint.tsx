import { Tooltip } from 'radix-ui';
import type { ReactNode } from 'react';

/** A short explanation on hover or focus. */
export function Hint({ text, children }: { text: ReactNode; children: ReactNode }) {
  return (
    <Tooltip.Root delayDuration={350}>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={5}
          collisionPadding={8}
          className="z-50 max-w-[280px] rounded-xs bg-inverse px-2 py-1.5 text-[12px] text-inverse-ink"
        >
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
