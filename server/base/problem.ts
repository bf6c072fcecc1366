/** Something a person can act on: a code, a sentence, never a stack. */
export class Problem extends Error {
  readonly status: number;
  readonly code: string;
  constructor(status: number, code: string, sentence: string) {
    super(sentence);
    this.status = status;
    this.code = code;
  }
}

/** What was asked for is not there. */
export const notFound = (what: string): Problem => new Problem(404, 'not-found', `${what} is not there (any more)`);
