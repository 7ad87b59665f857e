import type { Account } from '@cold-thread/contract'
import { useLiveQuery } from './useLiveQuery.ts'
import { useEffect } from 'react'
import { api, sender } from '../api/api.ts'
import { useAppDispatch } from '../app/store.ts'
import { storeSeen } from './fieldState.ts'
import { fieldStore, type OutboxEntry } from './fieldStore.ts'
import { fullness, readRoom } from './room.ts'

const CHANNEL = 'cold-thread'
/** The store's room is looked at so often, ms. */
const LOOK_EVERY = 60_000

/** Sends what waits for whoever is signed in; what arrives is read anew, in the other tabs too. */
export function useSending(account: Account | null): void {
  const dispatch = useAppDispatch()
  useEffect(() => {
    const channel = 'BroadcastChannel' in globalThis ? new BroadcastChannel(CHANNEL) : null
    const refresh = () => dispatch(api.util.invalidateTags(['Log', 'Traces', 'Attachments', 'Callouts', 'Verdict']))
    if (channel) channel.onmessage = refresh
    const stop = sender.start(dispatch, () => {
      refresh()
      channel?.postMessage('arrived')
    })
    return () => {
      stop()
      channel?.close()
    }
  }, [dispatch])
  useEffect(() => {
    sender.account = account?.id ?? null
  }, [account?.id])
  useEffect(() => {
    const look = () => void readRoom().then((room) => dispatch(storeSeen(fullness(room))))
    look()
    const timer = setInterval(look, LOOK_EVERY)
    return () => clearInterval(timer)
  }, [dispatch])
}

/** Everything in the outbox, in the order of entry; null until it is read. */
export function useOutbox(): OutboxEntry[] | null {
  return useLiveQuery<OutboxEntry[] | null>(() => fieldStore.outbox.orderBy('seq').toArray(), null)
}
