import { describe, expect, jest, test } from '@jest/globals';
import { allWithin, templates, unhurried } from './liquid.ts';

describe('templates', () => {
  const liquid = templates({ milliseconds: 30_000, memory: 100_000 });
  const filled = (template: string, values: object): string => String(liquid.parseAndRenderSync(template, values));

  test('pad numbers, also those that are not there', () => {
    expect(filled('{{ n | pad: 3 }}', { n: 7 })).toBe('007');
    expect(filled('{{ n | pad }}', { n: 123 })).toBe('123');
    expect(filled('{{ n | pad }}', {})).toBe('00');
    expect(filled('{{ n | pad: 999999 }}', { n: 1 })).toHaveLength(100);
  });
  test('read no other templates, whatever they are called', () => {
    for (const tag of ['include', 'render', 'layout'])
      expect(() => filled(`{% ${tag} "package.json" %}`, {})).toThrow(`tag "${tag}" not found`);
  });
  test('loop so often and no more, those inside others counted too', () => {
    const nested = (n: number): string =>
      `{% for a in (1..${n}) %}{% for b in (1..100) %}{% assign x = b %}{% endfor %}{% endfor %}{{ x }}`;
    expect(filled(nested(90), {})).toBe('100');
    expect(filled(nested(90), {})).toBe('100'); // each rendering counts for itself
    expect(() => filled(nested(110), {})).toThrow('the loops of this template take more than 10,000 steps');
  });
  test('have a limit for many together, which counts what each took and not what lies between', () => {
    let now = 0;
    const clock = jest.spyOn(performance, 'now').mockImplementation(() => now);
    const within = allWithin(100);
    const taking = (ms: number) => () => (now += ms);
    within(taking(60));
    now += 10_000;
    within(taking(60));
    expect(() => within(taking(1))).toThrow('it takes too long for so many names or lines');
    clock.mockRestore();
  });
  test('are tried once more where the machine was held up, and no more than that', () => {
    const held = (times: number) => () => {
      if (times-- > 0) throw new Error('template render limit exceeded');
      return 'text';
    };
    expect(unhurried(held(1))).toBe('text');
    expect(() => unhurried(held(2))).toThrow('render limit exceeded');
    const slow = templates({ milliseconds: -1, memory: 1000 });
    expect(() => unhurried(() => slow.parseAndRenderSync('{{ n }}', { n: 1 }) as string)).toThrow(
      'render limit exceeded',
    );
  });
  test('refuse a filter that nobody knows, and what would hold too much', () => {
    expect(() => filled('{{ n | nonsense }}', { n: 1 })).toThrow('undefined filter: nonsense');
    expect(() => filled('{% for i in (1..1000000) %}{{ i }}{% endfor %}', {})).toThrow(/limit exceeded/);
  });
});
