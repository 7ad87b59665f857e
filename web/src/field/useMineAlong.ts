import type { Account, Callout } from '@cold-thread/contract'
import { useEffect, useRef } from 'react'
import { useCalloutsQuery } from '../api/api.ts'
import { canWork } from '../app/rights.ts'
import { useAppDispatch, useAppSelector } from '../app/store.ts'
import { fieldStore, type TakenCallout } from './fieldStore.ts'
import { fullness, readRoom } from './room.ts'
import { takeAlong } from './takeAlong.ts'

/** What was taken along so long ago is taken anew, ms. */
const STALE = 30 * 60_000
/** A store this full takes nothing along by itself. */
const NO_ROOM = 0.95

/** Open callouts that are assigned to somebody and not on this device, or not lately. */
export function toTakeAlong(
  callouts: readonly Pick<Callout, 'id' | 'assignedTo' | 'state'>[],
  taken: readonly TakenCallout[],
  name: string,
  now: number,
): string[] {
  const fresh = new Set(taken.filter(({ at }) => now - Date.parse(at) < STALE).map(({ calloutId }) => calloutId))
  return callouts
    .filter(({ id, assignedTo, state }) => assignedTo === name && state !== 'closed' && !fresh.has(id))
    .map(({ id }) => id)
}

/** What is assigned to whoever is signed in comes along by itself, one callout after the other, while the server answers. */
export function useMineAlong(account: Account | null): void {
  const dispatch = useAppDispatch()
  const link = useAppSelector((state) => state.field.link)
  const works = account !== null && canWork(account)
  const { data: callouts } = useCalloutsQuery(undefined, { skip: !works, pollingInterval: 60_000 })
  const busy = useRef(false)
  useEffect(() => {
    if (!works || !callouts || link !== 'up' || busy.current) return
    busy.current = true
    const take = async () => {
      // What has no room would be read again and again, over a thin network, and not be kept.
      if ((fullness(await readRoom()) ?? 0) > NO_ROOM) return
      const taken = await fieldStore.taken.toArray()
      for (const id of toTakeAlong(callouts, taken, account.displayName, Date.now())) await takeAlong(id, dispatch)
    }
    // What can't be taken now is tried again with the next look at the callouts.
    take()
      .catch(() => undefined)
      .finally(() => (busy.current = false))
  }, [works, callouts, link, account, dispatch])
}
