/** What there is to look at on the Disk stage, and the folders that are taken in. */
import { NavLink } from 'react-router';
import { isOpen } from '@early-set/core/duplicates/groups';
import { bytes } from '../../ui/format.ts';
import { several } from '../../data/actions.ts';
import {
  useDuplicates,
  useNotFound,
  useOthers,
  useOutOfPlace,
  useQuarantine,
  useRoots,
  useSpace,
} from '../../data/hooks.ts';

export function LookAt() {
  const { data: roots } = useRoots();
  const { data: notFound } = useNotFound();
  const { data: duplicates } = useDuplicates();
  const { data: places } = useOutOfPlace();
  const { data: others } = useOthers();
  const { data: quarantine } = useQuarantine();
  // The sum is the same in every tree; this one is small.
  const { data: space } = useSpace('use');
  const groups = duplicates?.groups.filter(isOpen).length;
  const away = notFound?.away ?? [];
  const there = roots?.filter((r) => !away.some((a) => a.rootId === r.id)) ?? [];
  return (
    <aside aria-label="What to look at" className="flex h-full flex-col gap-5 overflow-y-auto bg-fog p-3.5">
      <section>
        <h2 className="mb-1 text-small font-semibold text-dim">What to look at</h2>
        <ul>
          <Item to="/disk" label="Missing files" count={notFound?.lines.length} />
          <Item to="/disk/places" label="Out of place" count={places?.elsewhere} />
          <Item
            to="/disk/duplicates"
            label="Duplicates"
            count={groups === undefined ? undefined : several(groups, 'group')}
          />
          <Item to="/disk/others" label="Not music" count={others?.lines.length} />
          <Item to="/disk/quarantine" label="Quarantine" count={quarantine?.files.length} />
          <Item to="/disk/space" label="Space" count={space && bytes(space.top.bytes)} />
        </ul>
      </section>
      <section>
        <h2 className="mb-1 text-small font-semibold text-dim">Folders</h2>
        <ul>
          {away.map((a) => (
            <li key={a.rootId} className="border-b border-line px-1.5 py-1.5" title={a.path}>
              <p className="font-semibold">{a.root}</p>
              <p className="text-small text-flare">its drive is not there since {a.since.slice(0, 10)}</p>
            </li>
          ))}
          {there.map((r) => (
            <li key={r.id} className="border-b border-line px-1.5 py-1.5" title={r.path}>
              <p className="flex gap-2 font-semibold">
                <span className="min-w-0 flex-1 truncate">{r.label}</span>
                <span className="figures font-normal text-dim">{several(r.tracks, 'track')}</span>
              </p>
              <p className="truncate text-small text-dim">{r.path}</p>
            </li>
          ))}
        </ul>
      </section>
    </aside>
  );
}

const Item = ({ to, label, count }: { to: string; label: string; count: number | string | undefined }) => (
  <li>
    <NavLink
      to={to}
      end
      className={({ isActive }) =>
        `flex items-center px-1.5 py-1 font-semibold ${isActive ? 'bg-inverse text-inverse-ink' : 'hover:bg-hair'}`
      }
    >
      <span className="flex-1">{label}</span>
      <span className="figures font-normal">{count?.toLocaleString('en-GB')}</span>
    </NavLink>
  </li>
);
