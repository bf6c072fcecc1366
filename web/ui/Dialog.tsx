import { Dialog as Radix } from 'radix-ui';
import { X } from 'lucide-react';
import { useRef, type ReactNode } from 'react';

const SHEET =
  'fixed top-[9vh] left-1/2 z-50 flex max-h-[82vh] max-w-[94vw] -translate-x-1/2 flex-col rounded-sm border ' +
  'border-line bg-paper text-ink shadow-[0_8px_30px_rgba(11,23,28,.25)]';

/** A modal sheet with a title; Escape closes it. */
export function Dialog({
  open,
  onClose,
  title,
  note,
  children,
  wide = false,
  onClosed,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  note?: string;
  children: ReactNode;
  wide?: boolean;
  /** When it is gone, and the focus is where it was. */
  onClosed?: () => void;
}) {
  /** What had the focus when it opened. */
  const before = useRef<HTMLElement | null>(null);
  return (
    <Radix.Root
      open={open}
      onOpenChange={(next) => {
        if (!next) onClose();
      }}
    >
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-[#0b171c]/45" />
        <Radix.Content
          aria-describedby={undefined}
          onOpenAutoFocus={(e) => {
            before.current = document.activeElement instanceof HTMLElement ? document.activeElement : null;
            // Required fields comes first, not the way out.
            const first = (e.currentTarget as HTMLElement).querySelector<HTMLElement>('input, textarea');
            if (first) {
              e.preventDefault();
              first.focus();
            }
          }}
          onCloseAutoFocus={(e) => {
            // Left to itself, it would look for a button that opened it; there is none.
            e.preventDefault();
            if (before.current?.isConnected) before.current.focus({ preventScroll: true });
            if (onClosed) setTimeout(onClosed);
          }}
          className={`${SHEET} ${wide ? 'w-[760px]' : 'w-[480px]'}`}
        >
          <header className="flex items-start gap-3 px-4 pt-3.5 pb-2">
            <div className="min-w-0 flex-1">
              <Radix.Title className="heading text-[17px]">{title}</Radix.Title>
              {note && <p className="mt-0.5 text-small text-dim">{note}</p>}
            </div>
            <Radix.Close aria-label="Close" className="rounded-xs p-1 text-dim hover:bg-hair hover:text-ink">
              <X size={16} />
            </Radix.Close>
          </header>
          <div className="min-h-0 flex-1 overflow-auto px-4 pt-1 pb-4">{children}</div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
