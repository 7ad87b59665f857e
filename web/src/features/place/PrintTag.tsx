import type { PlantNode } from '@cold-thread/core/plant'
import { metres } from '@cold-thread/core/units'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { usePublicAddress } from '../../field/publicAddress.ts'
import { printSection } from '../../ui/printSection.ts'
import { QrCode } from '../../ui/QrCode.tsx'
import { Section } from '../../ui/Section.tsx'

/** A place's tag: its code, and in words what a person reads where no camera is. */
export function Tag({ node: { id, name, chainage } }: { node: PlantNode }) {
  const reached = usePublicAddress(`/at/${encodeURIComponent(id)}`)
  if (!reached) return null
  return (
    <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', breakInside: 'avoid' }}>
      <QrCode text={reached.address} size={132} label={`QR code of ${reached.address}`} />
      <Box sx={{ minWidth: 0 }}>
        <Typography sx={{ fontWeight: 650 }}>{name}</Typography>
        <Typography>{metres(chainage)}</Typography>
        <Typography sx={{ fontSize: 14, overflowWrap: 'anywhere' }}>{reached.address}</Typography>
      </Box>
    </Box>
  )
}

/** Says why tags that were printed now would lead nowhere. */
export function TagProblem() {
  const reached = usePublicAddress('/')
  if (!reached?.problem) return null
  return (
    <Alert severity="warning" variant="outlined" sx={{ mb: 1.5 }} className="not-on-paper">
      {reached.problem} Tags printed now keep this address.
    </Alert>
  )
}

export function PrintTag({ node }: { node: PlantNode }) {
  return (
    <Section
      title="Tag"
      action={
        <Button variant="outlined" onClick={() => printSection('Tag')}>
          Print
        </Button>
      }
    >
      <TagProblem />
      <Tag node={node} />
    </Section>
  )
}
