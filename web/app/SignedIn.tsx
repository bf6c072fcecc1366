/** Who has signed in from elsewhere; any of them can be signed out. Nothing where only this computer reaches it. */
import type { SessionLine } from '@early-set/core/api/access';
import { perform } from '../data/actions.ts';
import { post, remove } from '../data/api.ts';
import { useAccess } from '../data/hooks.ts';
import { Button } from '../ui/Button.tsx';
import { dayAndTime } from '../ui/format.ts';

/** What a browser says it is, in few words. */
export function browserName(browser: string): string {
  const known = ['Firefox', 'Edg', 'OPR', 'Chrome', 'Safari'].find((name) => browser.includes(`${name}/`));
  const on = ['Android', 'iPhone', 'iPad', 'Windows', 'Mac OS', 'Linux'].find((name) => browser.includes(name));
  const name = known === 'Edg' ? 'Edge' : known === 'OPR' ? 'Opera' : known;
  return [name ?? 'A browser', on && `on ${on}`].filter(Boolean).join(' ');
}

export function SignedIn() {
  const { data, mutate } = useAccess();
  if (!data?.listening) return null;
  const end = async ({ id, current }: SessionLine): Promise<void> => {
    if (current) {
      await perform(post('/sign-out'), 'Signed out');
      location.assign('/');
    } else if (await perform(remove(`/access/${id}`), 'Signed out')) void mutate();
  };
  return (
    <div>
      <p className="mb-1 font-semibold">Signed in</p>
      <ul aria-label="Signed in" className="border-t border-hair">
        {data.sessions.map((session) => (
          <li key={session.id} className="flex items-baseline gap-3 border-b border-hair py-1 text-small">
            <span className="min-w-0 flex-1 truncate" title={session.browser}>
              {browserName(session.browser)}
              {session.current && <span className="text-kelp"> (this one)</span>}
            </span>
            <span className="figures text-dim">{session.address}</span>
            <span className="figures text-dim">{dayAndTime(session.seen)}</span>
            <Button
              kind="link"
              aria-label={
                session.current ? 'Sign out here' : `Sign out ${browserName(session.browser)}, ${session.address}`
              }
              onClick={() => void end(session)}
            >
              Sign out
            </Button>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-small text-dim">
        A new passphrase, set on the computer where Early Set runs, signs everybody out.
      </p>
    </div>
  );
}
