import { pino } from 'pino';

/** Structured log lines on standard error; the level comes from EARLY_SET_LOG. */
export const log = pino(
  {
    level: process.env.EARLY_SET_LOG ?? 'warn',
    base: null,
    serializers: {
      err: (error: Error) => ({
        name: error.name,
        message: error.message,
        stack: error.stack
          ?.split('\n')
          .slice(1, 8)
          .map((line) => line.trim()),
      }),
    },
  },
  pino.destination(2),
);

/** A promise that nobody waited for ends in a line of the log, not in the end of the process. */
export function keepGoing(): void {
  process.on('unhandledRejection', (error) => log.error(error as Error, 'something was left unhandled'));
}
