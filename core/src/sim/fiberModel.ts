/** A uniform stretch of glass. */
export interface FiberSpan {
  kind: 'span'
  /** m */
  length: number
  /** dB/m */
  attenuation: number
  /** Backscatter of a 1 ns pulse relative to the power in this fiber, dB. */
  backscatter: number
  groupIndex: number
}

/** A point where light is lost or reflected: splice, connector, bend, crack. */
export interface Joint {
  kind: 'joint'
  /** dB, the same both ways */
  loss: number
  /** dB, negative; null for none */
  reflectance: number | null
}

/** What one instrument sees from its port on: spans and joints in order, ending in a reflection or none. */
export interface FiberModel {
  elements: (FiberSpan | Joint)[]
  /** Reflectance of the far end, dB; null for an end that reflects nothing. */
  endReflectance: number | null
}
