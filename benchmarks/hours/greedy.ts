/** The yardstick: each place takes the first track that keeps the hard rules, whatever the time. */
import { EVERYTHING, matches } from '@early-set/core/conditions/condition';
import { airLog, counted, type Airable, type Aired } from '@early-set/core/hours/airing';
import { stretches, type ClockItem, type FormatClock } from '@early-set/core/hours/clock';
import type { FilledHour, Landing } from '@early-set/core/hours/fill';
import { breaks, quotaOf, type HourItem, type Spot } from '@early-set/core/hours/judge';
import { seeded } from '@early-set/core/signal/random';

/** Length of a place for a track, in seconds, by which fillers are counted. */
const USUAL = 240;

export function greedyHours(
  hours: readonly number[],
  clock: FormatClock,
  tracks: readonly Airable[],
  seed = 1,
): FilledHour[] {
  const random = seeded(seed);
  const log = airLog();
  let before: Airable[] = [];
  return hours.map((hourAt) => {
    const shuffled = [...tracks].map((t) => [random(), t] as const).sort((a, b) => a[0] - b[0]);
    const items: HourItem[] = [],
      hour: Aired[] = [],
      landings: Landing[] = [];
    const counts = clock.rules.map(() => 0);
    let at = hourAt;
    const all = stretches(clock);
    const expanded = all.map(({ items: own, from, to }) => {
      const set = own.reduce((s, i) => s + ('seconds' in i ? i.seconds : i.item === 'track' ? USUAL : 0), 0);
      const fillers = Math.max(0, Math.round((to.at - from - set) / USUAL));
      return own.flatMap((i): ClockItem[] =>
        i.item === 'filler' ? Array.from({ length: Math.min(i.most, fillers) }, () => i) : [i],
      );
    });
    const places = expanded.flat().filter((i) => !('seconds' in i)).length;
    let placed = 0;
    for (const [s, own] of expanded.entries()) {
      for (const [i, item] of own.entries()) {
        const former = own[i - 1],
          next = own[i + 1] ?? expanded[s + 1]?.[0];
        if ('seconds' in item) {
          const overIntro = i === own.length - 1 ? null : (item.overIntro ?? null);
          items.push({
            kind: item.item,
            at,
            seconds: item.seconds,
            name: item.name,
            fixed: item.fixed ?? null,
            slot: clock.items.indexOf(item),
            overIntro,
            bed: item.bed ?? null,
          });
          at += item.seconds;
          continue;
        }
        const link = former && 'seconds' in former ? (former.overIntro ?? null) : null;
        const previous = [...before, ...hour.map((a) => a.track)];
        const fits = (track: Airable): boolean => {
          if (hour.some((a) => a.track === track) || !matches(item.from ?? EVERYTHING, track.values)) return false;
          const spot: Spot = {
            at: at - Math.min(track.air.intro, link ?? 0),
            log,
            hour,
            previous,
            direct: !(former && 'seconds' in former),
            link,
            beforeSpoken: next?.item === 'spoken' || next?.item === 'link',
          };
          return clock.rules.every((rule, r) => {
            if (!rule.hard) return true;
            const quota = quotaOf(rule, places);
            if (!quota) return !breaks(rule, track, spot);
            const one = counted(rule, track, hourAt) === true;
            return one ? counts[r]! + 1 <= quota.most : counts[r]! + places - placed - 1 >= quota.least;
          });
        };
        const found = shuffled.find(([, track]) => fits(track))?.[1];
        placed++;
        if (!found) {
          items.push({
            kind: 'open',
            at,
            seconds: USUAL,
            name: item.name,
            fixed: null,
            slot: -1,
            reason: 'nothing fits',
          });
          at += USUAL;
          continue;
        }
        const start = at - Math.min(found.air.intro, link ?? 0);
        items.push({
          kind: 'track',
          at: start,
          seconds: found.air.natural,
          name: item.name,
          fixed: null,
          slot: -1,
          track: found,
        });
        hour.push({ at: start, track: found });
        clock.rules.forEach((rule, r) => (counts[r]! += counted(rule, found, hourAt) ? 1 : 0));
        at = start + found.air.natural;
      }
      const { to } = all[s]!;
      landings.push({ ...to, name: '', off: at - hourAt - to.at });
      at = Math.max(at, hourAt + to.at);
    }
    for (const aired of hour) log.add(aired);
    before = [...before, ...hour.map((a) => a.track)].slice(-20);
    return { items, landings };
  });
}
