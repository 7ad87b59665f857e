export { colorOfPosition, fiberColors, isColorOrder } from './colors.ts'
export type { ColoredPosition, ColorOrder, FiberColors } from './colors.ts'
export { fresnelReflectance } from './fresnel.ts'
export { peakFromReflectance, reflectanceFromPeak, typicalFiber } from './backscatter.ts'
