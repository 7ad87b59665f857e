import type { Callout } from '@cold-thread/contract'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useAppDispatch, useAppSelector } from '../app/store.ts'
import { Problem } from '../ui/Problem.tsx'
import { ago } from '../ui/time.ts'
import { fieldStore } from './fieldStore.ts'
import { takeAlong } from './takeAlong.ts'
import { useLiveQuery } from './useLiveQuery.ts'

/** Makes a callout readable without the network; what is assigned to me comes along by itself (`useMineAlong.ts`). */
export function TakeAlong({ callout }: { callout: Callout }) {
  const dispatch = useAppDispatch()
  const link = useAppSelector((state) => state.field.link)
  const taken = useLiveQuery(() => fieldStore.taken.toArray(), null)
  const [part, setPart] = useState<number | null>(null)
  const [error, setError] = useState<unknown>(null)
  const known = taken?.find(({ calloutId }) => calloutId === callout.id)
  const take = () => {
    setError(null)
    setPart(0)
    takeAlong(callout.id, dispatch, setPart)
      .catch((problem: unknown) => setError(problem))
      .finally(() => setPart(null))
  }
  if (taken === null) return null
  return (
    <Typography component="div" sx={{ fontSize: 14, color: 'text.secondary' }} className="not-on-paper">
      {part !== null ? (
        `Taking along, ${Math.round(100 * part)} %`
      ) : known ? (
        <>
          On this device, {(known.bytes / 1e6).toFixed(1)} MB, as of {ago(known.at)}.{' '}
          {link === 'up' && (
            <Button size="small" onClick={take}>
              Take along anew
            </Button>
          )}
        </>
      ) : (
        link === 'up' && (
          <Button size="small" variant="outlined" onClick={take}>
            Take along for work without network
          </Button>
        )
      )}
      <Problem error={error} />
    </Typography>
  )
}
