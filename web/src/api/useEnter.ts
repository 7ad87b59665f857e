import type { LogEntry } from '@cold-thread/contract'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation } from './api.ts'

/** Enters something in a callout's log, by way of the outbox. @returns whether it was taken, under which id */
export function useEnter(calloutId: string): {
  enter(entry: LogEntry, supersedes?: string | null): Promise<string | null>
  error: unknown
  busy: boolean
} {
  const [add, { error, isLoading }] = useAddObservationMutation()
  const enter = async (entry: LogEntry, supersedes: string | null = null) => {
    const id = uuidv7()
    const observation = { entry, observedAt: new Date().toISOString(), supersedes }
    const { error: failed } = await add({ calloutId, id, observation })
    return failed ? null : id
  }
  return { enter, error, busy: isLoading }
}
