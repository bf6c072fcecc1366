/** One item of a change in words: before and after, differences marked. */
import { wordsOf, type ChangeItem } from '@early-set/core/changes/items';
import { fieldOf } from '@early-set/core/fields/table';
import { Difference } from '../../ui/Difference.tsx';
import { textOf } from '../../ui/format.ts';

export function ItemWords({ item }: { item: ChangeItem }) {
  const words = wordsOf(item);
  switch (words.show) {
    case 'sentence':
      return <p className="text-small break-words text-dim">{words.text}</p>;
    case 'texts':
      return <Labelled label={`${words.label}: `} before={words.before} after={words.after} />;
    case 'field': {
      const { label } = fieldOf(words.field);
      if (words.lock)
        return (
          <p className="text-small break-words">
            <span className="text-dim">
              {label} {words.lock}
            </span>
          </p>
        );
      return (
        <Labelled
          label={`${label}: `}
          before={textOf(words.field, words.before)}
          after={textOf(words.field, words.after)}
        />
      );
    }
  }
}

function Labelled({ label, before, after }: { label: string; before: string; after: string }) {
  return (
    <p className="text-small break-words">
      <span className="text-dim">{label}</span>
      <BeforeAfter before={before} after={after} />
    </p>
  );
}

/** Texts that share something are shown as one line, others one after the other. */
function BeforeAfter({ before, after }: { before: string; after: string }) {
  if (!before || !after)
    return (
      <>
        <s className="text-flare decoration-1">{before || 'empty'}</s> →{' '}
        <span className="text-kelp">{after || 'empty'}</span>
      </>
    );
  return <Difference before={before} after={after} />;
}
