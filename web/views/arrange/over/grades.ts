import type { Grade } from '@early-set/core/arrange/transition';

/** What a grade is called, and the mark beside it. */
export const GRADES: Record<Grade, { label: string; mark: string }> = {
  good: { label: 'Good', mark: 'border-l-kelp' },
  fair: { label: 'Fair', mark: 'border-l-tide-deep' },
  uneven: { label: 'Uneven', mark: 'border-l-sodium' },
  hard: { label: 'Hard', mark: 'border-l-flare border-dotted' },
};
