/** Steps in words. */
import { fieldOf } from '../fields/table.ts';

import { stepKind, type Step } from './steps.ts';

/** A step in words, with what sets it apart from others of its kind. */
export function stepTitle(step: Step): string {
  const of = (id: string): string => fieldOf(id).label.toLowerCase();
  const all = step.fields.map(of).join(' and ');
  switch (step.kind) {
    case 'remove':
      return `Remove the ${of(step.options.what)} from ${all || 'nothing'}`;
    case 'characters':
      return (
        [
          step.options.underscores && 'Turn _ into a space',
          step.options.square !== 'keep' && 'remove [\u00a0]',
          step.options.round !== 'keep' && 'remove (\u00a0)',
        ]
          .filter(Boolean)
          .join('; ') || 'Tidy characters'
      );
    case 'capitals':
      return `Capitals: ${step.options.known ? 'names as known, else ' : ''}${{ title: 'Title Case', sentence: 'sentence', upper: 'UPPER', lower: 'lower' }[step.options.mode]}`;
    case 'replace':
      return step.options.find ? `Replace “${step.options.find}” by “${step.options.with}”` : 'Find and replace';
    case 'fields': {
      const { action, from, to } = step.options;
      return action === 'clear'
        ? `Clear the ${all || 'nothing'}`
        : action === 'swap'
          ? `Swap ${of(from)} and ${of(to)}`
          : `${action === 'copy' ? 'Copy' : 'Move'} ${of(from)} to ${of(to)}`;
    }
    case 'compose':
      return `Write the ${of(step.options.into)} by a template`;
    case 'numbers':
      return step.options.action === 'totals'
        ? 'Fill totals'
        : step.options.action === 'year'
          ? `Take the year out of the ${all}`
          : step.options.action === 'pad'
            ? `Pad numbers in the ${all}`
            : `Numbers without leading zeros in the ${all}`;
    default:
      return stepKind(step.kind).label;
  }
}
