/** One cell of a line of a comparison. */
import type { Choice } from '@early-set/core/sync/decide';
import type { Line } from '@early-set/core/sync/compareTracks';
import { Art } from '../../ui/Marks.tsx';
import { fieldLabel, goesText, isPicture, sideText, willText, type Told } from './words.ts';

interface Props {
  line: Line;
  column: string;
  destination: Told;
  /** What can be chosen is shown. */
  open: boolean;
  onChoose: (choice: Choice) => void;
}

const WORDS: Record<Choice, string> = { here: 'here', there: 'there', both: 'both', leave: 'leave' };
const GOES: Record<Line['group'], string> = {
  clash: 'text-buoy-text font-semibold',
  out: 'text-dim',
  in: 'text-dim',
  left: 'text-dim',
};

export function LineCell({ line, column, destination, open, onChoose }: Props) {
  const { field, will } = line;
  switch (column) {
    case 'name':
      return <span title={line.name}>{line.name}</span>;
    case 'field':
      return <span className="text-dim">{fieldLabel(field)}</span>;
    case 'here':
    case 'there': {
      const value = line[column];
      const text = sideText(field, value);
      const wins = will === column,
        loses = will !== null && will !== 'both' && will !== column && line[column] !== null;
      return (
        <span
          title={text}
          className={wins ? 'bg-kelp/15 font-semibold text-kelp' : loses ? 'text-flare line-through' : ''}
        >
          {field === 'cover' && isPicture(value) ? <Art hash={value} size={22} alt={text} /> : text}
        </span>
      );
    }
    case 'base':
      return <span className="text-dim">{sideText(field, line.base)}</span>;
    case 'goes':
      return <span className={will === null ? GOES[line.group] : 'text-dim'}>{goesText(line, destination)}</span>;
    default: {
      const text = willText(line, destination.name);
      return open && line.options.length > 1 ? (
        <span className="flex items-center gap-2">
          <span
            role="group"
            aria-label={`${line.name}, ${fieldLabel(field)}`}
            className="flex shrink-0 border border-line"
          >
            {line.options.map((choice) => {
              const on = choice === 'leave' ? will === null && line.group !== 'clash' : will === choice;
              return (
                <button
                  key={choice}
                  type="button"
                  tabIndex={-1}
                  aria-pressed={on}
                  onClick={(e) => {
                    e.stopPropagation();
                    onChoose(choice);
                  }}
                  className="border-r border-line px-1.5 py-px text-small last:border-0 aria-pressed:bg-inverse aria-pressed:text-inverse-ink"
                >
                  {WORDS[choice]}
                </button>
              );
            })}
          </span>
          <span className="truncate text-small text-dim" title={text}>
            {line.reason ?? ''}
          </span>
        </span>
      ) : (
        <span title={text} className={will === null ? 'text-dim' : ''}>
          {text}
        </span>
      );
    }
  }
}
