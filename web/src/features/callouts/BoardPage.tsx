import type { Account, Callout } from '@cold-thread/contract'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Chip from '@mui/material/Chip'
import Paper from '@mui/material/Paper'
import Typography from '@mui/material/Typography'
import { useRef, useState } from 'react'
import { Link as RouterLink, useNavigate } from 'react-router'
import { useCalloutsQuery, usePlantQuery, useTakeInCalloutMutation } from '../../api/api.ts'
import { canKeepRecords, canWork } from '../../app/rights.ts'
import { Problem } from '../../ui/Problem.tsx'
import { ago, clock } from '../../ui/time.ts'
import { PageBoundary } from '../../app/PageBoundary.tsx'
import { page } from '../../app/page.ts'
import { CauseStatistics } from './CauseStatistics.tsx'
import { nextStep, stageFor } from './nextStep.ts'

const NewCalloutDialog = page(async () => (await import('./NewCalloutDialog.tsx')).NewCalloutDialog)

const COLUMNS = [
  { state: 'open', title: 'Find the fault' },
  { state: 'proving', title: 'Repair and prove' },
  { state: 'closed', title: 'Signed off' },
] as const

/** Every callout with what it waits for; the most urgent circuit first. */
export function BoardPage({ account }: { account: Account }) {
  const { data: callouts, error } = useCalloutsQuery(undefined, { pollingInterval: 15_000 })
  const { data: plant } = usePlantQuery()
  const [adding, setAdding] = useState(false)
  const links = plant?.bundle?.links ?? []
  const priorityOf = (callout: Callout) =>
    Math.min(
      9,
      ...(links.find((link) => link.id === callout.linkId)?.circuits.map((circuit) => circuit.priority) ?? []),
    )
  return (
    <>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center', mb: 2 }}>
        <Typography variant="h1">Callouts</Typography>
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', justifyContent: 'flex-end' }}>
          {canKeepRecords(account) && <TakeIn />}
          {canWork(account) && (
            <Button variant="contained" onClick={() => setAdding(true)} disabled={links.length === 0}>
              New callout
            </Button>
          )}
        </Box>
      </Box>
      <Problem error={error} />
      {plant && !plant.bundle && (
        <Paper sx={{ p: 3, border: 1, borderColor: 'divider' }}>
          <Typography sx={{ mb: 1 }}>
            There is no plant record yet: a callout needs to know where the cable runs.
          </Typography>
          <Button component={RouterLink} to="/plant" variant="outlined">
            Import the plant
          </Button>
        </Paper>
      )}
      <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', md: 'repeat(3, 1fr)' } }}>
        {COLUMNS.map(({ state, title }) => {
          const here = (callouts ?? [])
            .filter((callout) => callout.state === state)
            .sort((a, b) => priorityOf(a) - priorityOf(b) || a.openedAt.localeCompare(b.openedAt))
          return (
            <Box key={state} component="section" aria-label={title}>
              <Typography variant="h2" sx={{ mb: 1, color: 'text.secondary' }}>
                {title} <span style={{ fontWeight: 400 }}>{here.length}</span>
              </Typography>
              {here.map((callout) => (
                <CalloutCard
                  key={callout.id}
                  callout={callout}
                  linkName={links.find((link) => link.id === callout.linkId)?.name ?? callout.linkId}
                  circuits={links.find((link) => link.id === callout.linkId)?.circuits ?? []}
                />
              ))}
              {callouts && here.length === 0 && <Typography sx={{ color: 'text.secondary' }}>None.</Typography>}
            </Box>
          )
        })}
      </Box>
      <Box sx={{ mt: 2 }}>
        <CauseStatistics callouts={callouts ?? []} />
      </Box>
      {adding && (
        <PageBoundary page="new-callout" loading={null}>
          <NewCalloutDialog links={links} onClose={() => setAdding(false)} />
        </PageBoundary>
      )}
    </>
  )
}

/** A callout that another installation gave out as a ZIP. */
function TakeIn() {
  const input = useRef<HTMLInputElement>(null)
  const navigate = useNavigate()
  const [takeIn, { error, isLoading }] = useTakeInCalloutMutation()
  const take = async (file: File | undefined) => {
    if (!file) return
    const { data } = await takeIn(file)
    if (data) await navigate(`/callouts/${data.id}/${stageFor(data)}`)
  }
  return (
    <>
      <Button disabled={isLoading} onClick={() => input.current?.click()}>
        {isLoading ? 'Taking it in…' : 'Take in a callout'}
      </Button>
      <input
        ref={input}
        type="file"
        accept=".zip,application/zip"
        aria-label="Callout as ZIP"
        hidden
        onChange={({ target }) => {
          void take(target.files?.[0])
          target.value = ''
        }}
      />
      <Problem error={error} />
    </>
  )
}

function CalloutCard({
  callout,
  linkName,
  circuits,
}: {
  callout: Callout
  linkName: string
  circuits: { name: string; priority: number }[]
}) {
  const closed = callout.state === 'closed'
  return (
    <Paper
      component={RouterLink}
      to={`/callouts/${callout.id}/${stageFor(callout)}`}
      sx={{
        display: 'block',
        p: 2,
        mb: 1.5,
        border: 1,
        borderColor: 'divider',
        textDecoration: 'none',
        color: 'text.primary',
        '&:hover, &:focus-visible': { borderColor: 'primary.main' },
      }}
    >
      <Typography sx={{ fontWeight: 650, fontSize: '1.1rem' }}>{callout.title}</Typography>
      <Typography sx={{ color: 'text.secondary', mb: 1 }}>{linkName}</Typography>
      <Typography sx={{ mb: 1, fontWeight: closed ? 400 : 650 }}>{nextStep(callout)}</Typography>
      <Box sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap', mb: 1 }}>
        {circuits.map((circuit) => (
          <Chip
            key={circuit.name}
            size="small"
            variant="outlined"
            label={`${circuit.name}, priority ${circuit.priority}`}
          />
        ))}
        {callout.simulated && <Chip size="small" label="simulated" />}
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }} title={clock(callout.closedAt ?? callout.openedAt)}>
        {callout.closedAt ? `signed off ${ago(callout.closedAt)}` : `opened ${ago(callout.openedAt)}`}
        {callout.assignedTo ? `, ${callout.assignedTo}` : ', nobody assigned'}
      </Typography>
    </Paper>
  )
}
