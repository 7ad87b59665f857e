/** Bessel functions of the package `bessel`, which brings no types. */
declare module 'bessel' {
  /** Modified Bessel function of the second kind, K_order(x). */
  export function besselk(x: number, order: number): number
  /** Bessel function of the first kind, J_order(x). */
  export function besselj(x: number, order: number): number
}
