/** What was written on a command line, read by Node's own parser, complaints as sentences. */
import { parseArgs, type ParseArgsConfig } from 'node:util';

type Options = NonNullable<ParseArgsConfig['options']>;

const parsed = <O extends Options>(args: string[], options: O) =>
  parseArgs({ args, options, allowPositionals: true, strict: true, tokens: true });

/**
 * Reads options and files; files whose names begin with a dash go behind `--`.
 * @returns a sentence when it makes no sense
 */
export function readArguments<O extends Options>(
  args: readonly string[],
  options: O,
): ReturnType<typeof parsed<O>> | string {
  try {
    return parsed([...args], options);
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    const option = /'(?:-\w, )?(-[^' ]*)/.exec(message)?.[1] ?? '';
    if (code === 'ERR_PARSE_ARGS_UNKNOWN_OPTION') return `There is no option ${option}`;
    if (code === 'ERR_PARSE_ARGS_INVALID_OPTION_VALUE')
      return options[option.slice(2)]?.type === 'boolean' ? `${option} takes no value` : `${option} takes a value`;
    throw error;
  }
}
