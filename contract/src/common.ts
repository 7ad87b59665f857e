import type { Cause } from '@cold-thread/core/locate'
import { z } from 'zod'

/** Ids are made by the client (UUID, version 7), so that a write can be repeated without harm. */
export const id = z.uuid()
export const instant = z.iso.datetime()
export const direction = z.enum(['ab', 'ba'])
export const wavelengthNm = z.number().int().min(600).max(1700)
export const cordLength = z.number().min(0).max(5000)
/** Counts up with each change; an edit names the version it was made on. */
export const version = z.number().int().min(0)

/** What a fault can be. */
export const FAULT_CAUSES = [
  'break',
  'crush',
  'pull',
  'macrobend',
  'water',
  'bad-splice',
  'connector',
  'wrong-patch',
  'aging',
] as const satisfies readonly Cause[]
export const faultCause = z.enum(FAULT_CAUSES)
