/** The text of a line in a list, by a template. */
import { allWithin, templates } from '../templates/liquid.ts';
import type { ListedTrack } from './listFile.ts';
import { oneLine } from './text.ts';

export const DEFAULT_LINE =
  '{% if artist %}{{ artist }} - {% endif %}{{ title }}{% if version %} ({{ version }}){% endif %}';

const liquid = templates({ milliseconds: 2_000, memory: 10_000_000 });

/** A template that does not parse or uses an unknown filter. */
export class TemplateError extends Error {}

/** Fills a line template; one line of text comes out. @throws TemplateError with a sentence. */
export function renderLine(template: string, track: ListedTrack): string {
  return filled(() => lineOf(template, track));
}

function lineOf(template: string, track: ListedTrack): string {
  const text = String(
    liquid.parseAndRenderSync(template, {
      ...track.fields,
      // An empty text would count as one in a condition.
      title: track.title || null,
      artist: track.artist || null,
      album: track.album || null,
      path: track.path,
    }),
  );
  return oneLine(text);
}

function filled(fill: () => string): string {
  try {
    return fill();
  } catch (error) {
    throw new TemplateError(`The line template cannot be used: ${(error as Error).message.split('\n')[0]}`);
  }
}

/** A whole list may take so long over its line template, in milliseconds. */
const MAX_MS = 4_000;

/** The same for many lines, which together have a limit. */
export function lineWriter(template: string): (track: ListedTrack) => string {
  const within = allWithin(MAX_MS);
  return (track) => filled(() => within(() => lineOf(template, track)));
}
