/** Everything on the page measures the same, so that pictures and long tables draw what is in them. */
export function sizedPage(width = 800, height = 700): void {
  const size = { contentRect: { width, height }, borderBoxSize: [{ inlineSize: width, blockSize: height }] };
  globalThis.ResizeObserver = class {
    readonly #then: ResizeObserverCallback;
    constructor(then: ResizeObserverCallback) {
      this.#then = then;
    }
    observe(): void {
      this.#then([size as unknown as ResizeObserverEntry], this);
    }
    unobserve(): void {}
    disconnect(): void {}
  };
}
