import { placeOfFiber, whyNotFound } from '@cold-thread/core/fiber'
import type { Cable, PlantBundle } from '@cold-thread/core/plant'
import type { CableProof, FiberProof, FiberTotal } from '@cold-thread/core/prove'
import Box from '@mui/material/Box'
import { styled } from '@mui/material/styles'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import Typography from '@mui/material/Typography'
import { memo, useMemo, useState, type KeyboardEvent } from 'react'
import { Judgement } from '../../ui/Judgement.tsx'
import { useShownRows } from '../../ui/useShownRows.ts'
import { FiberWords } from '../fibers/FiberWords.tsx'
import { LossStrip, StripKey } from '../prove/LossStrip.tsx'
import { VERDICTS } from '../prove/VerdictLine.tsx'
import { HOLDS } from '../prove/words.ts'

/** Pixels of a row, until it is measured. */
const ROW = 44

const FILTERS = {
  failing: ({ verdict }: FiberProof) => verdict === 'not-restored' || verdict === 'cannot-tell',
  remarked: ({ verdict }: FiberProof) => verdict !== 'restored',
  all: () => true,
} as const
type Filter = keyof typeof FILTERS
const WORDS: Record<Filter, string> = { failing: 'Not restored', remarked: 'Not without remark', all: 'All' }

interface Row {
  fiber: FiberProof
  /** Null where nothing was measured. */
  total: FiberTotal | null
}

/**
 * Fibers by wavelengths: before, after, change and what is allowed, with the verdict; arrow keys go from fiber to fiber, and
 * what is known of the chosen one stands above.
 */
export function FiberTable({ proof, plant, cable }: { proof: CableProof; plant: PlantBundle; cable: Cable }) {
  const [filter, setFilter] = useState<Filter | null>(null)
  const [chosen, setChosen] = useState<number | null>(null)
  // What does not hold comes first, where there is any.
  const kept = filter ?? (proof.fibers.some(FILTERS.failing) ? 'failing' : 'all')
  const fibers = useMemo(() => proof.fibers.filter(FILTERS[kept]), [proof, kept])
  const rows = useMemo(
    () =>
      fibers.flatMap((fiber): Row[] =>
        fiber.totals.length === 0 ? [{ fiber, total: null }] : fiber.totals.map((total) => ({ fiber, total })),
      ),
    [fibers],
  )
  const { shown, behind, list, measure } = useShownRows(rows.length, ROW, null)
  const own = fibers.find(({ fiber }) => fiber === chosen) ?? fibers[0]
  const onKey = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (step === undefined || !own) return
    event.preventDefault()
    const next = fibers[Math.min(fibers.length - 1, Math.max(0, fibers.indexOf(own) + step))]!
    setChosen(next.fiber)
    const row = rows.findIndex(({ fiber }) => fiber === next)
    list.current?.querySelector(`[data-index="${row}"]`)?.scrollIntoView({ block: 'nearest' })
  }
  return (
    <>
      <ToggleButtonGroup
        exclusive
        value={kept}
        onChange={(_event, value: Filter | null) => value !== null && setFilter(value)}
        aria-label="Which fibers"
        sx={{ mb: 1 }}
      >
        {(Object.keys(FILTERS) as Filter[]).map((one) => (
          <ToggleButton key={one} value={one} sx={{ minHeight: 44, px: 2, textTransform: 'none' }}>
            {WORDS[one]}, {proof.fibers.filter(FILTERS[one]).length}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {own && <Chosen own={own} plant={plant} cable={cable} />}
      <StripKey />
      <Box role="table" aria-label="Fibers" aria-rowcount={rows.length + 1} tabIndex={0} onKeyDown={onKey}>
        <Box role="rowgroup">
          <Line as="div" role="row" aria-rowindex={1} className="head">
            {HEADS.map(([area, name]) => (
              <span key={area} role="columnheader" className={area}>
                {name}
              </span>
            ))}
          </Line>
        </Box>
        <Box
          component="ol"
          role="rowgroup"
          ref={list}
          sx={{ listStyle: 'none', p: 0, m: 0 }}
          style={{ paddingBottom: behind }}
        >
          {shown.map(({ index, gap }) => {
            const { fiber, total } = rows[index]!
            return (
              <Line
                key={`${fiber.fiber} ${total?.wavelength ?? ''}`}
                role="row"
                aria-rowindex={index + 2}
                aria-selected={fiber === own}
                data-index={index}
                ref={measure}
                style={{ marginTop: gap }}
                onClick={() => setChosen(fiber.fiber)}
              >
                <Figures fiber={fiber} total={total} />
              </Line>
            )
          })}
        </Box>
      </Box>
    </>
  )
}

const HEADS = [
  ['fiber', 'Fiber'],
  ['nm', 'nm'],
  ['was', 'Was, dB'],
  ['is', 'Is, dB'],
  ['change', 'Change'],
  ['allowed', 'Allowed'],
  ['strip', ''],
  ['holds', 'Total and joints'],
  ['verdict', 'Verdict'],
] as const

/** A row, its cells plain: thousands of them pass by while somebody scrolls. */
const Line = styled('li')(({ theme }) => ({
  display: 'grid',
  alignItems: 'center',
  columnGap: 12,
  minHeight: ROW,
  paddingInline: 8,
  gridTemplateColumns: '56px 52px 1fr 1.4fr 1fr 1fr 140px 150px 215px',
  borderBottom: `1px solid ${theme.palette.divider}`,
  fontVariantNumeric: 'tabular-nums',
  cursor: 'pointer',
  '&[aria-selected="true"]': { backgroundColor: theme.palette.action.selected },
  '&.head': { fontSize: 14, color: theme.palette.text.secondary, cursor: 'default' },
  '& .nm, & .was, & .is, & .change, & .allowed': { textAlign: 'right' },
  '& .fiber': { fontWeight: 650 },
  [theme.breakpoints.down('md')]: {
    gridTemplateColumns: '40px 44px 1fr 1.8fr 1.1fr',
    columnGap: 8,
    paddingBlock: 6,
    '& .verdict': { gridColumn: '1 / -1' },
    // Change and strip follow from what is shown; a phone has no room for them.
    '& .change, & .strip, & .holds, &.head .verdict': { display: 'none' },
  },
}))

const VERDICT_MARKS = Object.fromEntries(
  Object.entries(VERDICTS).map(([verdict, one]) => [verdict, <Judgement key={verdict} {...one} />]),
)
const HOLDS_MARKS = Object.fromEntries(
  Object.entries(HOLDS).map(([holds, one]) => [holds, <Judgement key={holds} {...one} />]),
)

/** The cells of a row; what a row tells never changes while the table stands. */
const Figures = memo(function Figures({ fiber, total }: Row) {
  return (
    <>
      <span role="cell" className="fiber">
        {fiber.fiber}
      </span>
      <span role="cell" className="nm">
        {total?.wavelength}
      </span>
      <span role="cell" className="was">
        {two(total?.before)}
      </span>
      <span role="cell" className="is">
        {two(total?.after)}
        {spread(total)}
      </span>
      <span role="cell" className="change">
        {total?.change == null ? '' : `${total.change < 0 ? '−' : '+'}${Math.abs(total.change).toFixed(2)}`}
      </span>
      <span role="cell" className="allowed">
        {two(total?.allowed)}
      </span>
      <span role="cell" className="strip">
        {total && total.allowed !== null && (
          <LossStrip before={total.before} after={total.after} sigma={total.afterSigma} limit={total.allowed} />
        )}
      </span>
      <span role="cell" className="holds">
        {total && HOLDS_MARKS[total.holds]}
        {total?.standsOff != null && ', stands off'}
      </span>
      <span role="cell" className="verdict">
        {VERDICT_MARKS[fiber.verdict]}
      </span>
    </>
  )
})

/** Twice the standard uncertainty, never told finer than the figure itself. */
function spread(total: FiberTotal | null): string {
  if (total?.after == null || total.afterSigma === null) return ''
  return `\u00a0±\u00a0${Math.max(0.01, 2 * total.afterSigma).toFixed(2)}`
}

function two(figure: number | null | undefined): string {
  return figure == null ? '' : figure.toFixed(2)
}

/** The chosen fiber: where it lies, what it carries, why its verdict, and what to do. */
function Chosen({ own, plant, cable }: { own: FiberProof; plant: PlantBundle; cable: Cable }) {
  const link = plant.links.find(({ id }) => id === own.link)
  const found = whyNotFound(cable) === null
  return (
    <Box
      role="status"
      sx={{
        borderLeft: 4,
        borderColor: 'primary.main',
        pl: 1.5,
        py: 0.5,
        mb: 1.5,
        // Beside the rows while they are walked through; a phone keeps its height for them.
        position: { md: 'sticky' },
        top: 0,
        zIndex: 1,
        bgcolor: 'background.paper',
      }}
    >
      <Typography sx={{ fontSize: '1.2rem' }}>
        <strong>Fiber {own.fiber}</strong>
        {found && (
          <>
            : <FiberWords place={placeOfFiber(cable, own.fiber)} />
          </>
        )}{' '}
        <Judgement {...VERDICTS[own.verdict]} />
      </Typography>
      <Typography sx={{ color: 'text.secondary' }}>
        {link ? link.name : 'carries nothing on record'}
        {link && link.circuits.length > 0 && `: ${link.circuits.map(({ name }) => name).join(', ')}`}
      </Typography>
      {own.reasons.map((reason) => (
        <Typography key={reason}>{reason}</Typography>
      ))}
      {own.next.length > 0 && (
        <Typography>
          <strong>Next:</strong> {own.next[0]}
        </Typography>
      )}
    </Box>
  )
}
