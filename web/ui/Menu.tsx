import { ContextMenu, DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';

export interface MenuItem {
  label: string;
  keys?: string;
  run: () => void;
  disabled?: boolean;
  danger?: boolean;
  /** A line above this item. */ apart?: boolean;
}

const BOX = 'floating min-w-[190px] py-1 text-[12.5px]';
const ROW =
  'flex cursor-default items-center gap-6 px-3 py-1.5 outline-none data-[highlighted]:bg-chosen data-[disabled]:opacity-45';

const Line = ({ item }: { item: MenuItem }) => (
  <>
    <span className={`flex-1 ${item.danger ? 'text-flare' : ''}`}>{item.label}</span>
    {item.keys && <kbd className="figures text-tiny text-dim">{item.keys}</kbd>}
  </>
);

/** A menu that opens from a button. */
export function Menu({ items, children, label }: { items: MenuItem[]; children: ReactNode; label?: string }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild aria-label={label}>
        {children}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className={BOX}>
          {items.map((item) => (
            <div key={item.label}>
              {item.apart && <DropdownMenu.Separator className="my-1 h-px bg-hair" />}
              <DropdownMenu.Item disabled={item.disabled ?? false} onSelect={item.run} className={ROW}>
                <Line item={item} />
              </DropdownMenu.Item>
            </div>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** The same items on a right click. */
export function RightClick({ items, children }: { items: MenuItem[]; children: ReactNode }) {
  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className={BOX}>
          {items.map((item) => (
            <div key={item.label}>
              {item.apart && <ContextMenu.Separator className="my-1 h-px bg-hair" />}
              <ContextMenu.Item disabled={item.disabled ?? false} onSelect={item.run} className={ROW}>
                <Line item={item} />
              </ContextMenu.Item>
            </div>
          ))}
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}
