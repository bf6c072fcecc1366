/** What browsers have and the DOM of the tests has not. */
import { TextDecoder, TextEncoder } from 'node:util';
import { deserialize, serialize } from 'node:v8';

Object.assign(globalThis, {
  TextDecoder,
  TextEncoder,
  structuredClone: <T>(value: T): T => deserialize(serialize(value)) as T,
});
/** Tests speak through it by events of the document, see `tell`. */
globalThis.EventSource = class {
  addEventListener(name: string, listener: (e: unknown) => void): void {
    document.addEventListener(`server-${name}`, (e) => listener({ data: (e as CustomEvent<string>).detail }));
  }
  close(): void {}
} as unknown as typeof EventSource;
globalThis.ResizeObserver = class {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
};
if (typeof Element !== 'undefined') {
  // a test may ask for plain Node.js
  // A pointer that does not say what it is would be a finger that rests: a menu opens when it does so for long.
  const Pointer = globalThis.PointerEvent ?? MouseEvent;
  globalThis.PointerEvent = class extends Pointer {
    override get pointerType(): string {
      return 'mouse';
    }
  } as unknown as typeof PointerEvent;
  Element.prototype.scrollIntoView = () => undefined;
  Element.prototype.setPointerCapture = () => undefined;
  Element.prototype.scrollTo = () => undefined;
  // Nothing is laid out here; lists draw only what would be in sight.
  Object.defineProperties(HTMLElement.prototype, {
    clientHeight: { configurable: true, get: () => 700 },
    clientWidth: { configurable: true, get: () => 900 },
  });
  HTMLCanvasElement.prototype.getContext = (() => null) as never;
}
