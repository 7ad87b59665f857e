import { colorInWords, placeOfFiber, whyNotFound } from '@cold-thread/core/fiber'
import { groupsOf } from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { Strand } from '../fibers/Strand.tsx'
import type { StageProps } from '../callout/stageProps.ts'

/** Tubes, modules or bundles of a cable in their order, by number and colour: what is counted, and which one is missing. */
export function GroupColors({ plant, cable: id }: Pick<StageProps, 'plant'> & { cable: string | null }) {
  const cable = plant.cables.find((one) => one.id === id)
  if (!cable || whyNotFound(cable) !== null) return null
  const { count, word } = groupsOf(cable)
  const colors = Array.from({ length: count }, (_, i) => placeOfFiber(cable, i * cable.tubeSize + 1).groupColor)
  return (
    <Box
      component="ol"
      aria-label={`Order of the ${word}s`}
      sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, listStyle: 'none', p: 0, mt: 0, mb: 1.5 }}
    >
      {colors.map((color, i) => (
        <Box component="li" key={i}>
          <Strand color={color} />
          <Typography>
            {i + 1} {colorInWords(color)}
          </Typography>
        </Box>
      ))}
    </Box>
  )
}
