/** Said where names are to come from naming rules, and none is on. */
import { Link } from 'react-router';
import type { PutNames } from '@early-set/core/files/put';
import { useSettings } from '../../data/hooks.ts';

/** Are names asked for that no rule gives? */
export function useNoRule(names: PutNames): boolean {
  const { data: settings } = useSettings();
  return names === 'by rules' && settings?.naming.rules.every((r) => !r.on) !== false;
}

export const NoRule = () => (
  <p className="text-small text-sodium-text">
    No naming rule is on yet.{' '}
    <Link to="/disk/places" className="underline">
      Make one
    </Link>
  </p>
);
