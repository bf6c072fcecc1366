/**
 * Completeness: how much is filled per field, folder, album and list; each figure opens just those tracks.
 */
import { ArrowLeft } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import useSWR from 'swr';
import type { Completeness, CompletenessGroup, CompletenessWish } from '@early-set/core/api/types';
import { allOf, type Condition } from '@early-set/core/conditions/condition';
import { lacksOne, RULE_CHOICES } from '@early-set/core/conditions/needs';
import { fieldOf } from '@early-set/core/fields/table';
import { perform, several } from '../../data/actions.ts';
import { askFile, post } from '../../data/api.ts';
import { useServerEvents } from '../../data/events.ts';
import { useSettings } from '../../data/hooks.ts';
import { useHanded } from '../../data/handed.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Trouble } from '../../ui/Empty.tsx';
import { ReadGrid, type ReadColumn } from '../../ui/grid/ReadGrid.tsx';
import { Segmented } from '../../ui/Segmented.tsx';
import { saveBlob } from '../../ui/saveFile.ts';
import { Gauge, percent } from './Gauge.tsx';
import { RulesDialog } from './RulesDialog.tsx';
import { ScopePicker } from '../clean/ScopePicker.tsx';
import { FIRST_SCOPE, SCOPE, scopeSelection, type Scope } from '../clean/scope.ts';
import { sheetAddress } from '../tracks/filters/filters.ts';

type By = CompletenessWish['by'];
const BYS: [By, string][] = [
  ['folder', 'Folders'],
  ['album', 'Albums'],
  ['list', 'Crates and playlists'],
];

export function CompletenessView() {
  const [scope, setScope] = useHanded<Scope>(SCOPE, FIRST_SCOPE);
  const { data: settings } = useSettings();
  const selection = scopeSelection(scope, settings?.gapRules);
  const [by, setBy] = useRemembered<By>('completeness-by', 'folder');
  const [changing, setChanging] = useState(false);
  const navigate = useNavigate();
  const key = JSON.stringify(selection);
  const { data, error, mutate } = useSWR<Completeness, Error>(
    ['completeness', key, by],
    () => post<Completeness>('/completeness', { selection, by }),
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  useServerEvents(['tracks', 'settings', 'lists'], () => void mutate(), 1000);
  // Within what is chosen by a condition, figures can be opened; chosen ids cannot be said in an address.
  const within: Condition | null = 'where' in selection ? selection.where : null;
  const export_ = (format: 'csv' | 'xlsx'): void =>
    void perform(
      askFile('/completeness/export', { selection, format }).then((file) => saveBlob(`tracks.${format}`, file)),
    );
  if (error) return <Trouble error={error} />;
  const fields = [...new Set(data ? [...data.rules.floor, ...data.rules.playout] : [])];
  const rest = RULE_CHOICES.filter((f) => !fields.includes(f));
  return (
    <div className="flex h-full flex-col bg-sheet">
      <header className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-2 border-b border-line bg-paper px-3.5 py-2">
        <Button kind="quiet" aria-label="Back to the steps" onClick={() => void navigate('/clean')}>
          <ArrowLeft size={15} />
        </Button>
        <h1 className="heading text-[17px]">Completeness</h1>
        <ScopePicker scope={scope} onChange={setScope} />
        <span className="text-small text-dim">{data && several(data.all.tracks, 'track')}</span>
        <span className="flex-1" />
        <Button onClick={() => setChanging(true)} disabled={!settings}>
          Required fields…
        </Button>
        <Button onClick={() => export_('csv')}>CSV</Button>
        <Button onClick={() => export_('xlsx')}>Spreadsheet</Button>
      </header>
      {data && (
        <div className="min-h-0 flex-1 overflow-auto px-4 py-4">
          <div className="mb-5 grid max-w-[760px] grid-cols-2 gap-3">
            <Gauge
              name="Ready for the floor"
              ready={data.all.floor}
              all={data.all.tracks}
              to={within && sheetAddress('Not ready: floor', allOf(within, lacksOne(data.rules.floor)))}
            />
            <Gauge
              name="Ready for playout"
              ready={data.all.playout}
              all={data.all.tracks}
              to={within && sheetAddress('Not ready: playout', allOf(within, lacksOne(data.rules.playout)))}
            />
          </div>
          <section aria-label="Per field" className="mb-6 columns-2 gap-8 narrow:columns-1 xl:columns-3">
            {[...fields, ...rest].map((id) => (
              <FieldBar key={id} id={id} asked={fields.includes(id)} group={data.all} within={within} />
            ))}
          </section>
          <Segmented label="Groups" value={by} choices={BYS} onChoose={setBy} className="mb-2" />
          <Groups data={data} fields={fields} within={within} />
        </div>
      )}
      {settings && (
        <RulesDialog
          key={JSON.stringify(settings.gapRules)}
          open={changing}
          onClose={() => setChanging(false)}
          rules={settings.gapRules}
        />
      )}
    </div>
  );
}

const lacking = (id: string): string => `No ${fieldOf(id).label.toLowerCase()}`;

function FieldBar({
  id,
  asked,
  group,
  within,
}: {
  id: string;
  asked: boolean;
  group: CompletenessGroup;
  within: Condition | null;
}) {
  const filled = group.filled[id] ?? 0,
    left = group.tracks - filled;
  const figures = <>{left === 0 ? 'all' : left.toLocaleString('en-GB')}</>;
  return (
    <div className="flex break-inside-avoid items-center gap-2 py-[3px]">
      <span
        className={`w-[120px] shrink-0 truncate text-small ${asked ? 'font-semibold' : 'text-dim'}`}
        title={fieldOf(id).label}
      >
        {fieldOf(id).label}
      </span>
      <span role="img" aria-label={`${percent(filled, group.tracks)} % filled`} className="h-[10px] flex-1 bg-hair">
        <span
          className={`block h-full ${left === 0 ? 'bg-kelp' : asked ? 'bg-energy' : 'bg-tide-deep'}`}
          style={{ width: `${group.tracks ? (100 * filled) / group.tracks : 0}%` }}
        />
      </span>
      <span className="figures w-[64px] shrink-0 text-right text-small">
        {left > 0 && within ? (
          <Link
            to={sheetAddress(lacking(id), allOf(within, lacksOne([id])))}
            title={`${several(left, 'track')} without`}
            className={asked ? 'text-flare underline' : 'text-dim underline'}
          >
            {figures}
          </Link>
        ) : (
          <span className="text-dim">{figures}</span>
        )}
      </span>
    </div>
  );
}

function Groups({ data, fields, within }: { data: Completeness; fields: readonly string[]; within: Condition | null }) {
  const navigate = useNavigate();
  if (data.groups.length === 0) return <p className="py-3 text-dim">There are none of these among the tracks.</p>;
  const cellLink = (g: CompletenessGroup, id: string) =>
    g.condition && within
      ? sheetAddress(`${lacking(id)}: ${g.name}`, allOf(within, g.condition, lacksOne([id])))
      : null;
  const addressOf = (g: CompletenessGroup): string | null => {
    if (g.listId) return `/arrange/${g.listId}`;
    return g.condition && within ? sheetAddress(g.name, allOf(within, g.condition)) : null;
  };
  const share = (id: 'floor' | 'playout', label: string): ReadColumn<CompletenessGroup> => ({
    id,
    label,
    width: 76,
    figures: true,
    value: (g) => percent(g[id], g.tracks),
  });
  const columns: ReadColumn<CompletenessGroup>[] = [
    {
      id: 'where',
      pinned: true,
      label: 'Where',
      width: 220,
      grow: 1,
      className: 'font-medium',
      value: (g) => g.name,
      cell: (g) => <GroupName group={g} to={addressOf(g)} />,
    },
    { id: 'tracks', label: 'Tracks', width: 72, figures: true, descendsFirst: true, value: (g) => g.tracks },
    share('floor', 'Floor'),
    share('playout', 'Playout'),
    ...fields.map((id): ReadColumn<CompletenessGroup> => ({
      id,
      label: fieldOf(id).label,
      width: 84,
      figures: true,
      value: (g) => percent(g.filled[id] ?? 0, g.tracks),
      cell: (g) => <Share filled={g.filled[id] ?? 0} of={g.tracks} to={cellLink(g, id)} />,
    })),
  ];
  return (
    <>
      <div className="border border-line">
        <ReadGrid
          id="completeness-groups"
          label="Completeness by group"
          rows={data.groups}
          columns={columns}
          idOf={(g) => `${g.name} ${g.listId ?? ''}`}
          tallest={460}
          onOpen={(g) => {
            const to = addressOf(g);
            if (to) void navigate(to);
          }}
        />
      </div>
      <p className="mt-1 text-tiny text-dim">Per cent filled. A figure opens the tracks that lack it.</p>
    </>
  );
}

function GroupName({ group: { name }, to }: { group: CompletenessGroup; to: string | null }) {
  return to ? (
    <Link to={to} title={name} className="hover:text-buoy-text hover:underline">
      {name}
    </Link>
  ) : (
    <span title={name}>{name}</span>
  );
}

/** How much of a group has a field; opens the tracks that lack it. */
function Share({ filled, of, to }: { filled: number; of: number; to: string | null }) {
  if (filled === of) return <span className="text-dim">{percent(filled, of)}</span>;
  const tone = filled === 0 ? 'bg-flare/15' : 'bg-sodium/15';
  return (
    <span className={`rounded-xs px-1.5 py-0.5 ${tone}`}>
      {to ? (
        <Link to={to} className="underline">
          {percent(filled, of)}
        </Link>
      ) : (
        percent(filled, of)
      )}
    </span>
  );
}
