import type { ReactNode } from 'react';

/** What to do where there is nothing yet. */
export function Empty({
  title,
  children,
  main = false,
}: {
  title: string;
  children?: ReactNode;
  /** It is what the page is about. */ main?: boolean;
}) {
  const Title = main ? 'h1' : 'h2';
  return (
    <div className="flex h-full flex-col items-center justify-center gap-2.5 p-8 text-center">
      <svg width="64" height="34" viewBox="0 0 64 34" aria-hidden="true">
        <path d="M20 18a12 12 0 0 1 24 0Z" className="fill-tide" />
        <path d="M4 24h56M12 31h40" className="stroke-tide-deep" strokeWidth="2.5" fill="none" />
      </svg>
      <Title className="heading text-[16px]">{title}</Title>
      <div className="max-w-[46ch] text-dim">{children}</div>
    </div>
  );
}

/** A sentence about something that failed, with a way on. */
export function Trouble({ error, children }: { error: Error; children?: ReactNode }) {
  return (
    <div role="alert" className="m-4 border-l-[3px] border-flare bg-paper px-3 py-2">
      <p className="font-semibold">{error.message}</p>
      {children}
    </div>
  );
}
