import { describe, expect, test } from '@jest/globals';
import { templates } from './liquid.ts';

describe('templates', () => {
  const liquid = templates({ milliseconds: 500, memory: 100_000 });
  const filled = (template: string, values: object): string => String(liquid.parseAndRenderSync(template, values));

  test('pad numbers, also those that are not there', () => {
    expect(filled('{{ n | pad: 3 }}', { n: 7 })).toBe('007');
    expect(filled('{{ n | pad }}', { n: 123 })).toBe('123');
    expect(filled('{{ n | pad }}', {})).toBe('00');
    expect(filled('{{ n | pad: 999999 }}', { n: 1 })).toHaveLength(100);
  });
  test('refuse a filter that nobody knows, and what would hold too much', () => {
    expect(() => filled('{{ n | nonsense }}', { n: 1 })).toThrow('undefined filter: nonsense');
    expect(() => filled('{% for i in (1..1000000) %}{{ i }}{% endfor %}', {})).toThrow(/limit exceeded/);
  });
});
