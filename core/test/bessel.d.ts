/** Bessel functions of the package `bessel`, which brings no types. */
declare module 'bessel' {
  /** Modified Bessel function of the second kind, K_order(x). */
  export function besselk(x: number, order: number): number
}
