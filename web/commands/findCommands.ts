/** Which actions are meant by what is typed. */
import { fold, searchWords } from '@early-set/core/fields/fold';
import type { Command } from './commands.ts';

/**
 * Actions whose name holds every word that is typed; those first in whose name they begin words, in the order typed,
 * and of those the shortest.
 */
export function findCommands(commands: readonly Command[], typed: string): readonly Command[] {
  const words = searchWords(typed);
  if (words.length === 0) return commands;
  const rank = (name: string): number => {
    if (name.startsWith(words.join(' '))) return 0;
    let at = 0;
    for (const word of words) {
      const found = name.indexOf(` ${word}`, Math.max(0, at - 1));
      if (found < 0 && !(at === 0 && name.startsWith(word))) return 2;
      at = Math.max(0, found) + word.length;
    }
    return 1;
  };
  return commands
    .map((command) => ({ command, name: fold(command.label) }))
    .filter(({ name }) => words.every((word) => name.includes(word)))
    .map(({ command, name }) => ({ command, rank: rank(name), length: name.length }))
    .sort((a, b) => a.rank - b.rank || a.length - b.length)
    .map(({ command }) => command);
}
