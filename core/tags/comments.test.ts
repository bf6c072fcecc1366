/** Comments are several in a file, in several languages and under several names; one of them is shown and changed. */
import { describe, expect, test } from '@jest/globals';
import { after, flac, frame, frames, holds, id3, read, text } from '../testing/tagSamples.ts';
import { concat, toLatin1 } from './bytes.ts';

const comment = (language: string, words: string, description = ''): Uint8Array =>
  frame(4, 'COMM', concat([Uint8Array.of(3), toLatin1(`${language}${description}\0${words}`)]));
const set = (file: Uint8Array, texts: string[]): Uint8Array => after(file, { comment: texts });

describe('ID3', () => {
  const file = concat([
    id3(4, [
      text('TIT2', 'A song', 4),
      comment('eng', 'from the boathouse'),
      comment('deu', 'aus dem Bootshaus'),
      comment('eng', '72', 'Other'),
    ]),
    frames,
  ]);
  test('the first is shown', () => expect(read(file).comment).toEqual(['from the boathouse']));
  test('the one that is shown is changed; other languages and descriptions stay as they are', () => {
    const made = set(file, ['from the slip']);
    expect(read(made).comment).toEqual(['from the slip']);
    for (const kept of ['deu\0aus dem Bootshaus', 'engOther\x0072']) expect(holds(made, kept)).toBe(true);
    expect(holds(made, 'boathouse')).toBe(false);
    expect(holds(set(made, ['from the boathouse']), 'deu\0aus dem Bootshaus')).toBe(true);
  });
  test('emptied, none is left to be shown; what has a description is another thing', () => {
    const made = set(file, []);
    expect(read(made).comment).toBeUndefined();
    expect(holds(made, 'engOther\x0072')).toBe(true);
  });
});

describe('Vorbis comments', () => {
  const file = flac(['title=A song', 'Comment=shown', 'DESCRIPTION=of the whole', 'comment=and another'], 200);
  test('the one that is shown is changed; the rest stays as it is spelled', () => {
    expect(read(file).comment![0]).toBe('shown');
    const made = set(file, ['new']);
    for (const kept of ['DESCRIPTION=of the whole', 'comment=and another', 'Comment=new'])
      expect(holds(made, kept)).toBe(true);
    expect(holds(made, 'Comment=shown')).toBe(false);
  });
  test('emptied, none is left to be shown', () => {
    expect(read(set(file, [])).comment).toBeUndefined();
  });
  test('a description alone is the comment that is shown', () => {
    const alone = flac(['DESCRIPTION=of the whole'], 200);
    expect(read(alone).comment).toEqual(['of the whole']);
    expect(holds(set(alone, ['other']), 'DESCRIPTION=other')).toBe(true);
  });
});
