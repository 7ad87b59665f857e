export { SPEED_OF_LIGHT, delayFromDistance, distanceFromDelay, pulseLength } from './light.ts'
export { dbmFromMilliwatts, displayLevel, lossFromPowers, milliwattsFromDbm, powerFromDisplayLevel } from './decibel.ts'
export { metres } from './metres.ts'
export { normalCumulative, studentQuantile, upperTailQuantile } from './normal.ts'
