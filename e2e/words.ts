/** The words of the page as people meet them: of what is seen, and of what assistive technology is told. */
import type { Page } from '@playwright/test';

/** Words of what can be pressed, chosen and read as a label; not of tracks, lists and what else is data. */
export const wordsOf = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const LABELS =
      'button, [role="tab"], [role="menuitem"], [role="option"], [role="columnheader"], [role="radio"], label, legend, ' +
      'h1, h2, h3, th, dt, option, summary, [cmdk-item] > span, [cmdk-group-heading], kbd + *, [data-sonner-toast]';
    const DATA =
      '[role="gridcell"], [data-track], [data-entry], [data-set], [data-group]:not([data-group="true"]), [data-list], [data-value]';
    const seen = (node: Element): boolean => node.getClientRects().length > 0;
    const out = new Set<string>();
    const add = (text: string | null | undefined): void => {
      const words = text?.replace(/\s+/g, ' ').trim();
      if (words) out.add(words);
    };
    for (const node of document.querySelectorAll<HTMLElement>(LABELS))
      if (seen(node) && !node.closest(DATA)) add(node.innerText || node.textContent);
    for (const name of ['aria-label', 'title', 'placeholder'])
      for (const node of document.querySelectorAll<HTMLElement>(`[${name}]`))
        if (seen(node) && !node.closest(DATA)) add(node.getAttribute(name));
    for (const node of document.querySelectorAll<HTMLElement>('[role="dialog"] p, aside p, [role="status"]'))
      if (seen(node) && !node.closest(DATA)) add(node.innerText);
    return [...out];
  });

/**
 * Words that were taken out of the page, each with where it may still stand: one word for one thing, and trade words
 * before own ones.
 */
export const FORBIDDEN: readonly { words: RegExp; but?: RegExp; instead: string }[] = [
  { words: /\brecipes?\b/i, instead: 'steps, preset' },
  { words: /\blet (?:it|all) go\b/i, instead: 'Empty it; Allow duplicate' },
  {
    words: /\bdrop\b/i,
    but: /^drop (?:files|onto)|drop (?:files|a cover)|^drop\/\S+$/i,
    instead: 'Discard draft; Remove',
  },
  { words: /going on\b/i, instead: 'Play each track automatically' },
  { words: /on no line|\btheirs\b|\btake all\b/i, instead: 'unmatched, catalogue’s, Apply all' },
  { words: /\bof (?:tracks|discs)$|^say of/i, instead: 'Track total, Disc total, Fill totals' },
  { words: /^(?:reaches hz|kbit\/s|hz|where it is|peak|range|gain in tags)$/i, instead: 'the standards’ names' },
  { words: /off the middle|nothing to remark|sides work/i, instead: 'DC offset, No problems found, Out of phase' },
  { words: /as loud as all|where the audition stands|\bon 30\b/i, instead: 'level-matched, at the playhead' },
  { words: /files say it all|not in the file yet/i, instead: 'Tags written, Tags not written yet' },
  { words: /put instead|^part .* at$|\bput in\b/i, instead: 'Replace with, Split at, Paste' },
  { words: /same signature|steps in key/i, instead: 'relative key, fifths apart' },
  { words: /as at first|\bas found/i, instead: 'Reset' },
  { words: /^past$|what has been|what is asked for/i, instead: 'History, Past dates, Required fields' },
  { words: /alike afterwards/i, instead: 'Would become duplicates' },
  { words: /^click$|^edges$/i, instead: 'Metronome, Playout points' },
  { words: /what is left|field by field/i, but: /counted|choose/i, instead: 'Completeness, To do' },
  { words: /\bsure\b/i, instead: 'confidence' },
  { words: /moods and energy by ear|^listen(?:ing)?$/i, instead: 'Rate by ear' },
  { words: /\btake[ns]? back\b|\bbring back\b|\bbring in\b/i, instead: 'Undo, undone, Restore, Import' },
  { words: /^leave (?:it|them)$/i, instead: 'Cancel' },
  { words: /replaygain from measuring|gains for players/i, instead: 'ReplayGain from measured loudness' },
  { words: /\bvanished\b/i, instead: 'missing' },
  { words: /\bpicture\b/i, but: /^This is a picture, whatever/, instead: 'cover, chart' },
  { words: /crate or list|folder or list\b/i, instead: 'crate or playlist' },
];

/** What of some words should not be said, with what should. */
export const offences = (words: readonly string[]): string[] =>
  words.flatMap((text) =>
    FORBIDDEN.filter((f) => f.words.test(text) && !(f.but?.test(text) ?? false)).map(
      (f) => `“${text}” — say ${f.instead}`,
    ),
  );

/**
 * Words by screen, as a document: those that are the page's own, with figures left open.
 * @param names of the demo's tracks, which are data
 */
export function told(gathered: Record<string, Set<string>>, names: readonly string[]): string {
  const data = new Set(names.filter(Boolean));
  const own = (text: string): boolean =>
    text.length <= 160 &&
    !/(?:^|\s)\/\w/.test(text) && // paths of whoever runs this
    ![...data].some((d) => d.length > 3 && text.includes(d)) &&
    /\p{L}{2}/u.test(text);
  const open = (text: string): string =>
    text.replace(/\b(?:\w+day )?\d{1,2} [A-Z][a-z]{2,8}\b(?:, [\d:]+)?/g, 'date').replace(/[−+]?\d[\d,.:]*/g, 'n');
  const told = Object.entries(gathered).map(([name, words]) => [name, [...words].filter(own).map(open)] as const);
  const everywhere = told[0]![1].filter((text) => told.every(([, words]) => words.includes(text)));
  const sections = [['Everywhere', everywhere] as const, ...told].map(([name, words]) => {
    const lines = [...new Set(words)]
      .filter((text) => name === 'Everywhere' || !everywhere.includes(text))
      .sort((a, b) => a.localeCompare(b, 'en'));
    return `## ${name}\n\n${lines.map((l) => `- ${l}`).join('\n')}\n`;
  });
  return `# The words of the page\n\nGathered from all screens, menus and dialogs by \`npm run words\`; n stands for a figure.\n\n${sections.join('\n')}`;
}
