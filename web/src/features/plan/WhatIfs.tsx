import type { OrderOfWork, RepairOption, Scenario } from '@cold-thread/core/plan'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { Section } from '../../ui/Section.tsx'
import type { ScenarioFigures, WhatIf } from '../../worker/planView.ts'
import { usePlanner, useProgress, type Progress } from '../../worker/usePlanner.ts'
import { minutesInWords } from './planWords.ts'
import { keyOf, proposeRequest, type PlanInput } from './usePlan.ts'

/** Runs for a comparison: those of a large plan take long. */
const runsFor = (steps: number) => (steps > 1000 ? 300 : 1000)

function Comparing({ progress }: { progress: Progress }) {
  return <>Comparing, {Math.round(100 * useProgress(progress))} %</>
}

/** The same repair with other people and tools, side by side. */
export function WhatIfs({
  input,
  option,
  order,
  onTake,
}: {
  input: PlanInput
  option: RepairOption
  /** As it is planned now. */
  order: OrderOfWork
  onTake(scenario: Scenario): void
}) {
  const [asked, setAsked] = useState<string | null>(null)
  const { scenario } = input.draft
  const cases = variantsOf(scenario, option)
  const key = JSON.stringify([option.id, keyOf(input)])
  const computed = usePlanner<WhatIf[]>(asked === key ? key : null, (planner, onProgress) =>
    planner.compare(
      {
        request: proposeRequest(input),
        optionId: option.id,
        scenarios: cases.map((one) => one.scenario),
        runs: runsFor(option.steps.length),
      },
      onProgress,
    ),
  )
  const planned: ScenarioFigures = { first: order.restored[0]?.at.p50 ?? null, ...order.finish }
  const rows = asked === key && computed.status === 'ready' ? computed.value : null
  return (
    <Section
      title="What if"
      action={
        !rows && (
          <Button
            variant="outlined"
            onClick={() => setAsked(key)}
            disabled={asked === key && computed.status === 'working'}
          >
            {asked === key && computed.status === 'working' ? (
              <Comparing progress={computed.progress} />
            ) : (
              'Compare other crews and tools'
            )}
          </Button>
        )
      }
    >
      {!rows && (
        <Typography>
          The same repair {cases.map(({ words }) => `with ${words}`).join(', ')}: what each would gain.
        </Typography>
      )}
      {rows && (
        <Box sx={{ overflowX: 'auto' }}>
          <Table size="small" aria-label="What if">
            <TableHead>
              <TableRow>
                <TableCell>With</TableCell>
                <TableCell align="right">First circuit</TableCell>
                <TableCell align="right">Finished, 50 %</TableCell>
                <TableCell align="right">Finished, 90 %</TableCell>
                <TableCell align="right">Gain</TableCell>
                <TableCell />
              </TableRow>
            </TableHead>
            <TableBody>
              <TableRow>
                <TableCell>{plannedWords(scenario, option)}</TableCell>
                <Figures figures={planned} />
                <TableCell />
                <TableCell />
              </TableRow>
              {cases.map(({ words, scenario: other }, k) => {
                const row = rows[k]!
                return (
                  <TableRow key={words}>
                    <TableCell>{words}</TableCell>
                    {row.figures ? (
                      <>
                        <Figures figures={row.figures} />
                        <TableCell align="right">{gain(planned.p50 - row.figures.p50)}</TableCell>
                      </>
                    ) : (
                      <TableCell colSpan={4}>{row.problem}</TableCell>
                    )}
                    <TableCell>
                      {row.figures && (
                        <Button size="small" onClick={() => onTake(other)}>
                          Plan with it
                        </Button>
                      )}
                    </TableCell>
                  </TableRow>
                )
              })}
            </TableBody>
          </Table>
        </Box>
      )}
    </Section>
  )
}

function gain(minutes: number): string {
  if (Math.abs(minutes) < 1) return 'nothing'
  return minutes > 0 ? `${minutesInWords(minutes)} sooner` : `${minutesInWords(-minutes)} later`
}

function Figures({ figures: { first, p50, p90 } }: { figures: ScenarioFigures }) {
  return (
    <>
      <TableCell align="right">{first === null ? 'none' : minutesInWords(first)}</TableCell>
      <TableCell align="right">{minutesInWords(p50)}</TableCell>
      <TableCell align="right">{minutesInWords(p90)}</TableCell>
    </>
  )
}

const splices = ({ steps }: RepairOption) => steps.some(({ kind }) => kind === 'splice')
const winches = ({ steps }: RepairOption) => steps.some(({ needs }) => needs.includes('cable winch'))

function plannedWords({ crews, splicers, ribbon }: Scenario, option: RepairOption): string {
  const now = [
    `${crews} ${crews === 1 ? 'crew' : 'crews'}`,
    ...(splices(option)
      ? [`${splicers} ${splicers === 1 ? 'splicer' : 'splicers'}`, ribbon ? 'ribbons' : 'single fibers']
      : []),
  ]
  return `as planned: ${now.join(', ')}`
}

/** Other people and tools that can make a difference to the repair: splicers where it splices, hauling where it hauls. */
function variantsOf(scenario: Scenario, option: RepairOption): { words: string; scenario: Scenario }[] {
  const { crews, splicers, ribbon, haulFromBothEnds } = scenario
  const twoCrews = { ...scenario, crews: 2 as const, splicers: Math.max(2, splicers) }
  return [
    ...(splices(option)
      ? [
          {
            words: ribbon ? 'fibers one by one' : 'ribbons of 12 at once',
            scenario: { ...scenario, ribbon: !ribbon },
          },
          { words: 'one splicer more (own or rented)', scenario: { ...scenario, splicers: splicers + 1 } },
        ]
      : []),
    crews === 1
      ? { words: splices(option) ? 'a second crew, with its splicer' : 'a second crew', scenario: twoCrews }
      : { words: 'one crew', scenario: { ...scenario, crews: 1 as const } },
    ...(winches(option)
      ? [
          crews === 1
            ? {
                words: 'a second crew, hauling from both ends',
                scenario: { ...twoCrews, haulFromBothEnds: true },
              }
            : {
                words: haulFromBothEnds ? 'hauling from one end' : 'hauling from both ends',
                scenario: { ...scenario, haulFromBothEnds: !haulFromBothEnds },
              },
        ]
      : []),
  ]
}
