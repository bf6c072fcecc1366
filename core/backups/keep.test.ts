import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { BACKUP_REASONS, DEFAULT_KEEP, dueTimes, isDue, keptBackups, type DatedBackup } from './keep.ts';

const NOW = new Date(2026, 10, 30, 12);
const at = (year: number, month: number, day: number, hour = 4): Date => new Date(year, month - 1, day, hour);
const made = (madeAt: Date, more: Partial<DatedBackup> = {}): DatedBackup => ({
  ...{ id: madeAt.toISOString(), madeAt, reason: 'schedule', trouble: null },
  ...more,
});
const idsOf = (backups: DatedBackup[], rule = DEFAULT_KEEP): string[] => [...keptBackups(backups, rule, NOW).keys()];

describe('what stays', () => {
  test('of a year of daily backups seven days, four weeks and twelve months', () => {
    const all = Array.from({ length: 400 }, (_, i) => made(new Date(2026, 10, 30 - i, 4)));
    const kept = keptBackups(all, DEFAULT_KEEP, NOW);
    const count = (as: string): number => [...kept.values()].filter((k) => k.some((one) => one === as)).length;
    expect([count('day'), count('week'), count('month')]).toEqual([7, 4, 12]);
    // The newest is a day, a week and a month; the Sundays before it, and the ends of months.
    expect(kept.get(all[0]!.id)).toEqual(['newest', 'day', 'week', 'month']);
    expect(kept.get(at(2026, 11, 22).toISOString())).toEqual(['week']);
    expect(kept.get(at(2026, 10, 31).toISOString())).toEqual(['month']);
    expect(kept.size).toBeLessThanOrEqual(7 + 4 + 12);
  });

  test('the last one of a day', () => {
    const morning = made(at(2026, 11, 29, 4)),
      evening = made(at(2026, 11, 29, 22));
    expect(idsOf([morning, evening])).toEqual([evening.id]);
  });

  test('old ones while no newer ones take their place, however long that is', () => {
    const old = made(at(2024, 2, 3));
    expect(idsOf([old])).toEqual([old.id]);
  });

  test('one that cannot be restored takes no place, is shown a week, and then goes', () => {
    const good = made(at(2026, 11, 28)),
      bad = made(at(2026, 11, 29), { trouble: 'broken' }),
      longBad = made(at(2026, 11, 2), { trouble: 'broken' });
    expect(keptBackups([good, bad, longBad], { days: 1, weeks: 0, months: 0 }, NOW)).toEqual(
      new Map([
        [good.id, ['newest', 'day']],
        [bad.id, []],
      ]),
    );
  });

  test('what was made by hand until somebody removes it, and three before upgrades', () => {
    const byHand = made(at(2020, 1, 1), { reason: 'by hand' });
    const upgrades = [1, 2, 3, 4].map((day) => made(at(2021, 1, day), { reason: 'upgrade' }));
    const kept = idsOf([byHand, ...upgrades, made(NOW)], { days: 1, weeks: 0, months: 0 });
    expect(kept).toEqual(expect.arrayContaining([byHand.id, ...upgrades.slice(1).map((u) => u.id)]));
    expect(kept).not.toContain(upgrades[0]!.id);
  });

  test('never fewer than one, and asking again changes nothing', () => {
    const backup = fc.record({
      madeAt: fc.date({ min: at(2015, 1, 1), max: NOW, noInvalidDate: true }),
      reason: fc.constantFrom(...BACKUP_REASONS),
      trouble: fc.option(fc.constant('broken')),
    });
    const rule = fc.record({ days: fc.nat(9), weeks: fc.nat(9), months: fc.nat(20) });
    fc.assert(
      fc.property(fc.array(backup, { minLength: 1, maxLength: 60 }), rule, (drawn, chosen) => {
        const all = drawn.map((one, i) => ({ ...one, id: String(i) }));
        const kept = keptBackups(all, chosen, NOW);
        if (all.some(({ trouble }) => trouble === null)) expect(kept.size).toBeGreaterThan(0);
        const left = all.filter(({ id }) => kept.has(id));
        expect(keptBackups(left, chosen, NOW)).toEqual(kept);
      }),
    );
  });
});

describe('when one is due', () => {
  test('once a day, at its time', () => {
    expect(dueTimes(NOW, '04:00')).toEqual({ last: at(2026, 11, 30), next: at(2026, 12, 1) });
    expect(dueTimes(NOW, '23:30')).toEqual({
      last: new Date(2026, 10, 29, 23, 30),
      next: new Date(2026, 10, 30, 23, 30),
    });
  });
  test('also when the computer was off at that time', () => {
    expect(isDue(at(2026, 11, 28), NOW, '04:00')).toBe(true);
    expect(isDue(at(2026, 11, 30, 5), NOW, '04:00')).toBe(false);
    expect(isDue(at(2026, 11, 30, 5), NOW, '11:00')).toBe(true);
  });
});
