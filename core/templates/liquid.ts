/** Liquid as all templates of the desk know it: one set of filters, unknown ones refused, with limits. */
import { Liquid, type Context, type Template } from 'liquidjs';

type TagClass = NonNullable<Liquid['tags'][string]>;

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
  for (const tag of READING_TAGS) delete liquid.tags[tag];
  for (const name of ['for', 'tablerow']) liquid.registerTag(name, limited(liquid.tags[name]!));
  return liquid;
}

/**
 * Renders, and once more where the time ran out: a machine that is held up for a moment is no fault of a template. One
 * that really takes too long does so again.
 */
export function unhurried<T>(render: () => T): T {
  try {
    return render();
  } catch (error) {
    if (!String((error as Error).message).includes('render limit exceeded')) throw error;
    return render();
  }
}

/**
 * A limit that many renderings have together.
 * @throws Error (from what is returned) once they have taken so many milliseconds
 */
export function allWithin(milliseconds: number): <T>(render: () => T) => T {
  let left = milliseconds;
  return (render) => {
    if (left < 0) throw new Error('it takes too long for so many names or lines');
    const begun = performance.now();
    try {
      return unhurried(render);
    } finally {
      left -= performance.now() - begun;
    }
  };
}

/** Tags that read other templates from a disk: there are none for them to read. */
const READING_TAGS = ['include', 'render', 'layout', 'block'];
const MAX_STEPS = 10_000;
const steps = new WeakMap<object, number>();

/** A loop that counts its steps, those of the loops inside it too. */
function limited(tag: TagClass): TagClass {
  const Loop = tag as unknown as new (...made: ConstructorParameters<TagClass>) => { templates: Template[] };
  const Limited = class extends Loop {
    constructor(...made: ConstructorParameters<TagClass>) {
      super(...made);
      this.templates = [{ token: made[0], render: count } as unknown as Template, ...this.templates];
    }
  };
  return Limited as unknown as TagClass;
}

/** @throws Error at the first step too many of one rendering */
function count(context: Context): void {
  const n = (steps.get(context) ?? 0) + 1;
  if (n > MAX_STEPS)
    throw new Error(`the loops of this template take more than ${MAX_STEPS.toLocaleString('en-GB')} steps`);
  steps.set(context, n);
}
