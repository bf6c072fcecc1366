/** Answers that are kept until something changes: equal questions that come meanwhile are worked out once. */
export interface Remembered<T> {
  /** What is known, or being worked out. */
  of(question: string, work: () => Promise<T>): Promise<T>;
  /** What is known already. */
  known(question: string): T | null;
  /** Something has changed. */
  forget(): void;
}

/** @param max with more questions than this, all are forgotten */
export function createRemembered<T>(max: number): Remembered<T> {
  const answers = new Map<string, { coming: Promise<T>; there: T | null }>();
  return {
    of(question, work) {
      const before = answers.get(question);
      if (before) return before.coming;
      if (answers.size >= max) answers.clear();
      const answer: { coming: Promise<T>; there: T | null } = { coming: work(), there: null };
      answers.set(question, answer);
      answer.coming.then(
        (there) => (answer.there = there),
        () => {
          if (answers.get(question) === answer) answers.delete(question);
        },
      );
      return answer.coming;
    },
    known: (question) => answers.get(question)?.there ?? null,
    forget: () => answers.clear(),
  };
}
