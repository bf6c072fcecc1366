/** What browsers have and the DOM of the tests has not. */
import { TextDecoder, TextEncoder } from 'node:util';

Object.assign(globalThis, { TextDecoder, TextEncoder });
/** Tests speak through it by events of the document, see `tell`. */
globalThis.EventSource = class {
  addEventListener(name: string, listener: (e: unknown) => void): void { document.addEventListener(`server-${name}`, (e) => listener({ data: (e as CustomEvent<string>).detail })); }
  close(): void {}
} as unknown as typeof EventSource;
globalThis.ResizeObserver = class { observe(): void {} unobserve(): void {} disconnect(): void {} };
Element.prototype.scrollIntoView = () => undefined;
Element.prototype.setPointerCapture = () => undefined;
HTMLCanvasElement.prototype.getContext = (() => null) as never;
