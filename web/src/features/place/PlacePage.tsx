import type { Account, Callout } from '@cold-thread/contract'
import { constructionWord } from '@cold-thread/core/open'
import { linksAcross } from '@cold-thread/core/plan'
import type { PlantBundle, PlantNode } from '@cold-thread/core/plant'
import { metres } from '@cold-thread/core/units'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import CircularProgress from '@mui/material/CircularProgress'
import Typography from '@mui/material/Typography'
import { Link as RouterLink, useParams } from 'react-router'
import { useCalloutsQuery, usePlantQuery } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { ClosureSection } from '../closure/ClosureSection.tsx'
import { PrintTag } from './PrintTag.tsx'

/** What stands at a place: opened by its tag. First what is to be done there now, then what the record has of it. */
export function PlacePage({ account }: { account: Account }) {
  const { node: id } = useParams()
  const { data: plant, error } = usePlantQuery()
  const { data: callouts, error: calloutsError } = useCalloutsQuery()
  if (error ?? calloutsError) return <Problem error={error ?? calloutsError} />
  if (!plant?.bundle || !callouts) return <CircularProgress aria-label="Loading" />
  const node = plant.bundle.nodes.find((candidate) => candidate.id === id)
  if (!node)
    return (
      <Alert severity="warning" variant="outlined">
        The plant record has no place “{id}”: the tag is older than the record, or of another plant.
      </Alert>
    )
  return <Place account={account} node={node} plant={plant.bundle} callouts={callouts} />
}

function Place({
  account,
  node,
  plant,
  callouts,
}: {
  account: Account
  node: PlantNode
  plant: PlantBundle
  callouts: readonly Callout[]
}) {
  const route = plant.routes.find(({ id }) => id === node.routeId)
  const cables = plant.cables.filter(
    ({ routeId, from, to }) => routeId === node.routeId && node.chainage >= from && node.chainage <= to,
  )
  const ridden = cables.map((cable) => ({ cable, links: linksAcross(plant, cable.id, node.chainage) }))
  const passing = new Set(ridden.flatMap(({ links }) => [...links.values()].map(({ id }) => id)))
  const open = callouts
    .filter(({ state, linkId }) => state !== 'closed' && passing.has(linkId))
    .sort((a, b) => Number(b.assignedTo === account.displayName) - Number(a.assignedTo === account.displayName))
  return (
    <>
      <Typography variant="h1">{node.name}</Typography>
      <Typography sx={{ mb: 2, color: 'text.secondary' }}>
        {node.kind}
        {node.closureModel && `, ${node.closureModel}`}, {metres(node.chainage)} on {route?.name ?? node.routeId}
      </Typography>
      <Section title="Open here">
        {open.length === 0 && <Typography>No open callout is on a link that passes here.</Typography>}
        {open.map(({ id, title, linkId, assignedTo }) => (
          <Box
            key={id}
            sx={{ display: 'flex', gap: 1.5, alignItems: 'center', justifyContent: 'space-between', py: 0.75 }}
          >
            <Box>
              <Typography sx={{ fontWeight: 650 }}>{title}</Typography>
              <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
                {plant.links.find((link) => link.id === linkId)?.name}
                {assignedTo && `, ${assignedTo}`}
              </Typography>
            </Box>
            <Button variant="contained" component={RouterLink} to={`/callouts/${id}`}>
              Open
            </Button>
          </Box>
        ))}
      </Section>
      <Section title="Cables here">
        {ridden.map(({ cable, links }) => (
          <Box key={cable.id} sx={{ py: 0.5 }}>
            <Typography>
              <strong>{cable.id}</strong>: {cable.fiberCount} fibers, {constructionWord(cable.construction)},{' '}
              {cable.fiberType}; {links.size} carry links here
            </Typography>
            {node.slack
              .filter((slack) => slack.cable === cable.id)
              .map(({ side, sheath }) => (
                <Typography key={side} sx={{ fontSize: 14 }}>
                  {sheath} m of slack by the record, {side === 'through' ? 'passing uncut' : 'where it ends'}
                </Typography>
              ))}
          </Box>
        ))}
      </Section>
      {node.kind === 'closure' && <ClosureSection account={account} node={node} plant={plant} callouts={open} />}
      <PrintTag node={node} />
    </>
  )
}
