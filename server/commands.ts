/** What the command line does besides measuring. */
import { join } from 'node:path';
import { DUPLICATES_HELP, duplicatesCommand, parseDuplicatesArguments } from './duplicatesCommand.ts';
import { LIST_HELP, listCommand, parseListArguments } from './listCommand.ts';
import { hourCommand, HOUR_HELP, parseHourArguments } from './hourCommand.ts';
import { nameCommand, NAME_HELP, parseNameArguments } from './nameCommand.ts';
import { orderCommand, ORDER_HELP, parseOrderArguments } from './orderCommand.ts';
import { parseRelinkArguments, relinkCommand, RELINK_HELP } from './relinkCommand.ts';
import { parseTagArguments, tagCommand, TAG_HELP } from './tagCommand.ts';

export { tagsOf } from './tagCommand.ts';

const say = (text: string): void => void process.stdout.write(text);
const complain = (text: string): void => void process.stderr.write(text);

/** Does what was asked, unless it was asked wrongly: then a sentence says so. */
const asked = <A extends object>(
  read: A | string,
  run: (asked: A) => number | Promise<number>,
): string | Promise<number> => (typeof read === 'string' ? read : Promise.resolve(run(read)));

/** What does more than measuring, by its name. */
export const COMMANDS: Record<string, { help: string; run: (args: string[]) => string | Promise<number> }> = {
  tag: {
    help: TAG_HELP,
    run: (args) =>
      asked(parseTagArguments(args), (a) => tagCommand(a, join(process.env.EARLY_SET_DATA ?? 'data', 'tag-undo'), say)),
  },
  order: { help: ORDER_HELP, run: (args) => asked(parseOrderArguments(args), (a) => orderCommand(a, say, complain)) },
  list: { help: LIST_HELP, run: (args) => asked(parseListArguments(args), (a) => listCommand(a, complain)) },
  hour: { help: HOUR_HELP, run: (args) => asked(parseHourArguments(args), (a) => hourCommand(a, complain, say)) },
  relink: {
    help: RELINK_HELP,
    run: (args) => asked(parseRelinkArguments(args), (a) => relinkCommand(a, say, complain)),
  },
  name: { help: NAME_HELP, run: (args) => asked(parseNameArguments(args), (a) => nameCommand(a, say, complain)) },
  duplicates: {
    help: DUPLICATES_HELP,
    run: (args) =>
      asked(parseDuplicatesArguments(args), (a) =>
        duplicatesCommand(a, new URL('./analysisThread.mjs', import.meta.url), say, complain),
      ),
  },
};
