/** What is told of a stick in dialogs: tracks that cannot go, files that go off it, what verifying has found. */
import type { StickAnswer, StickLine, StickVerified } from '@early-set/core/api/stick';
import type { Condition } from '@early-set/core/conditions/condition';
import { several } from '../../../data/actions.ts';
import { sheetAddress } from '../../tracks/filters/filters.ts';
import type { TellDialog } from './TellDialog.tsx';

export type Told = 'refused' | 'removed' | 'failed' | { reason: string };
type Telling = Omit<React.ComponentProps<typeof TellDialog>, 'onClose'>;

const NOTHING: Telling = { title: '', note: '', lines: null };

type Refused = StickAnswer['refused'][number];
const byId = ({ playoutId }: Refused): Condition => ({
  field: 'playoutId',
  test: 'between',
  ...(playoutId === null ? { high: -1 } : { low: playoutId, high: playoutId }),
});

/** Where what a track lacks is mended. */
function mendingOf(refused: Refused): { to: string; words: string } | null {
  if (!refused.mend || refused.playoutId === null) return null;
  return refused.mend === 'Sound'
    ? { to: `/tracks/${refused.trackId}/sound`, words: 'Open its sound' }
    : { to: sheetAddress(refused.name, byId(refused)), words: 'Show in Tracks' };
}

export function toldOf(stick: StickLine, answer: StickAnswer | undefined, told: Told | null): Telling {
  const refused = answer?.refused ?? [];
  if (told !== null && typeof told === 'object') {
    const these = refused.filter((r) => r.reason === told.reason);
    const named = these.filter((r) => r.playoutId !== null);
    return {
      title: `${stick.playerName} would refuse ${several(these.length, 'track')}`,
      note: `${told.reason}. Once that is mended it goes there with the next writing.`,
      lines: these.map((r) => {
        const link = mendingOf(r);
        return { key: String(r.trackId), name: r.name, ...(link ? { link } : {}) };
      }),
      all:
        named.length > 1
          ? { to: sheetAddress(told.reason, { any: named.map(byId) }), words: 'Show all in Tracks' }
          : null,
    };
  }
  switch (told) {
    case 'refused':
      return {
        title: `Tracks that cannot go to ${stick.name}`,
        note: 'All others go there.',
        lines: refused.map((r) => ({ key: String(r.trackId), name: r.name, why: r.reason })),
      };
    case 'removed':
      return {
        title: `Files that will be removed from ${stick.name}`,
        note: 'They were written from here and are no longer wanted. Undo writes them again.',
        lines: (answer?.removed ?? []).map((path) => ({ key: path, name: path })),
      };
    case 'failed':
      return {
        title: 'Files that could not be written',
        note: 'All others are there.',
        lines: (stick.report?.failed ?? []).map((f) => ({ key: f.path, name: f.path, why: f.reason })),
      };
    default:
      return NOTHING;
  }
}

export function verifiedText(stick: StickLine, verified: StickVerified | null): Telling {
  if (!verified) return NOTHING;
  const from = verified.readBack === 'medium' ? 'from the drive itself' : 'not surely from the drive itself';
  const { wrong, checked } = verified;
  const fine = stick.isPlayout ? '' : ' Safe to remove.';
  return {
    title:
      wrong.length === 0 ? `${stick.name} holds what was written` : `${several(wrong.length, 'file')} not as written`,
    note:
      `${several(checked, 'file')} read back, ${from}.` + (wrong.length > 0 ? ' Writing again puts them right.' : fine),
    lines: wrong.map((f) => ({ key: f.path, name: f.path, why: f.reason })),
  };
}
