import { cordsFor, type CordChoice } from '@cold-thread/core/plan'
import { coreOfCord, coresMatch, type FiberCore } from '@cold-thread/core/fiber'
import type { Link, PlantBundle } from '@cold-thread/core/plant'
import type { Kit } from '@cold-thread/core/kit'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'
import { useKitQuery } from '../../../api/api.ts'
import { Judgement } from '../../../ui/Judgement.tsx'
import { coreOfLink, firstCable } from './instruments.ts'

const WIDTH = 250
const HEIGHT = 44

/** Which test cords and adapters the link's ends want, drawn, and whether the kit has them. */
export function CordChooser({ plant, link }: { plant: PlantBundle; link: Link }) {
  const { data } = useKitQuery()
  const choice = data && cordsFor(link, data.kit, firstCable(plant, link))
  if (!choice) return null
  const core = coreOfLink(plant, link)
  const { cords, adapters, meterCap, words } = choice
  return (
    <Box role="group" aria-label="Test cords for this link" sx={{ mb: 1.5 }}>
      <Typography sx={{ fontWeight: 650 }}>Test cords for this link</Typography>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', my: 0.5 }}>
        {cords.map((cord) => (
          <Box key={`${cord.from} ${cord.to}`}>
            <CordDrawing {...cord} />
            <Typography sx={{ fontSize: 14 }}>
              {cord.count} × {cord.from} to {cord.to}:{' '}
              <InKit have={cordsInKit(data.kit, cord, core)} want={cord.count} />
            </Typography>
          </Box>
        ))}
      </Box>
      <Typography sx={{ fontSize: 14, color: 'text.secondary' }}>
        {[
          ...adapters.map(({ fit, count }) => `${count} adapter${count === 1 ? '' : 's'} ${fit}`),
          ...(meterCap ? [`meter cap ${meterCap}`] : []),
          ...words,
        ].join('; ')}
        .
      </Typography>
    </Box>
  )
}

/** Cords of the kit that fit both ends, and are not known to be of another core. */
function cordsInKit(kit: Kit, { from, to }: CordChoice['cords'][number], core: FiberCore): number {
  return kit.items
    .filter(({ kind, fits }) => {
      const own = coreOfCord(fits)
      return (
        kind === 'test cord' && [from, to].every((end) => fits.includes(end)) && (own === null || coresMatch(own, core))
      )
    })
    .reduce((sum, { count }) => sum + count, 0)
}

function InKit({ have, want }: { have: number; want: number }) {
  return have >= want ? (
    <Judgement tone="good" word={`${have} in the kit`} />
  ) : (
    <Judgement tone="bad" word={have === 0 ? 'none in the kit' : `only ${have} in the kit`} />
  )
}

/** A cord with the instrument's connector on its left and the link's on its right. */
function CordDrawing({ from, to }: CordChoice['cords'][number]) {
  const { inks, palette } = useTheme()
  const ends = [
    [from, 4, 'instrument'],
    [to, WIDTH - 82, 'link'],
  ] as const
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={`cord ${from} to ${to}`} style={{ display: 'block' }}>
      <path
        d={`M82 28 C110 28 110 40 ${WIDTH / 2} 40 S${WIDTH - 110} 28 ${WIDTH - 82} 28`}
        fill="none"
        stroke={inks.thread}
        strokeWidth={3}
      />
      {ends.map(([connector, x, side]) => (
        <g key={side}>
          <rect x={x} y={17} width={78} height={22} rx={3} fill="none" stroke={inks.cursor} strokeWidth={2} />
          <text x={x + 39} y={33} textAnchor="middle" fontSize={13} fill={palette.text.primary}>
            {connector}
          </text>
          <text x={x + 39} y={12} textAnchor="middle" fontSize={12} fill={inks.label}>
            {side}
          </text>
        </g>
      ))}
    </svg>
  )
}
