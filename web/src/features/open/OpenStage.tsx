import { isSheet } from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import CircularProgress from '@mui/material/CircularProgress'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Link as RouterLink } from 'react-router'
import { v7 as uuidv7 } from 'uuid'
import { useAddObservationMutation, useObservationsQuery, useOpenBookQuery } from '../../api/api.ts'
import { canWork } from '../../app/rights.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { clock } from '../../ui/time.ts'
import { useAwake } from '../../ui/useAwake.ts'
import type { StageProps } from '../callout/stageProps.ts'
import { begunSheets, type BegunSheet } from './sheets.ts'
import { SheetView } from './SheetView.tsx'
import { StartSheet } from './StartSheet.tsx'

/** How do I get in: run sheets for this cable and this closure, step by step, with what they measure and record. */
export function OpenStage(props: StageProps) {
  const { account, callout } = props
  const { data: log, error } = useObservationsQuery(callout.id, { pollingInterval: 15_000 })
  const { data: book, error: bookError } = useOpenBookQuery()
  const [add, { error: refused, isLoading }] = useAddObservationMutation()
  const [chosen, setChosen] = useState<string | null>(null)
  const [starting, setStarting] = useState(false)
  const working = canWork(account) && callout.state !== 'closed'
  useAwake(working)
  if (!log || !book)
    return error || bookError ? <Problem error={error ?? bookError} /> : <CircularProgress aria-label="Loading" />
  const sheets = begunSheets(log)
  const current = sheets.find(({ id }) => id === chosen) ?? sheets[0]
  const begin = async (sheet: Parameters<typeof isSheet>[0]) => {
    if (!isSheet(sheet)) return
    const id = uuidv7()
    const observation = {
      entry: { kind: 'sheet' as const, sheet },
      observedAt: new Date().toISOString(),
      supersedes: null,
    }
    const { error: failed } = await add({ calloutId: callout.id, id, observation })
    if (failed) return
    setStarting(false)
    setChosen(id)
  }
  const takeBack = async (id: string) => {
    const entry = { kind: 'withdrawn' as const, reason: 'begun by mistake' }
    await add({
      calloutId: callout.id,
      id: uuidv7(),
      observation: { entry, observedAt: new Date().toISOString(), supersedes: id },
    })
    setChosen(null)
  }
  return (
    <>
      <Problem error={error ?? refused} />
      {current && !starting && (
        <SheetView key={current.id} {...props} begun={current} chosen={chosen === current.id} working={working} />
      )}
      {working && (starting || !current) && (
        <StartSheet
          {...props}
          book={book.book}
          busy={isLoading}
          onBegin={begin}
          onCancel={current ? () => setStarting(false) : null}
        />
      )}
      {!working && !current && <Typography>No run sheet was begun on this callout.</Typography>}
      {!starting && current && (
        <Section
          title="Run sheets"
          action={
            working && (
              <Button variant="outlined" onClick={() => setStarting(true)}>
                Begin another
              </Button>
            )
          }
        >
          <SheetList sheets={sheets} current={current.id} onChoose={setChosen} onTakeBack={working ? takeBack : null} />
        </Section>
      )}
      <Box className="not-on-paper" sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', mb: 2 }}>
        <Button component={RouterLink} to="/lengths">
          Lengths and 1:1 template
        </Button>
        <Button component={RouterLink} to="/open-book">
          Closures’ sheets and procedures
        </Button>
        <Button
          component={RouterLink}
          to={`/fibers${current?.sheet.facts.cable ? `?cable=${encodeURIComponent(current.sheet.facts.cable)}` : ''}`}
        >
          Fiber finder
        </Button>
        {current?.sheet.facts.node && (
          <Button component={RouterLink} to={`/at/${encodeURIComponent(current.sheet.facts.node)}`}>
            {current.sheet.facts.place}
          </Button>
        )}
      </Box>
    </>
  )
}

function SheetList({
  sheets,
  current,
  onChoose,
  onTakeBack,
}: {
  sheets: readonly BegunSheet[]
  current: string
  onChoose(id: string): void
  /** Of one on which nothing was done; null for those who only read. */
  onTakeBack: ((id: string) => Promise<void>) | null
}) {
  return (
    <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0 }}>
      {sheets.map(({ id, sheet, events, progress, begunBy, begunAt }) => (
        <Box component="li" key={id} sx={{ display: 'flex', alignItems: 'center', gap: 1, py: 0.5 }}>
          <Box sx={{ flex: 1 }}>
            <Typography sx={{ fontWeight: id === current ? 650 : 400 }}>{sheet.name}</Typography>
            <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
              {progress.done} of {progress.steps.length} steps, begun {clock(begunAt)} by {begunBy}
            </Typography>
          </Box>
          {onTakeBack && events.length === 0 && <Button onClick={() => void onTakeBack(id)}>Take back</Button>}
          {id !== current && <Button onClick={() => onChoose(id)}>Show</Button>}
        </Box>
      ))}
    </Box>
  )
}
