import type { Account, Callout } from '@cold-thread/contract'
import { isCableStep, type Cable, type Link, type PlantBundle } from '@cold-thread/core/plant'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import CircularProgress from '@mui/material/CircularProgress'
import TextLink from '@mui/material/Link'
import Typography from '@mui/material/Typography'
import type { ReactNode } from 'react'
import { Link as RouterLink, useParams } from 'react-router'
import { useCalloutQuery, usePlantQuery } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'

/** What a page about all fibers of the cable in which a callout's link begins has to go by. */
export interface CableProps {
  account: Account
  callout: Callout
  plant: PlantBundle
  link: Link
  cable: Cable
}

/** A page about all fibers of a cable: its head, once the callout and its record are there. */
export function CableShell({
  account,
  title,
  back,
  children,
}: {
  account: Account
  title: string
  /** The stage that it belongs to, as in its address. */
  back: 'Locate' | 'Prove'
  children: (props: CableProps) => ReactNode
}) {
  const { id = '' } = useParams()
  const { data: callout, error } = useCalloutQuery(id)
  const { data: plant } = usePlantQuery()
  const link = plant?.bundle?.links.find((candidate) => candidate.id === callout?.linkId)
  const first = link?.path.find(isCableStep)
  const cable = plant?.bundle?.cables.find((candidate) => candidate.id === first?.cable)
  if (error && !callout) return <Problem error={error} />
  if (!callout || !plant?.bundle) return <CircularProgress aria-label="Loading" />
  if (!link || !cable)
    return <Alert severity="error">The plant record no longer has this callout’s link: ask the records keeper.</Alert>
  return (
    <>
      <Box sx={{ mb: 1.5 }}>
        <Typography variant="h1">
          Cable {cable.id}, {title}
        </Typography>
        <Typography sx={{ color: 'text.secondary' }}>
          {callout.title}: {link.name}. The fibers are taken to run along this link’s path.{' '}
          <TextLink component={RouterLink} to={`/callouts/${callout.id}/${back.toLowerCase()}`}>
            Back to {back}
          </TextLink>
        </Typography>
      </Box>
      {children({ account, callout, plant: plant.bundle, link, cable })}
    </>
  )
}
