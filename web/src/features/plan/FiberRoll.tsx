import {
  deskList,
  fiberRoll,
  proposeSwaps,
  type HitFiber,
  type OrderOfWork,
  type ProjectedLoss,
} from '@cold-thread/core/plan'
import type { Cable, PlantBundle } from '@cold-thread/core/plant'
import Box from '@mui/material/Box'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import Typography from '@mui/material/Typography'
import { CopyButton } from '../../ui/CopyButton.tsx'
import { Judgement } from '../../ui/Judgement.tsx'
import { Section } from '../../ui/Section.tsx'
import { fromBegin, tightest } from './planWords.ts'

/** Which circuits ride which fibers, where they could move, and what the desk will see. */
export function FiberRoll({
  plant,
  cable,
  chainage,
  hit,
  order,
  down,
  onSpares,
}: {
  plant: PlantBundle
  cable: Cable
  chainage: number
  hit: HitFiber[]
  order: OrderOfWork
  down: boolean
  /** Losses of the links once they ride the spares. */
  onSpares: readonly ProjectedLoss[]
}) {
  const roll = fiberRoll(plant, cable, chainage).filter(({ link }) => link !== null)
  const swaps = new Map(proposeSwaps({ plant, cable, hit }).map(({ from, to }) => [from, to]))
  const hurt = new Set(hit.map(({ fiber }) => fiber))
  const desk = deskList(order, down)
  return (
    <Section title="Circuits and fibers" action={<CopyForDesk desk={desk} />}>
      <Table size="small" aria-label="Circuits and fibers" sx={{ '& td, & th': { px: { xs: 0.5, sm: 1.5 } } }}>
        <TableHead>
          <TableRow>
            <TableCell>Fiber</TableCell>
            <TableCell>Circuits, by priority</TableCell>
            <TableCell>State</TableCell>
            <TableCell align="right">Back</TableCell>
            <TableCell>Spare</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {roll.map(({ fiber, colors, link, linkId, circuits }) => {
            const back = desk.find((line) => line.linkId === linkId)
            return (
              <TableRow key={fiber}>
                <TableCell>
                  <strong>{fiber}</strong>
                  <Small>{colors ?? 'not known from the record'}</Small>
                </TableCell>
                <TableCell>
                  {circuits.map(({ name, priority }) => `${priority}: ${name}`).join(', ')}
                  <Small>{link}</Small>
                </TableCell>
                <TableCell>{hurt.has(fiber) ? 'hit' : 'not hit'}</TableCell>
                <TableCell align="right">
                  {back && (
                    <>
                      {fromBegin(back.back.p50)}
                      <Small>90&nbsp;% {fromBegin(back.back.p90)}</Small>
                    </>
                  )}
                </TableCell>
                <TableCell>
                  {hurt.has(fiber) && (swaps.get(fiber) ?? 'none')}
                  {swaps.has(fiber) && <SpareMargin projected={onSpares.filter((loss) => loss.link.id === linkId)} />}
                </TableCell>
              </TableRow>
            )
          })}
        </TableBody>
      </Table>
      <Typography sx={{ fontSize: 14, color: 'text.secondary', mt: 1 }}>
        {cable.fiberCount - roll.length} of {cable.fiberCount} fibers of cable {cable.id} carry no link in the record.
        Times count from leaving; ± one standard uncertainty. Shoot a spare before traffic is put on it.
      </Typography>
    </Section>
  )
}

/** The wavelength with the least left decides whether the spare will do. */
function SpareMargin({ projected }: { projected: readonly ProjectedLoss[] }) {
  const least = tightest(projected)
  if (!least) return null
  const { margin, after, limit, wavelength } = least
  const digits = after.sigma < 0.1 ? 2 : 1
  const tone = margin < 0 ? 'bad' : margin < 2 * after.sigma ? 'close' : 'good'
  return (
    <>
      <Box sx={{ fontSize: 14, whiteSpace: 'nowrap' }}>
        <Judgement tone={tone} word={`${Math.abs(margin).toFixed(1)}\u00a0dB ${margin < 0 ? 'over' : 'left'}`} />
      </Box>
      <Small>
        {after.loss.toFixed(digits)}&nbsp;±&nbsp;{after.sigma.toFixed(digits)} of {limit.toFixed(1)}&nbsp;dB,{' '}
        {wavelength}
        &nbsp;nm
      </Small>
    </>
  )
}

function Small({ children }: { children: React.ReactNode }) {
  return <Box sx={{ fontSize: 14, color: 'text.secondary' }}>{children}</Box>
}

function CopyForDesk({ desk }: { desk: ReturnType<typeof deskList> }) {
  const text = desk
    .map(
      ({ link, circuits, dark, back }) =>
        `${link} (${circuits.map(({ name }) => name).join(', ')}): ${dark === null ? 'down now' : `touched ${fromBegin(dark)} after leaving`}, back by ${fromBegin(back.p50)}, 90 % by ${fromBegin(back.p90)}`,
    )
    .join('\n')
  return <CopyButton text={text}>Copy the list for the desk</CopyButton>
}
