import { STAGES, type Account, type Callout, type Stage } from '@cold-thread/contract'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import CircularProgress from '@mui/material/CircularProgress'
import Typography from '@mui/material/Typography'
import { useDeferredValue, useEffect } from 'react'
import { Navigate, NavLink, useNavigate, useParams } from 'react-router'
import { useCalloutQuery, usePlantQuery } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { PhoneButton } from '../../field/PhoneButton.tsx'
import { TimersBar } from './TimersBar.tsx'
import { TakeAlong } from '../../field/TakeAlong.tsx'
import { useLive } from '../../field/useLive.ts'
import { STAGE_VIEWS } from '../../app/stageViews.ts'
import { PageBoundary } from '../../app/PageBoundary.tsx'
import { canLead, canWork } from '../../app/rights.ts'
import { stageFor } from '../callouts/nextStep.ts'
import { CalloutClock } from './CalloutClock.tsx'
import { EditCallout } from './EditCallout.tsx'

const TITLES: Record<Stage, string> = {
  locate: 'Locate',
  plan: 'Plan',
  open: 'Open',
  join: 'Join',
  prove: 'Prove',
  close: 'Close',
}

/** One callout with its stages; digits go from stage to stage. */
export function CalloutPage({ account }: { account: Account }) {
  const { id = '', stage } = useParams()
  const { data: callout, error } = useCalloutQuery(id, { pollingInterval: 15_000 })
  const { data: plant } = usePlantQuery()
  useLive(callout?.id)
  // What the callout is stands at once; the stage, with all that is computed on it, follows.
  const begun = useDeferredValue(true, false)
  if (error && !callout) return <Problem error={error} />
  if (!callout || !plant?.bundle) return <CircularProgress aria-label="Loading" />
  if (!STAGES.includes(stage as Stage)) return <Navigate to={`/callouts/${id}/${stageFor(callout)}`} replace />
  const link = plant.bundle.links.find((candidate) => candidate.id === callout.linkId)
  if (!link)
    return (
      <Alert severity="error">
        The plant record no longer has the link “{callout.linkId}”: ask the records keeper.
      </Alert>
    )
  const StageView = STAGE_VIEWS[stage as Stage]
  return (
    <>
      <StageKeys callout={callout} />
      <Box
        sx={{
          display: 'flex',
          justifyContent: 'space-between',
          alignItems: 'flex-end',
          gap: 2,
          flexWrap: 'wrap',
          mb: 1.5,
        }}
      >
        <Box sx={{ flex: '1 1 380px' }}>
          <Box sx={{ display: 'flex', alignItems: 'flex-start', gap: 0.5 }}>
            <Typography variant="h1">{callout.title}</Typography>
            {canWork(account) && callout.state !== 'closed' && <EditCallout callout={callout} />}
          </Box>
          <Typography sx={{ color: 'text.secondary' }}>
            {link.name}
            {callout.simulated && ' (simulated fault)'}
          </Typography>
          {callout.alarm && <Typography>{callout.alarm}</Typography>}
          <CalloutClock callout={callout} />
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, alignItems: 'center' }}>
            <TakeAlong callout={callout} />
            {canLead(account) && <PhoneButton path={`/callouts/${callout.id}`} />}
          </Box>
        </Box>
        <StageLinks id={id} />
      </Box>
      <TimersBar />
      <Box>
        <PageBoundary page={stage!} loading={<CircularProgress aria-label="Loading" />}>
          {begun && <StageView account={account} callout={callout} plant={plant.bundle} link={link} />}
        </PageBoundary>
      </Box>
    </>
  )
}

/** The stages side by side, within a thumb's reach; digits do the same. */
function StageLinks({ id }: { id: string }) {
  return (
    <Box
      component="nav"
      aria-label="Stages"
      className="not-on-paper"
      sx={{
        display: 'flex',
        flex: '1 1 360px',
        maxWidth: 520,
        borderBottom: 1,
        borderColor: 'divider',
        '& a': {
          flex: 1,
          minHeight: 48,
          display: 'grid',
          placeItems: 'center',
          color: 'text.secondary',
          textDecoration: 'none',
          borderBottom: '3px solid transparent',
        },
        '& a[aria-current]': { color: 'text.primary', fontWeight: 650, borderBottomColor: 'primary.main' },
        '& a:hover': { color: 'text.primary' },
        '& a:focus-visible': { outline: '2px solid', outlineOffset: -3 },
      }}
    >
      {STAGES.map((name, i) => (
        <NavLink key={name} to={`/callouts/${id}/${name}`} title={`Key ${i + 1}`}>
          {TITLES[name]}
        </NavLink>
      ))}
    </Box>
  )
}

function StageKeys({ callout }: { callout: Callout }) {
  const navigate = useNavigate()
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [role=dialog]')
      const stage = STAGES[Number(event.key) - 1]
      if (typing || !stage || event.ctrlKey || event.metaKey || event.altKey) return
      void navigate(`/callouts/${callout.id}/${stage}`)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [callout.id, navigate])
  return null
}
