import type { ReactNode } from 'react';

/** A part of the form under its heading. */
export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title}>
      <h2 className="heading mb-1.5 text-[16px]">{title}</h2>
      {children}
    </section>
  );
}
