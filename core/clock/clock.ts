/** Clock and calendar: lengths, times of day and days as people write them. */

/** "4:07", "1:02:09"; whole seconds, rounded. */
export function clockLength(seconds: number): string {
  const all = Math.round(seconds);
  const h = Math.floor(all / 3600),
    m = Math.floor((all % 3600) / 60),
    s = all % 60;
  return h ? `${h}:${String(m).padStart(2, '0')}:${String(s).padStart(2, '0')}` : `${m}:${String(s).padStart(2, '0')}`;
}

/** Time of day after `seconds` from a start given as "20:00": "20:47". Wraps at midnight. */
export function timeOfDay(start: string, seconds: number): string {
  const [h = 0, m = 0] = start.split(':').map(Number);
  const minutes = (h * 60 + m + Math.floor(seconds / 60)) % 1440;
  return `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
}

/** The day of a moment where the clock hangs, "2026-11-27". */
export const localDay = (moment: Date): string =>
  `${moment.getFullYear()}-${String(moment.getMonth() + 1).padStart(2, '0')}-${String(moment.getDate()).padStart(2, '0')}`;

/** Whole days from one day to another; negative when it has been. */
export const daysBetween = (from: string, to: string): number =>
  Math.round((Date.parse(`${to}T12:00:00Z`) - Date.parse(`${from}T12:00:00Z`)) / 86_400_000);
