/** Reading numbers at an index behind an address. */

// @ts-ignore: decorator
@inline
export function f(base: usize, index: usize): f32 { return load<f32>(base + (index << 2)); }

// @ts-ignore: decorator
@inline
export function d(base: usize, index: usize): f64 { return load<f64>(base + (index << 3)); }
