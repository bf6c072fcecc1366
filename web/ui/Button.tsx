import type { ButtonHTMLAttributes } from 'react';

type Kind = 'plain' | 'main' | 'quiet' | 'link';

const LOOKS: Record<Kind, string> = {
  plain: 'border border-line bg-paper text-ink font-semibold hover:border-tide-deep px-2.5 py-1',
  main: 'border border-main-fill bg-main-fill text-main-ink font-semibold hover:brightness-95 px-3 py-1',
  quiet: 'border border-transparent text-dim hover:text-ink hover:bg-hair px-1.5 py-1',
  link: 'border-0 text-buoy-text font-semibold hover:underline p-0',
};

const EVERY =
  'inline-flex min-h-[26px] items-center justify-center gap-1.5 rounded-xs text-[12.5px] whitespace-nowrap ' +
  'disabled:cursor-default disabled:opacity-50';

/** A button in one of four looks; square corners, at least 26 px high. */
export function Button({
  kind = 'plain',
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: Kind }) {
  return <button type="button" {...rest} className={`${EVERY} ${LOOKS[kind]} ${className}`} />;
}
