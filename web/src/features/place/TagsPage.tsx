import CircularProgress from '@mui/material/CircularProgress'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { usePlantQuery } from '../../api/api.ts'
import { printSection } from '../../ui/printSection.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'
import { Tag, TagProblem } from './PrintTag.tsx'

/** The tags of all places, on sheets to be printed and cut. */
export function TagsPage() {
  const { data: plant, error } = usePlantQuery()
  if (error) return <Problem error={error} />
  if (!plant) return <CircularProgress aria-label="Loading" />
  const nodes = (plant.bundle?.nodes ?? []).toSorted((a, b) => a.chainage - b.chainage)
  return (
    <>
      <Typography variant="h1" sx={{ mb: 2 }}>
        Tags
      </Typography>
      <Section
        title="To print and cut"
        action={
          nodes.length > 0 && (
            <Button variant="contained" onClick={() => printSection('To print and cut')}>
              Print
            </Button>
          )
        }
      >
        <Typography sx={{ mb: 1.5 }} className="not-on-paper">
          One for each closure, panel and chamber. Scanned, it opens what is to be done there.
        </Typography>
        <TagProblem />
        {nodes.length === 0 && <Typography>No plant is recorded yet.</Typography>}
        <Box sx={{ display: 'grid', gap: 3, gridTemplateColumns: 'repeat(auto-fill, minmax(320px, 1fr))' }}>
          {nodes.map((node) => (
            <Tag key={node.id} node={node} />
          ))}
        </Box>
      </Section>
    </>
  )
}
