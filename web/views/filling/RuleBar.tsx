/** Below the head of a self-filling crate: what it asks for, and what can be done about that. */
import { useState } from 'react';
import { Link } from 'react-router';
import type { Applied, ListContents } from '@early-set/core/api/types';
import { readRule } from '@early-set/core/conditions/rule';
import { ruleWords } from '@early-set/core/conditions/words';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useCommands } from '../../commands/commands.ts';
import { Button } from '../../ui/Button.tsx';
import { addressFor } from '../tracks/filters/filtersFrom.ts';
import { useKnown } from './useKnown.ts';
import { RuleDialog, type RuleAsk } from './RuleDialog.tsx';

export function RuleBar({ list }: { list: ListContents }) {
  const known = useKnown();
  const [ask, setAsk] = useState<RuleAsk | null>(null);
  const rule = readRule(list.info.rule ?? '') ?? { where: { any: [] } };
  const { name } = list.info;
  const edit = (): void => setAsk({ listId: list.id, name, rule });
  const freeze = (): void => void change(post<Applied>(`/lists/${list.id}/freeze`));
  useCommands([
    { id: 'edit-conditions', label: `Edit the conditions of ${name}`, group: 'Arrange', run: edit },
    { id: 'freeze', label: `Freeze ${name} into a plain crate`, group: 'Arrange', run: freeze },
  ]);
  const words = ruleWords(rule, known);
  // With a limit there is no filter that says the same.
  const address = addressFor(rule.limit ? { inLists: [list.id] } : rule.where, known);
  const more = list.total - list.entries.length;
  return (
    <div className="flex shrink-0 items-center gap-3 border-b border-line bg-paper px-3.5 py-1.5 text-small">
      <p className="line-clamp-2 min-w-0 flex-1" title={words} data-testid="rule-words">
        <span className="text-dim">Fills itself: </span>
        {words}
        {more > 0 && <span className="text-dim"> · {more.toLocaleString('en-GB')} more, shown in Tracks</span>}
      </p>
      <Button kind="link" onClick={edit}>
        Edit conditions
      </Button>
      <Link className="text-[13px] font-semibold whitespace-nowrap text-buoy-text hover:underline" to={address}>
        Open in Tracks
      </Link>
      <Button kind="link" onClick={freeze} title="Makes it a plain crate with what it holds now">
        Freeze
      </Button>
      <RuleDialog ask={ask} onClose={() => setAsk(null)} />
    </div>
  );
}
