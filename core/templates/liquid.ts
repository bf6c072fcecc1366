/** Liquid as all templates of the desk know it: one set of filters, unknown ones refused, with limits. */
import { Liquid } from 'liquidjs';

/**
 * Makes a reader of templates. Beside Liquid's own filters there is `pad`: `{{ n | pad: 2 }}` puts noughts before it.
 * @param limits milliseconds that one rendering may take, and how much it may hold (in the library's own units)
 */
export function templates(limits: { milliseconds: number; memory: number }): Liquid {
  const liquid = new Liquid({
    strictFilters: true,
    parseLimit: 20_000,
    renderLimit: limits.milliseconds,
    memoryLimit: limits.memory,
  });
  liquid.registerFilter('pad', (value: unknown, width: unknown) =>
    String(value ?? '').padStart(Math.min(100, Number(width) || 2), '0'),
  );
  return liquid;
}
